<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Bench\Obstacle;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\SheetValue;
use Vorhut\Core\Text\Actions;
use Vorhut\Core\Text\Message;

#[AsCommand('vorhut:sheet', 'Shows the run sheet of a device: steps, values and open requirements')]
final readonly class SheetCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('tag of the device')]
        string $of = '',
    ): int {
        $plan = $this->input->plan($document->file);
        $device = $plan->deviceTagged($of) ?? throw BadInput::because('This job has no device "{tag}".', ['tag' => $of]);
        $sheet = RunSheet::of($plan, $device);
        $lines = $steps = [];
        foreach ($device->steps as $number => $step) {
            $mark = $sheet->mark($step);
            $values = $sheet->values($step);
            $waits = array_map(static fn (Obstacle $one): Message => $one->message, $sheet->obstacles($step));
            $steps[] = [
                'step' => $step->code,
                'do' => $step->do,
                'see' => $step->see,
                'seconds' => ['hands' => $step->hands, 'wait' => $step->wait],
                'mark' => $mark?->state->value,
                'by' => $mark?->by,
                'values' => array_map(static fn (SheetValue $one): array => [
                    'name' => $one->name,
                    'type' => $one->text,
                    'unit' => $one->unit,
                ], $values),
                'waitsFor' => $waits,
            ];
            foreach (Actions::in($step->do) as $n => $action) {
                $lines[] = 0 === $n
                    ? \sprintf('%2d  %-8s %s', $number + 1, $mark->state->value ?? 'open', $action)
                    : '             '.$action;
            }
            $lines[] = '              see: '.$step->see;
            if (null !== $step->caution) {
                $lines[] = '              caution: '.$step->caution;
            }
            foreach ($values as $value) {
                $text = match (true) {
                    null !== $value->purpose => '(stored encrypted)',
                    $value->isServedHere => '(the file server)',
                    default => $value->text,
                };
                $lines[] = \sprintf('              %-20s %s %s', trim($value->label.' '.$value->which), match ($text) {
                    null => 'not known yet',
                    '' => 'leave blank',
                    default => $text,
                }, $value->unit);
            }
            foreach ($waits as $obstacle) {
                $lines[] = '              waits: '.$obstacle;
            }
        }
        $this->input->answer($output, $document->format, ['of' => $device->tag, 'steps' => $steps], $lines);

        return CommandInput::DONE;
    }
}
