<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Text\Message;

/** One setting of the laptop, and the devices worked at it. */
final class Stop
{
    private ?Timeline $timeline = null;
    /** @var array<int, Timeline> the remaining work, by start time; the last one requested */
    private array $left = [];

    /**
     * @param list<array{
     *     segment: string, address: Ipv4, mask: Mask,
     * }> $second  further addresses of the same adapter, to verify at the new addresses
     * @param list<list<Device>>                                  $lanes   devices of one lane are powered one after the other
     * @param list<Message>                                       $notes
     * @param \Closure(int|null, array<string, array<string, int>>): list<BenchTask> $work the devices as tasks, in the order of the lanes;
     * only the remaining work if a start time is passed; device → code of the step → seconds until it can begin
     */
    public function __construct(
        public readonly int $number,
        public readonly StopKind $how,
        public readonly ?Ipv4 $laptop,
        public readonly ?Mask $mask,
        public readonly array $second,
        public readonly array $lanes,
        public readonly array $notes,
        private readonly \Closure $work,
        private readonly BenchRoom $room,
        public readonly int $bench = 1,
    ) {
    }

    /**
     * When which device is worked at; computed for the stop that one looks at.
     *
     * @param array<string, array<string, int>> $until device → code of the step → seconds until it can be begun, for what waits for
     *     another bench
     */
    public function timeline(array $until = []): Timeline
    {
        return [] === $until
            ? $this->timeline ??= Timeline::plan($this->pieces(), $this->room)
            : Timeline::plan(($this->work)(null, $until), $this->room);
    }

    /** The remaining work from a time (Unix time): running work continues from its present state. */
    public function remaining(int $now): Timeline
    {
        if (!isset($this->left[$now])) {
            $this->left = [$now => Timeline::plan(($this->work)($now, []), $this->room)];
        }

        return $this->left[$now];
    }

    /** @return list<BenchTask> the devices as work, in the order of the lanes */
    public function pieces(): array
    {
        return ($this->work)(null, []);
    }

    /** @return list<Device> */
    public function devices(): array
    {
        return array_merge(...$this->lanes);
    }

    public function holds(string $device): bool
    {
        foreach ($this->devices() as $one) {
            if ($one->key === $device) {
                return true;
            }
        }

        return false;
    }

    /**
     * As it is told in JSON.
     *
     * @return array<string, mixed>
     */
    public function in(BenchSchedule $day): array
    {
        $timeline = $day->timeline($this);

        return [
            'stop' => $this->number,
            'bench' => $this->bench,
            'how' => $this->how->value,
            'laptop' => null === $this->laptop ? null : $this->laptop.$this->mask,
            'second' => array_map(
                static fn (array $one): array => ['segment' => $one['segment'], 'address' => $one['address'].$one['mask']],
                $this->second,
            ),
            'lanes' => array_map(
                static fn (array $lane): array => array_map(static fn (Device $device): string => $device->tag, $lane),
                $this->lanes,
            ),
            'notes' => [...$this->notes, ...$day->waits($this)],
            'begins' => $day->begin($this),
            'seconds' => [
                'hands' => $timeline->hands,
                'planned' => $timeline->finish,
                'atLeast' => $timeline->bound,
                'isBest' => $timeline->isBest,
            ],
        ];
    }
}
