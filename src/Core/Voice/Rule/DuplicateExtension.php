<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Numbering;

/** One number is used twice, or is the beginning of a number with another destination, or begins with one. */
final class DuplicateExtension implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $pairs = [];
        $all = [
            ...array_values($context->plan->extensions),
            ...array_values($context->plan->ringGroups),
            ...array_values($context->plan->menus),
        ];
        foreach ($all as $one) {
            $pairs[] = [$one->number, $one];
        }
        foreach (RuleContext::duplicates($pairs) as $number => $same) {
            yield new Finding(
                'duplicate-extension',
                Severity::Blocks,
                Stage::Services,
                array_map(Numbering::recordOf(...), $same),
                new Message('{number} is used [n time|times].', ['number' => (string) $number, 'n' => \count($same)]),
                new Message('The PBX uses only one of them, and the other phone never rings.'),
                new Message('Give each a number of its own.'),
            );
        }
        foreach ($all as $extension) {
            foreach ([
                ...$context->plan->emergencyNumbers()->numbers,
                ...$context->plan->job->texts('featureCodes'),
                $context->plan->job->text('outsideDigit'),
            ] as $code) {
                if ('' === $code || !str_starts_with($code, $extension->number) && !str_starts_with($extension->number, $code)) {
                    continue;
                }
                $at = ['number' => $extension->number, 'code' => $code];
                $isBeginning = str_starts_with($code, $extension->number);
                yield new Finding(
                    'duplicate-extension',
                    Severity::Blocks,
                    Stage::Services,
                    [Numbering::recordOf($extension)],
                    $isBeginning
                        ? new Message('{number} equals {code}, or is the beginning of it.', $at)
                        : new Message('{number} begins with {code}.', $at),
                    $isBeginning
                        ? new Message('A caller who dials {code} gets the extension instead.', $at)
                        : new Message('With digit-by-digit dialling, {code} is recognised before the last digit is pressed.', $at),
                    new Message('Renumber the extension.'),
                );
            }
        }
    }
}
