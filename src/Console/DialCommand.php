<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Walk\Fabric;

#[AsCommand('vorhut:dial', 'What happens when an extension dials')]
final readonly class DialCommand
{
    public function __construct(private Desk $desk)
    {
    }

    public function __invoke(OutputInterface $output, #[Argument('a job document, or - for standard input')] string $file, #[Option('extension that dials')] string $from = '', #[Option('what it dials')] string $digits = '', #[Option('text or json')] string $format = 'text'): int
    {
        $plan = $this->desk->plan($file);
        $extension = $plan->extensionNumbered($from) ?? throw new BadInput(\sprintf('There is no extension "%s" in this job.', $from));
        if (1 !== preg_match('/^[0-9*#]+$/D', $digits)) {
            throw new BadInput(\sprintf('--digits wants digits, * and #, not "%s".', $digits));
        }
        $dial = Dial::of(Fabric::of($plan, Face::Set), $extension, $digits);
        $this->desk->answer($output, $format, $dial, [...array_map(strval(...), $dial->steps), 'outcome: '.$dial->outcome.(null === $dial->rings ? '' : ' '.$plan->devices[$dial->rings]->tag)]);

        return 'device' === $dial->outcome && $dial->sound ? Desk::DONE : Desk::FOUND;
    }
}
