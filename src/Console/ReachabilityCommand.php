<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Analysis\Seen;
use Vorhut\Core\Network\Reachability\Crossing;
use Vorhut\Core\Network\Reachability\ReachabilityMatrix;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;

#[AsCommand('vorhut:reachability', 'Shows which services each segment reaches')]
final readonly class ReachabilityCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('planned, set or seen')]
        string $face = 'set',
        #[Option('key of one segment, for details by device')]
        string $from = '',
    ): int {
        $plan = $this->input->plan($document->file);
        $asked = Face::tryFrom($face) ?? throw BadInput::because('--face is planned, set or seen, not "{face}".', ['face' => $face]);
        $matrix = new ReachabilityMatrix(NetworkModel::of($plan, $asked));
        if ('' !== $from) {
            return $this->devices($output, $document->format, $matrix, $from);
        }
        $data = $lines = [];
        $all = new Crossing();
        // Without evidence there is nothing to hold against it.
        $seen = [] === $plan->observations ? [] : Seen::of(Proof::of($plan), $plan);
        foreach ($matrix->places() as $place) {
            foreach ($plan->segments as $segment) {
                $crossing = $matrix->crossing($place->key, $segment->key);
                if (0 === $crossing->all()) {
                    continue;
                }
                $all = $all->and($crossing);
                $here = $seen[$place->key.'>'.$segment->key] ?? null;
                $data[] = ['from' => $place->key, 'to' => $segment->key] + $crossing->jsonSerialize() + ['seen' => $here];
                $lines[] = \sprintf(
                    '%-8s %-20s > %-20s %5d of %5d%s%s',
                    $crossing->verdict(),
                    $place->name,
                    $segment->name,
                    $crossing->holds,
                    $crossing->all(),
                    null === $here ? '' : \sprintf('  proved %d of %d', $here->held, $here->tests)
                        .(0 === $here->failed ? '' : ", $here->failed failed"),
                    [] === $crossing->faults ? '' : '  '.implode(', ', array_map(
                        static fn (string $fault, int $times): string => "$times $fault",
                        array_keys($crossing->faults),
                        $crossing->faults,
                    )),
                );
            }
        }
        $this->input->answer($output, $document->format, ['crossings' => $data, 'all' => $all, 'walked' => $matrix->walked], [
            ...$lines,
            \sprintf('%d of %d answer, %d one way only; %d walks', $all->holds, $all->all(), $all->oneWay, $matrix->walked),
        ]);

        return CommandInput::DONE;
    }

    private function devices(OutputInterface $output, string $format, ReachabilityMatrix $matrix, string $from): int
    {
        $place = $matrix->places()[$from] ?? throw BadInput::because('This job has no segment "{key}".', ['key' => $from]);
        $data = $lines = [];
        foreach ($matrix->model->plan->segments as $segment) {
            foreach ($matrix->devicesOn($segment->key) as $device) {
                foreach (ReachabilityMatrix::servicesOf($device) as $service) {
                    $cell = $matrix->cell($place->key, $device, $service);
                    $data[] = [
                        'device' => $device->tag,
                        'port' => null === $service ? null : (string) $service->port,
                        'verdict' => $cell->verdict,
                        'fault' => $cell->fault?->value,
                    ];
                    $lines[] = \sprintf('%-8s %-24s %-10s %s', $cell->verdict, $device->tag, $service?->port, $cell->fault?->label());
                }
            }
        }
        $this->input->answer($output, $format, ['from' => $from, 'cells' => $data], $lines);

        return CommandInput::DONE;
    }
}
