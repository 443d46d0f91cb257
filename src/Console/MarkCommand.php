<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Application\MarkStep;
use Vorhut\Core\Bench\MarkRefused;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Journal\Records;

#[AsCommand('vorhut:mark', 'Marks a run-sheet step as done, skipped, failed, blocked or open')]
final readonly class MarkCommand
{
    public function __construct(private CommandInput $input, private Records $records, private MarkStep $markStep)
    {
    }

    /**
     * @param list<string> $typed
     * @param list<string> $read
     */
    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Argument('tag of the device')]
        string $tag,
        #[Argument('code of the step from vorhut:sheet --format=json; default: the next step')]
        string $step = '',
        #[Option('done, skipped, failed, blocked or open')]
        string $state = 'done',
        #[Option('the reason; required for skipped, failed and blocked')]
        string $note = '',
        #[Option('a value that was entered and differs from the plan: dns=10.64.40.3')]
        array $typed = [],
        #[Option('a value that was read from the device: serial=A4471')]
        array $read = [],
        #[Option('also mark all open steps before it')]
        bool $upTo = false,
        #[Option('the method that was used')]
        string $way = '',
        #[Option('name for the history')]
        string $by = 'console',
    ): int {
        $stored = $this->input->job($job);
        $plan = $this->records->plan($stored);
        $device = $plan->deviceTagged($tag) ?? throw BadInput::because('This job has no device "{tag}".', ['tag' => $tag]);
        $sheet = RunSheet::of($plan, $device);
        $one = '' === $step ? $sheet->next() : $device->kind->step($step);
        if (null === $one) {
            throw BadInput::because('The run sheet of {tag} has no open step "{step}".', ['tag' => $tag, 'step' => $step]);
        }
        if ($upTo) {
            return $this->markUpTo($output, $stored, $plan, $device, $one, $by);
        }
        $mark = new StepMark(
            MarkState::tryFrom($state) ?? throw BadInput::because('"{state}" is not a state of a step.', ['state' => $state]),
            $note,
            self::values($typed),
            self::values($read),
            $way,
        );
        try {
            $plan = $this->markStep->mark($stored, $plan, $device, $one, $mark, $by);
        } catch (MarkRefused $e) {
            throw BadInput::saying(Message::join(array_values($e->errors)));
        }
        $after = RunSheet::of($plan, $plan->devices[$device->key])->next();
        $output->writeln(\sprintf('%s, %s: %s', $tag, $state, $one->do), OutputInterface::OUTPUT_RAW);
        $output->writeln(null === $after ? 'The run sheet is finished.' : 'Next: '.$after->do, OutputInterface::OUTPUT_RAW);

        return CommandInput::DONE;
    }

    private function markUpTo(OutputInterface $output, Job $job, Plan $plan, Device $device, Step $step, string $by): int
    {
        $ended = $this->markStep->markUpTo($job, $plan, $device, $step, $by);
        if (null !== $ended) {
            throw BadInput::because('{step} {why}', [
                'step' => new Message($ended->step->do),
                'why' => Message::join(array_values($ended->errors)),
            ]);
        }
        $output->writeln(\sprintf('%s, done up to: %s', $device->tag, $step->do), OutputInterface::OUTPUT_RAW);

        return CommandInput::DONE;
    }

    /**
     * @param list<string> $pairs
     *
     * @return array<string, string>
     */
    private static function values(array $pairs): array
    {
        $values = [];
        foreach ($pairs as $pair) {
            [$name, $value] = explode('=', $pair, 2) + [1 => null];
            $values[$name] = $value ?? throw BadInput::because('"{text}" is not NAME=VALUE.', ['text' => $pair]);
        }

        return $values;
    }
}
