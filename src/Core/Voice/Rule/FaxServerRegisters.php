<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** A fax server registers like a phone, although a trunk to it is planned. */
final class FaxServerRegisters implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->trunks as $trunk) {
            $far = $context->plan->devices[$trunk->far ?? ''] ?? null;
            $mode = null === $far?->kind->setting('trunkMode') ? null : $far->setting('trunkMode')->effective(Face::Set);
            if (null === $far || 'registration' !== $mode) {
                continue;
            }
            $at = ['tag' => $far->tag, 'trunk' => $trunk->name];
            yield new Finding(
                'fax-server-registers',
                Severity::Blocks,
                Stage::Services,
                [$far->record(), 'trunks/'.$trunk->key],
                new Message('{tag} is set to registration, but the PBX uses the trunk {trunk} to it.', $at),
                new Message('The PBX sends calls over the trunk, and {tag} rejects calls without a registration.', $at),
                new Message('Set {tag} to trunk mode.', $at),
            );
        }
    }
}
