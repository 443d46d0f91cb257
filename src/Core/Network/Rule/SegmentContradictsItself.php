<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\SegmentCheck;
use Vorhut\Core\Text\Message;

/** A segment names a gateway, a pool, a block or a reserved range that its own network does not have, or claims addresses twice. */
final class SegmentContradictsItself implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->segments as $segment) {
            $said = [];
            foreach (SegmentCheck::of($segment, $context->plan->catalogue) as ['field' => $field, 'what' => $what]) {
                // An overlap is told at both fields; one finding is enough.
                if (isset($said[(string) $what])) {
                    continue;
                }
                $said[(string) $what] = true;
                yield new Finding(
                    'segment-contradicts-itself',
                    \in_array($field, ['gateway', 'outpost'], true) ? Severity::Blocks : Severity::Risk,
                    Stage::Networks,
                    ['segments/'.$segment->key],
                    new Message('{segment}: {what}', ['segment' => $segment->name, 'what' => $what]),
                    'gateway' === $field
                        ? new Message('The run sheets would give every device here a wrong value, and none would reach other subnets.')
                        : new Message('Devices would get addresses that cannot be used, or none although some are free.'),
                    new Message('Compare with the administrator\'s values, and correct it on the page Networks.'),
                    about: $field.':'.\count($said),
                );
            }
        }
    }
}
