<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Agreement\Standing;
use Vorhut\Core\Agreement\Subject;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;

/** Settings that have to agree on two or more devices do not: whatever the library's agreements say. */
final class BrokenAgreement implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->agreements()->with(Standing::Broken) as $agreed) {
            // Typed other than planned is found as that, with the value to type.
            if ($agreed->typing) {
                continue;
            }
            $subjects = [...$agreed->odd, ...$agreed->subjects];
            $records = [
                ...array_map(static fn (Subject $one): string => $one->device?->record() ?? $one->record, $subjects),
                ...array_map(static fn (Subject $one): string => $one->record, $subjects),
            ];
            yield new Finding(
                $agreed->agreement->code,
                Severity::from($agreed->agreement->severity),
                Stage::from($agreed->agreement->stage),
                array_values(array_unique($records)),
                $agreed->broken,
                $agreed->why,
                $agreed->todo,
                $agreed->cure,
            );
        }
    }
}
