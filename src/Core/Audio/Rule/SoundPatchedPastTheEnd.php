<?php

declare(strict_types=1);

namespace Vorhut\Core\Audio\Rule;

use Vorhut\Core\Audio\PatchBay;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** A patch wants channels that a device does not have. */
final class SoundPatchedPastTheEnd implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->once(PatchBay::class, PatchBay::ifPatched(...))->past ?? [] as $past) {
            $patch = $past['patch'];
            $at = [
                'tag' => $past['device']->tag,
                'channels' => $past['sends'] ? $patch->sentChannels() : $patch->receivedChannels(),
                'has' => $past['has'],
            ];
            yield new Finding(
                'sound-patched-past-the-end',
                Severity::Blocks,
                Stage::Services,
                [$patch->record(), 'devices/'.$past['device']->key],
                new Message(
                    $past['sends']
                        ? 'Channels {channels} of {tag} are patched, but it has {has}.'
                        : 'Channels {channels} of {tag} are sent to, and it has {has}.',
                    $at,
                ),
                new Message('The channels beyond that are silent, although the table shows them.'),
                new Message('Patch fewer channels, use lower channel numbers, or plan a device with more channels.'),
                about: $past['sends'] ? 'sent' : 'received',
            );
        }
    }
}
