<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** One number is given twice. */
final class DuplicateExtension implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $pairs = [];
        foreach ($context->plan->extensions as $extension) {
            $pairs[] = [$extension->number, $extension];
        }
        foreach (RuleContext::shared($pairs) as $number => $extensions) {
            yield new Finding(
                'duplicate-extension',
                Severity::Blocks,
                Stage::Services,
                array_map(static fn ($extension): string => 'extensions/'.$extension->key, $extensions),
                new Message('{number} is given {n} times.', ['number' => (string) $number, 'n' => \count($extensions)]),
                new Message('The PBX takes one of them, and the other phone never rings.'),
                new Message('Give each its own number.'),
            );
        }
        foreach ($context->plan->extensions as $extension) {
            foreach ([
                ...$context->plan->job->texts('emergencyNumbers'),
                ...$context->plan->job->texts('featureCodes'),
                $context->plan->job->text('outsideDigit'),
            ] as $code) {
                if ('' !== $code && str_starts_with($code, $extension->number)) {
                    yield new Finding(
                        'duplicate-extension',
                        Severity::Blocks,
                        Stage::Services,
                        ['extensions/'.$extension->key],
                        new Message('{number} is {code}, or the beginning of it.', ['number' => $extension->number, 'code' => $code]),
                        new Message('Who dials {code} gets the extension instead.', ['code' => $code]),
                        new Message('Renumber the extension.'),
                    );
                }
            }
        }
    }
}
