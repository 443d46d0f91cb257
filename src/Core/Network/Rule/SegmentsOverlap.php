<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** Two segments hold the same addresses. */
final class SegmentsOverlap implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $segments = array_values($context->plan->segments);
        foreach ($segments as $i => $one) {
            foreach (\array_slice($segments, $i + 1) as $other) {
                if (!$one->network->overlaps($other->network)) {
                    continue;
                }
                $at = ['one' => $one->name, 'a' => (string) $one->network, 'other' => $other->name, 'b' => (string) $other->network];
                yield new Finding(
                    'segments-overlap',
                    Severity::Blocks,
                    Stage::Networks,
                    ['segments/'.$one->key, 'segments/'.$other->key],
                    new Message('{one} ({a}) and {other} ({b}) overlap.', $at),
                    new Message('An address in both networks is reached in only one of them.'),
                    new Message('Ask the administrator which of the two networks is wrong.'),
                );
            }
        }
    }
}
