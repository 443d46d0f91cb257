<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Revolt\EventLoop;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Application\DiscardOldRecords;
use Vorhut\Core\Wire\Sanitizer;
use Vorhut\Entity\WorkOrder;
use Vorhut\Journal\Outage;
use Vorhut\Outpost\Orders\OrderOwner;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Outpost\Orders\ProbeRun;
use Vorhut\Provisioning\Rounds;
use Vorhut\Socket\Background;

use function Amp\delay;

#[AsCommand('vorhut:outpost', 'Runs the worker, which carries out tests, scans and writes')]
final readonly class OutpostCommand
{
    private const DAY = 86400;
    /** Seconds from one look at what phones took to the next: a thousand are entered at once rather than one by one. */
    private const ROUND = 2;
    /** Characters of what went wrong. */
    private const LONGEST = 500;

    public function __construct(
        private Orders $orders,
        private ProbeRun $round,
        private DiscardOldRecords $discard,
        private Outage $outage,
        private Rounds $rounds,
    ) {
    }

    public function __invoke(
        OutputInterface $output,
        #[Option('stop after this many seconds; 0 runs until stopped')]
        int $seconds = 0,
    ): int {
        foreach ([\SIGTERM, \SIGINT] as $signal) {
            EventLoop::unreference(EventLoop::onSignal($signal, static fn () => exit(CommandInput::DONE)));
        }
        $me = OrderOwner::here();
        $isFirst = true;
        $until = 0 === $seconds ? \PHP_INT_MAX : time() + $seconds;
        for ($tidied = $entered = 0; time() < $until;) {
            if (time() - $tidied > self::DAY) {
                $tidied = time();
                $this->tidy($output);
            }
            if (time() - $entered >= self::ROUND) {
                $entered = time();
                $this->enter($output);
            }
            $order = $this->claim($me, $isFirst, $output);
            if (null === $order) {
                delay(0.3);
                continue;
            }
            // Read before anything in memory can go wrong.
            [$id, $slug, $kind] = [(int) $order->id, $order->job->slug, $order->kind];
            $alive = EventLoop::unreference(EventLoop::repeat(Orders::CLAIM_SECONDS / 4, function () use ($id, $me): void {
                try {
                    $this->orders->holds($id, $me);
                } catch (\Throwable $e) {
                    // The order itself will meet the same database; a sign of life that is missed must not end it.
                    Background::report('sign of life', $e);
                }
            }));
            try {
                $result = $this->work($order, $me);
                $well = true;
            } catch (\Throwable $e) {
                $result = Sanitizer::text($e->getMessage(), self::LONGEST);
                $well = false;
            }
            EventLoop::cancel($alive);
            $this->outage->afresh();
            try {
                $this->orders->end($id, $me, $well, $result);
            } catch (\Throwable $e) {
                // It is resumed when its claim has expired; results found so far are stored already.
                $result .= ' '.$this->outage->report($e);
            }
            $output->writeln(\sprintf('%s %s %s: %s', date('H:i:s'), $slug, $kind, $result), OutputInterface::OUTPUT_RAW);
        }

        return CommandInput::DONE;
    }

    /** Stores what phones fetched by the fast path as evidence of their jobs. */
    private function enter(OutputInterface $output): void
    {
        try {
            $this->rounds->go();
        } catch (\Throwable $e) {
            // It lies there until the next time.
            $why = $this->outage->report($e);
            if (null !== $why) {
                $output->writeln(date('H:i:s').' '.$why, OutputInterface::OUTPUT_RAW);
            }
        }
    }

    /** If this fails it is tried again tomorrow; the orders are carried out all the same. */
    private function tidy(OutputInterface $output): void
    {
        try {
            $this->discard->run();
        } catch (\Throwable $e) {
            $output->writeln(date('H:i:s').' old records were not deleted: '.$e->getMessage(), OutputInterface::OUTPUT_RAW);
        }
    }

    /** The next order; nothing is left of the last one, and a database that is away is waited for. */
    private function claim(OrderOwner $me, bool &$isFirst, OutputInterface $output): ?WorkOrder
    {
        $this->outage->afresh();
        try {
            if ($isFirst) {
                $this->orders->requeue();
            }
            $isFirst = false;
            $order = $this->orders->claim($me);
            $said = $this->outage->isOver();
        } catch (\Throwable $e) {
            $order = null;
            $said = $this->outage->report($e);
            delay(1.0);
        }
        if (null !== $said) {
            $output->writeln(date('H:i:s').' '.$said, OutputInterface::OUTPUT_RAW);
        }

        return $order;
    }

    private function work(WorkOrder $order, OrderOwner $me): string
    {
        $tests = $order->what['tests'] ?? null;
        $keys = \is_array($tests) ? array_values(array_filter($tests, is_string(...))) : null;
        if (WorkOrder::WRITE === $order->kind) {
            $device = $order->what['device'] ?? '';
            $device = \is_string($device) ? $device : '';
            $said = $this->round->write($order->job, $device);
            $keys = array_values(array_unique([...$keys ?? [], ...$this->round->toAskAnew($order->job, $device)]));
        }
        if (WorkOrder::REFETCH === $order->kind) {
            $device = $order->what['device'] ?? '';

            return (string) $this->round->refetch($order->job, \is_string($device) ? $device : '');
        }
        if (WorkOrder::SWEEP === $order->kind) {
            $list = $order->what['list'] ?? '';
            $id = (int) $order->id;

            return $this->round->sweep(
                $order->job,
                \is_string($list) ? $list : '',
                $order->orderedBy,
                fn (string $said): bool => $this->orders->tell($id, $me, $said),
            );
        }
        $after = $order->what['after'] ?? 0;
        if (\is_int($after) && $after > 0) {
            delay($after);
        }
        $id = (int) $order->id;
        $done = $this->round->run($order->job, $keys, $order->orderedBy, fn (): bool => $this->orders->holds($id, $me));

        return trim(($said ?? '').\sprintf(' %d tests run.', $done));
    }
}
