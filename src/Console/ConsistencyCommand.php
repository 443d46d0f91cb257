<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Consistency\Agreed;
use Vorhut\Core\Consistency\Agreements;
use Vorhut\Core\Consistency\Standing;
use Vorhut\Core\Consistency\Subject;
use Vorhut\Core\Plan\Face;

#[AsCommand('vorhut:consistency', 'Checks the must-match rules')]
final readonly class ConsistencyCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
    ): int {
        $agreements = Agreements::of($this->input->plan($document->file));
        $lines = array_map(static fn (Agreed $one): string => \sprintf(
            '%-8s %-24s %s%s',
            $one->standing->value,
            $one->agreement->code,
            implode(
                '  ',
                array_map(static fn (Subject $end): string => $end->name.' '.($end->value->effective(Face::Set) ?? '?'), $one->subjects),
            ),
            Standing::Broken === $one->standing ? "\n         ".$one->todo : '',
        ), $agreements->all);
        $this->input->answer(
            $output,
            $document->format,
            ['agreements' => $agreements->all],
            [] === $lines ? ['Nothing here has to agree.'] : $lines,
        );

        return [] === $agreements->with(Standing::Broken) ? CommandInput::DONE : CommandInput::FOUND;
    }
}
