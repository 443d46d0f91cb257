<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Doctrine\ORM\EntityManagerInterface;
use Revolt\EventLoop;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Entity\WorkOrder;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\Journal;
use Vorhut\Outpost\Orders;
use Vorhut\Outpost\ProbeRun;

use function Amp\delay;

#[AsCommand('vorhut:outpost', 'The worker: takes probe orders and brings home what it finds')]
final readonly class OutpostCommand
{
    private const DAY = 86400;

    public function __construct(
        private Orders $orders,
        private ProbeRun $round,
        private EntityManagerInterface $manager,
        private Jobs $jobs,
        private Journal $journal,
    ) {
    }

    public function __invoke(
        OutputInterface $output,
        #[Option('stop after so many seconds; 0 runs until it is stopped')]
        int $seconds = 0,
    ): int {
        foreach ([\SIGTERM, \SIGINT] as $signal) {
            EventLoop::unreference(EventLoop::onSignal($signal, static fn () => exit(CommandInput::DONE)));
        }
        $this->orders->requeue();
        $until = 0 === $seconds ? \PHP_INT_MAX : time() + $seconds;
        for ($tidied = 0; time() < $until;) {
            $this->manager->clear();
            if (time() - $tidied > self::DAY) {
                $tidied = time();
                $this->tidy($output);
            }
            $order = $this->orders->claim();
            if (null === $order) {
                delay(0.3);
                continue;
            }
            try {
                $result = $this->work($order);
                $this->orders->end($order, true, $result);
            } catch (\Throwable $e) {
                $result = $e->getMessage();
                $this->orders->end($order, false, $result);
            }
            $output->writeln(
                \sprintf('%s %s %s: %s', date('H:i:s'), $order->job->slug, $order->kind, $result),
                OutputInterface::OUTPUT_RAW,
            );
        }

        return CommandInput::DONE;
    }

    /** Old evidence goes; if that fails, it goes tomorrow, and the orders are worked off all the same. */
    private function tidy(OutputInterface $output): void
    {
        try {
            foreach ($this->jobs->all() as $job) {
                $this->journal->forget($job, $this->journal->now('-'.Journal::EVIDENCE_DAYS.' days'));
            }
        } catch (\Throwable $e) {
            $output->writeln(date('H:i:s').' old evidence was not dropped: '.$e->getMessage(), OutputInterface::OUTPUT_RAW);
        }
    }

    private function work(WorkOrder $order): string
    {
        $tests = $order->what['tests'] ?? null;
        $keys = \is_array($tests) ? array_values(array_filter($tests, is_string(...))) : null;
        if (WorkOrder::WRITE === $order->kind) {
            $device = $order->what['device'] ?? '';
            $device = \is_string($device) ? $device : '';
            $said = $this->round->write($order->job, $device);
            $keys = array_values(array_unique([...$keys ?? [], ...$this->round->toAskAnew($order->job, $device)]));
        }
        $after = $order->what['after'] ?? 0;
        if (\is_int($after) && $after > 0) {
            delay($after);
        }
        $done = $this->round->run($order->job, $keys, $order->orderedBy);

        return trim(($said ?? '').\sprintf(' %d tests run.', $done));
    }
}
