<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Application\AddRecord;
use Vorhut\Application\NotEditable;
use Vorhut\Application\PasteTable;
use Vorhut\Application\RecordTable;
use Vorhut\Application\TableColumns;
use Vorhut\Core\Document\NumbersPaste;
use Vorhut\Core\Document\RosterPaste;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Plan;
use Vorhut\Journal\Records;

#[AsCommand('vorhut:paste', 'Adds devices, numbers or other records from a table to a job; exit code 1 if rows are refused')]
final readonly class PasteCommand
{
    public function __construct(
        private CommandInput $input,
        private Records $records,
        private PasteTable $pasteTable,
        private AddRecord $addRecord,
    ) {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Argument('file with the table: CSV or tab-separated')]
        string $file,
        #[Option('the table contains numbers, not devices')]
        bool $numbers = false,
        #[Option('the table contains records of this section of the job document, such as cables; its first row names their fields')]
        string $section = '',
        #[Option('tag of the PBX for new numbers')]
        string $pbx = '',
        #[Option('store the valid rows; without it, the rows are only checked')]
        bool $store = false,
        #[Option('name for the history')]
        string $by = 'console',
    ): int {
        $text = $this->input->text($file);
        $stored = $this->input->job($job);
        $plan = $this->records->plan($stored);
        $table = match (true) {
            '' !== $section => $this->records($plan, $section, $text),
            $numbers => $this->numbers($plan, $text, $pbx),
            default => RosterPaste::of($plan, $text),
        };
        if ($table instanceof RosterPaste && [] !== $table->unknown) {
            throw BadInput::because('These columns are not known: {columns}.', ['columns' => implode(', ', $table->unknown)]);
        }
        foreach ($table->rows as $row) {
            $name = $row['cells']['tag'] ?? $row['cells']['number'] ?? $row['cells']['name'] ?? $row['text'];
            $line = \sprintf('%4d  %-12s %-8s %s', $row['n'], $name, $row['fate'], $row['why'] ?? '');
            $output->writeln($line, OutputInterface::OUTPUT_RAW);
        }
        if ($store) {
            $this->pasteTable->store($stored, $table, $by);
            $output->writeln((string) $table->change()->why, OutputInterface::OUTPUT_RAW);
        }

        return '' === $table->refusedText() ? CommandInput::DONE : CommandInput::FOUND;
    }

    private function records(Plan $plan, string $section, string $text): RecordTable
    {
        try {
            return RecordTable::of($this->addRecord, $plan, $section, $text, new TableColumns([]));
        } catch (Malformed|NotEditable $e) {
            throw BadInput::because('{why}', ['why' => $e->message()]);
        }
    }

    private function numbers(Plan $plan, string $text, string $pbx): NumbersPaste
    {
        return NumbersPaste::of($plan, $text, '' === $pbx ? '' : $this->input->device($plan, $pbx)->key);
    }
}
