<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

/**
 * Who does what when at a stop: few hands, many devices that start by themselves. All times in seconds from the start of the stop.
 *
 * @phpstan-import-type Slot from ListScheduler
 */
final readonly class Timeline
{
    /** @var array<string, list<Slot>> */
    private array $byDevice;

    /**
     * @param list<Slot> $slots  hands-on from–to, then waiting until `waits`; in the order in which they are begun
     * @param int        $hands  sum of hands-on time
     * @param int        $bound  no order can be faster than this
     * @param int        $finish when the last device is done
     * @param bool       $isBest no order is shorter
     * @param list<string> $circle devices that wait for one another
     */
    private function __construct(
        public array $slots,
        public int $hands,
        public int $bound,
        public int $finish,
        public bool $isBest,
        public array $circle,
    ) {
        $byDevice = [];
        foreach ($slots as $slot) {
            $byDevice[$slot['device']][] = $slot;
        }
        $this->byDevice = $byDevice;
    }

    /** @return list<Slot> of one device, in their order */
    public function of(string $device): array
    {
        $of = $this->byDevice[$device] ?? [];
        usort($of, static fn (array $a, array $b): int => $a['from'] <=> $b['from']);

        return $of;
    }

    /** @param list<BenchTask> $pieces in the order of their lanes */
    public static function plan(array $pieces, BenchRoom $room = new BenchRoom()): self
    {
        $path = new CriticalPath($pieces);
        $bound = $path->lowerBound($room->people);
        $found = ListScheduler::of($pieces, $path, $room);
        $slots = $found->slots;
        $finish = $found->finish;
        $isBest = $finish <= $bound;
        $few = \count($pieces) <= min(BestOrder::MOST, $room->ports) && 1 === $room->people && null === $room->watts;
        if (!$isBest && $few && [] === $found->forced) {
            $best = BestOrder::of($pieces, $path, $finish, $bound);
            $slots = $best->slots ?? $slots;
            $finish = $best->finish;
            $isBest = $best->isExact;
        }

        return new self(
            $slots,
            array_sum(array_map(static fn (BenchTask $piece): int => $piece->hands(), $pieces)),
            $bound,
            $finish,
            $isBest,
            array_map(static fn (int $piece): string => $pieces[$piece]->device, $found->forced),
        );
    }
}
