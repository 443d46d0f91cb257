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

/** A number has more terminals than its registrar keeps for one. */
final class TooManyTerminals implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        foreach ($plan->extensions as $extension) {
            $further = $plan->terminalsOf($extension->key);
            $registrar = $plan->devices[$plan->accountOf($extension->key)->registrar ?? ''] ?? null;
            if ([] === $further || null === $registrar?->kind->setting('terminalsOfANumber')) {
                continue;
            }
            $most = (int) $registrar->setting('terminalsOfANumber')->effective(Face::Set);
            $all = $plan->ringing($extension);
            if ($most < 1 || \count($all) <= $most) {
                continue;
            }
            $last = $further[array_key_last($further)];
            $at = [
                'number' => $extension->number,
                'n' => \count($all),
                'registrar' => $registrar->tag,
                'most' => $most,
                'tag' => $plan->devices[$last->device]->tag ?? '?',
            ];
            yield new Finding(
                'too-many-terminals',
                Severity::Blocks,
                Stage::Services,
                ['extensions/'.$extension->key, $registrar->record(), ...array_map(static fn ($one): string => $one->record(), $further)],
                new Message('{number} has [n terminal|terminals], but {registrar} allows {most} for each number.', $at),
                new Message('The last phone to register replaces another or is rejected, so not all of them ring.'),
                new Message('Remove {tag} from {number}, and give it a number of its own in a ring group.', $at),
                new Change(new Message('{tag} removed from {number}.', $at), [
                    Edit::remove('terminals', $plan->row('terminals', $last->key) ?? []),
                ]),
                button: new Message('Remove {tag} from {number}.', $at),
            );
        }
    }
}
