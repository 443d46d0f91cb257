<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Ground;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Plan\Message;

/** One number is given twice. */
final class DuplicateExtension implements Rule
{
    public function find(Ground $ground): iterable
    {
        $pairs = [];
        foreach ($ground->plan->extensions as $extension) {
            $pairs[] = [$extension->number, $extension];
        }
        foreach (Ground::shared($pairs) as $number => $extensions) {
            yield new Finding(
                'duplicate-extension',
                Weight::Blocks,
                Stage::Services,
                array_map(static fn ($extension): string => 'extensions/'.$extension->key, $extensions),
                new Message('{number} is given {n} times.', ['number' => (string) $number, 'n' => \count($extensions)]),
                new Message('The PBX takes one of them, and the other phone never rings.'),
                new Message('Give each its own number.'),
            );
        }
        foreach ($ground->plan->extensions as $extension) {
            foreach ([...$ground->plan->job->texts('emergencyNumbers'), ...$ground->plan->job->texts('featureCodes'), $ground->plan->job->text('outsideDigit')] as $code) {
                if ('' !== $code && str_starts_with($code, $extension->number)) {
                    yield new Finding(
                        'duplicate-extension',
                        Weight::Blocks,
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
