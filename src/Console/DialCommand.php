<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Trunk;
use Vorhut\Core\Voice\Decision;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\Dialling\TimeFrame;

#[AsCommand('vorhut:dial', 'Predicts what happens when an extension dials or a call arrives')]
final readonly class DialCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('number of the caller')]
        string $from = '',
        #[Option('dialled number, or the called number of an inbound call')]
        string $digits = '',
        #[Option('key of the trunk of an inbound call, instead of --from')]
        string $trunk = '',
        #[Option('local time at the site, for example "2026-03-02 09:30"; without it, time frames are ignored')]
        string $at = '',
    ): int {
        $plan = $this->input->plan($document->file);
        if (1 !== preg_match('/^[0-9*#]{1,40}$/D', $digits)) {
            throw BadInput::because('--digits wants digits, * and #, not "{digits}".', ['digits' => $digits]);
        }
        if ('' !== $at && !TimeFrame::isWallTime($at)) {
            throw BadInput::because('--at is a time as "2026-03-02 09:30", not "{at}".', ['at' => $at]);
        }
        $model = NetworkModel::of($plan, Face::Set);
        if ('' === $trunk) {
            $extension = $plan->extensionNumbered($from)
                ?? throw BadInput::because('This job has no extension "{from}".', ['from' => $from]);
            $dial = Dial::of($model, $extension, $digits, null, $at);
        } else {
            $named = array_filter($plan->trunks, static fn (Trunk $one): bool => 0 === strcasecmp($one->name, $trunk));
            $line = $plan->trunks[$trunk] ?? array_values($named)[0]
                ?? throw BadInput::because('This job has no trunk "{trunk}".', ['trunk' => $trunk]);
            $dial = Dial::arriving($model, $line, $digits, $at);
        }
        $this->input->answer($output, $document->format, $dial, [
            ...array_map(
                static fn (Decision $one): string => ($one->taken ? '  takes  ' : '  passes ').$one->text,
                $dial->routing->decisions ?? [],
            ),
            ...array_map(strval(...), $dial->steps),
            'outcome: '.$dial->outcome->label().(null === $dial->rings ? '' : ' at '.($plan->devices[$dial->rings]->tag ?? $dial->rings)),
        ]);

        return $dial->isAnswered() ? CommandInput::DONE : CommandInput::FOUND;
    }
}
