<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Network\Discovery\RangeList;
use Vorhut\Core\Network\Discovery\Sweep;
use Vorhut\Core\Network\Discovery\SweepLine;
use Vorhut\Core\Plan\Plan;
use Vorhut\Journal\Records;
use Vorhut\Outpost\Orders\ProbeRun;
use Vorhut\Outpost\Probe\NoAnswer;

#[AsCommand('vorhut:scan', 'Shows the scan lists of a document with their results, or runs a scan of a stored job')]
final readonly class ScanCommand
{
    public function __construct(private CommandInput $input, private ProbeRun $round, private Records $records)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('a job document, - for standard input; with --ask, the job')]
        string $file,
        #[Option('key of a scan list')]
        string $list = '',
        #[Option('scan its addresses now, from this machine')]
        bool $ask = false,
        #[Option('suggest ranges for devices that are controlled from this segment')]
        string $suggest = '',
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $plan = $ask ? $this->runScan($output, $file, $list, $format) : $this->input->plan($file);
        if ('' !== $suggest) {
            $this->input->place($plan, $suggest);
            $ranges = array_map(strval(...), RangeList::suggest($plan, $suggest));
            $this->input->answer($output, $format, ['from' => $suggest, 'ranges' => $ranges], $ranges);

            return CommandInput::DONE;
        }
        $data = $lines = [];
        foreach (RangeList::all($plan) as $one) {
            if ('' !== $list && $one->key !== $list) {
                continue;
            }
            $sweep = Sweep::latest($plan, $one);
            $data[] = [
                'list' => $one->key,
                'ranges' => array_map(strval(...), $one->ranges),
                'addresses' => $one->count(),
                'from' => $one->from,
                'tally' => $sweep?->tally(),
                'lines' => $sweep?->lines,
            ];
            $lines[] = \sprintf('%s  %d addresses from %s: %s', $one->name, $one->count(), $one->from ?? '?', implode(', ', $one->ranges));
            $lines = [...$lines, ...(null === $sweep ? ['  never asked'] : array_map(static fn (SweepLine $line): string => \sprintf(
                '  %-16s %-30s %-12s %s',
                $line->address,
                $line->verdict->label(),
                $line->device->tag ?? $line->expected->tag ?? '',
                $line->mac,
            ), $sweep->lines))];
        }
        $none = ['This job has no such scan list; --suggest makes one from the plan.'];
        $this->input->answer($output, $format, ['lists' => $data], [] === $lines ? $none : $lines);

        return CommandInput::DONE;
    }

    private function runScan(OutputInterface $output, string $slug, string $list, string $format): Plan
    {
        $job = $this->input->job($slug);
        try {
            $this->round->sweep($job, $list, 'Console', static function (string $said) use ($output, $format): bool {
                if ('text' === $format) {
                    $output->writeln($said, OutputInterface::OUTPUT_RAW);
                }

                return true;
            });
        } catch (NoAnswer $e) {
            throw BadInput::because('{why}', ['why' => $e->message()]);
        }

        return $this->records->plan($job);
    }
}
