<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Text\Message;

/**
 * The stops of all benches as one day: each bench works its own one after the other, and what waits for a device at another bench waits
 * until that one is done there. Computed for the stop that one looks at and what it leans on. All times in seconds from the begin of the
 * day.
 */
final class BenchSchedule
{
    /** Setting a laptop for another network and plugging it in. */
    public const MOVE = 120;

    /** @var array<int, Timeline> number of the stop → how it goes, with what it waits for */
    private array $timelines = [];
    /** @var array<int, int> */
    private array $begins = [];
    /** @var array<string, Stop> */
    private array $stopOf = [];
    /** @var array<int, Stop> number of the stop → the one before it at its bench */
    private array $before = [];
    /** @var array<int, true> stops that are being computed: those that wait for one another in a circle do not wait */
    private array $open = [];

    /** @param list<Stop> $stops in their order */
    public function __construct(array $stops, private readonly Precedence $precedence)
    {
        $last = [];
        foreach ($stops as $stop) {
            if (isset($last[$stop->bench])) {
                $this->before[$stop->number] = $last[$stop->bench];
            }
            $last[$stop->bench] = $stop;
            foreach ($stop->devices() as $device) {
                $this->stopOf[$device->key] = $stop;
            }
        }
    }

    public function begin(Stop $stop): int
    {
        $before = $this->before[$stop->number] ?? null;

        return $this->begins[$stop->number] ??= null === $before
            ? 0
            : $this->begin($before) + $this->timeline($before)->finish + self::MOVE;
    }

    /** How the stop goes; its times from its own begin. */
    public function timeline(Stop $stop): Timeline
    {
        if (!isset($this->timelines[$stop->number])) {
            $this->open[$stop->number] = true;
            $until = [];
            foreach ($this->elsewhere($stop) as [$device, $step, $other]) {
                $until[$device][$step] = max($until[$device][$step] ?? 0, $this->doneSteps($other) - $this->begin($stop));
            }
            unset($this->open[$stop->number]);
            $this->timelines[$stop->number] = $stop->timeline($until);
        }

        return $this->timelines[$stop->number];
    }

    /**
     * What of the stop waits for another bench.
     *
     * @return list<Message>
     */
    public function waits(Stop $stop): array
    {
        $waits = [];
        foreach ($this->elsewhere($stop) as [$device, , $other]) {
            $waits[$other][] = $this->tag($device);
        }
        $messages = [];
        foreach ($waits as $other => $tags) {
            $messages[] = new Message('{tags}: a step waits for {other}, which is done at bench {bench} after about [n minute|minutes].', [
                'tags' => implode(', ', array_unique($tags)),
                'other' => $this->tag($other),
                'bench' => $this->stopOf[$other]->bench,
                'n' => (int) ceil($this->doneSteps($other) / 60),
            ]);
        }

        return $messages;
    }

    /** @return list<array{string, string, string}> device, code of its step, device at another bench that has to be done before */
    private function elsewhere(Stop $stop): array
    {
        $elsewhere = [];
        foreach ($stop->devices() as $device) {
            foreach ($this->precedence->of($device) as $step => $others) {
                foreach ($others as $other) {
                    $there = $this->stopOf[$other] ?? null;
                    if (null !== $there && $there->bench !== $stop->bench && !isset($this->open[$there->number])) {
                        $elsewhere[] = [$device->key, $step, $other];
                    }
                }
            }
        }

        return $elsewhere;
    }

    private function doneSteps(string $device): int
    {
        $stop = $this->stopOf[$device];
        $slots = $this->timeline($stop)->of($device);

        return $this->begin($stop) + ([] === $slots ? 0 : max(array_column($slots, 'waits')));
    }

    private function tag(string $device): string
    {
        foreach ($this->stopOf[$device]->devices() as $one) {
            if ($one->key === $device) {
                return $one->tag;
            }
        }

        return $device;
    }
}
