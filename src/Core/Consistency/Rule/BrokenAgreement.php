<?php

declare(strict_types=1);

namespace Vorhut\Core\Consistency\Rule;

use Vorhut\Core\Consistency\Agreed;
use Vorhut\Core\Consistency\Agreements;
use Vorhut\Core\Consistency\Standing;
use Vorhut\Core\Consistency\Subject;
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
        foreach ($context->once(Agreements::class, Agreements::of(...))?->with(Standing::Broken) ?? [] as $agreed) {
            // Typed other than planned is found as that, with the value to type.
            if ($agreed->typing) {
                continue;
            }
            yield new Finding(
                $agreed->agreement->code,
                Severity::from($agreed->agreement->severity),
                Stage::from($agreed->agreement->stage),
                self::records($agreed),
                $agreed->broken,
                $agreed->why,
                $agreed->todo,
                $agreed->cure,
                button: $agreed->button,
            );
        }
    }

    /** @return list<string> the records of the finding, the ends that differ first */
    private static function records(Agreed $agreed): array
    {
        $subjects = [...$agreed->odd, ...$agreed->subjects];

        return array_values(array_unique([
            ...array_map(static fn (Subject $one): string => $one->device?->record() ?? $one->record, $subjects),
            ...array_map(static fn (Subject $one): string => $one->record, $subjects),
        ]));
    }

    /** The key of the finding that an agreement which is broken makes. */
    public static function keyOf(Agreed $agreed): string
    {
        return $agreed->agreement->code.':'.implode('+', self::records($agreed));
    }
}
