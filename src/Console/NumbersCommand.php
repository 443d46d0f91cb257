<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Document\NumbersPaste;
use Vorhut\Core\Document\Schedules;
use Vorhut\Exchange\Spreadsheet;

#[AsCommand('vorhut:numbers', 'Prints the numbers of a document as CSV, or adds a table of numbers to it')]
final readonly class NumbersCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('table with numbers, names, phones, mail addresses and locations; without it, CSV is printed')]
        string $table = '',
        #[Option('tag of the PBX for new numbers')]
        string $pbx = '',
        #[Option('file to write the resulting document to')]
        string $out = '',
    ): int {
        $plan = $this->input->plan($document->file);
        if ('' === $table) {
            $output->write(Spreadsheet::csv(Schedules::numbers($plan)));

            return CommandInput::DONE;
        }
        $text = is_file($table) ? file_get_contents($table) : false;
        if (false === $text) {
            throw BadInput::because('File "{file}" was not found.', ['file' => $table]);
        }
        $paste = NumbersPaste::of($plan, $text, '' === $pbx ? '' : $this->input->device($plan, $pbx)->key);
        if ('' !== $out) {
            file_put_contents($out, JobDocument::of($plan->with($paste->change()))->toJson());
        }
        $this->input->answer($output, $document->format, $paste->rows, array_map(
            static fn (array $row): string => \sprintf(
                '%4d  %-8s %-8s %s',
                $row['n'],
                $row['cells']['number'] ?? '',
                $row['fate'],
                $row['why'] ?? '',
            ),
            $paste->rows,
        ));

        return [] === array_filter($paste->rows, static fn (array $row): bool => 'refused' === $row['fate'])
            ? CommandInput::DONE
            : CommandInput::FOUND;
    }
}
