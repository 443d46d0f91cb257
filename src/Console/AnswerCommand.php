<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Journal\Records;
use Vorhut\Outpost\Orders\ManualAnswers;

#[AsCommand('vorhut:answer', 'Records the answer to a test that needs a person')]
final readonly class AnswerCommand
{
    public function __construct(private CommandInput $input, private Records $records, private ManualAnswers $answers)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Argument('key of the test, as vorhut:tests --format=json names it')]
        string $test,
        #[Argument('yes, no, or the measured number')]
        string $answer,
        #[Option('name of the person who answers')]
        string $by = '',
        #[Option('a note; required if the answer is no')]
        string $note = '',
    ): int {
        if ('' === trim($by)) {
            throw BadInput::because('Say who answers: --by="Name".');
        }
        $stored = $this->input->job($job);
        $asked = $this->answers->take($stored, $this->records->plan($stored), $test, $answer, $answer, $note, trim($by));
        $output->writeln(\sprintf('%s %s', $asked->title, $answer), OutputInterface::OUTPUT_RAW);

        return CommandInput::DONE;
    }
}
