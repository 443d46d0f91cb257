<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Walk\NetworkModel;

#[AsCommand('vorhut:dial', 'What happens when an extension dials')]
final readonly class DialCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('extension that dials')]
        string $from = '',
        #[Option('what it dials')]
        string $digits = '',
    ): int {
        $plan = $this->input->plan($document->file);
        $extension = $plan->extensionNumbered($from)
            ?? throw BadInput::because('There is no extension "{from}" in this job.', ['from' => $from]);
        if (1 !== preg_match('/^[0-9*#]+$/D', $digits)) {
            throw BadInput::because('--digits wants digits, * and #, not "{digits}".', ['digits' => $digits]);
        }
        $dial = Dial::of(NetworkModel::of($plan, Face::Set), $extension, $digits);
        $this->input->answer($output, $document->format, $dial, [
            ...array_map(strval(...), $dial->steps),
            'outcome: '.$dial->outcome.(null === $dial->rings ? '' : ' '.$plan->devices[$dial->rings]->tag),
        ]);

        return 'device' === $dial->outcome && $dial->sound ? CommandInput::DONE : CommandInput::FOUND;
    }
}
