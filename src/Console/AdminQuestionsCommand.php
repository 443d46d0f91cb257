<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Network\AdminSheet\AdminAnswer;
use Vorhut\Core\Network\AdminSheet\AdminQuestion;
use Vorhut\Core\Network\AdminSheet\AdminSheet;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Text\Message;
use Vorhut\Exchange\Spreadsheet;

#[AsCommand('vorhut:admin-questions', 'Lists the questions for the network administrator; exit code 1 if one is open')]
final readonly class AdminQuestionsCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    /** @param list<string> $answer */
    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('print the questions as CSV')]
        bool $csv = false,
        #[Option('CODE=VALUE: check an answer and print the document with it')]
        array $answer = [],
    ): int {
        $plan = $this->input->plan($document->file);
        $sheet = AdminSheet::of($plan);
        if ([] !== $answer) {
            foreach ($answer as $one) {
                [$code, $text] = explode('=', $one, 2) + [1 => ''];
                $asked = AdminSheet::of($plan)->question($code) ?? throw BadInput::because('"{code}" is not asked.', ['code' => $code]);
                $given = AdminAnswer::read($plan, $asked, $text);
                foreach ($given->odd as $odd) {
                    fwrite(\STDERR, "$code: $odd\n");
                }
                $plan = $plan->with(new Change(new Message('answered'), [$given->edit]));
            }
            $output->write(JobDocument::of($plan)->toJson(), false, OutputInterface::OUTPUT_RAW);

            return CommandInput::DONE;
        }
        if ($csv) {
            $output->write(Spreadsheet::csv($sheet->rows()), false, OutputInterface::OUTPUT_RAW);
        } else {
            $this->input->answer($output, $document->format, [
                'questions' => array_map(static fn (AdminQuestion $one): array => [
                    'code' => $one->code(),
                    'about' => $one->for,
                    'question' => (string) $one->text,
                ], $sheet->questions),
                'reservations' => array_map(static fn (array $one): array => [
                    'segment' => $one['segment']->name,
                    'mac' => $one['mac'],
                    'address' => $one['address'],
                    'device' => $one['device'],
                ], $sheet->reservations),
                'options' => array_map(static fn (array $one): array => [
                    'segment' => $one['segment']->name,
                    'options' => array_map(static fn ($option): array => [
                        'code' => $option->code,
                        'text' => $option->text(),
                        'hex' => $option->hex(),
                    ], $one['options']),
                ], $sheet->options),
                'rules' => $sheet->rules,
            ], array_map(
                static fn (AdminQuestion $one): string => \sprintf('%-36s %s: %s', $one->code(), $one->for, $one->text),
                $sheet->questions,
            ));
        }

        return [] === $sheet->questions ? CommandInput::DONE : CommandInput::FOUND;
    }
}
