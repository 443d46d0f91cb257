<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** A trunk to a device of the job has more channels than that device. */
final class TrunkWiderThanServer implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->trunks as $trunk) {
            $far = $context->plan->devices[$trunk->far ?? ''] ?? null;
            if (null === $far || null === $trunk->channels || null === $far->kind->setting('channels')) {
                continue;
            }
            $channels = (int) $far->setting('channels')->effective(Face::Set);
            if (0 === $channels || $trunk->channels <= $channels) {
                continue;
            }
            $at = ['trunk' => $trunk->name, 'n' => $trunk->channels, 'tag' => $far->tag, 'channels' => $channels];
            yield new Finding(
                'trunk-wider-than-server',
                Severity::Risk,
                Stage::Services,
                ['trunks/'.$trunk->key, $far->record()],
                new Message('The trunk {trunk} has [n channel|channels], but {tag} has only {channels}.', $at),
                new Message('Further calls get a busy tone.', $at),
                new Message('Plan the trunk with [channels channel|channels], or more channels at {tag}.', $at),
                new Change(new Message('Channels of the trunk {trunk} set to {channels}.', $at), [
                    Edit::put('trunks', $trunk->key, 'channels', $trunk->channels, $channels),
                ]),
                button: new Message('Set the trunk {trunk} to [channels channel|channels].', $at),
            );
        }
    }
}
