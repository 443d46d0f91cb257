<?php

declare(strict_types=1);

namespace Vorhut\Core\Lighting;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Plan\Device;

/** The fixtures, senders and outputs of a universe. */
final readonly class UniversePatch implements \JsonSerializable
{
    /**
     * @param list<Fixture>                $fixtures  by slot
     * @param list<array{Device, int}>     $senders   with their priority, the greatest first
     * @param list<array{Device, list<int>}> $receivers nodes, with the ports that give it out; none for what takes it as a whole
     */
    public function __construct(public Universe $universe, public array $fixtures, public array $senders, public array $receivers)
    {
    }

    /** @return list<array{Fixture, Fixture}> pairs that want the same slots */
    public function overlaps(): array
    {
        $pairs = [];
        $open = [];
        foreach ($this->fixtures as $fixture) {
            // By slot: only those that have not ended yet can meet this one.
            $open = array_values(array_filter($open, static fn (Fixture $one): bool => $one->end >= $fixture->start));
            foreach ($open as $one) {
                $pairs[] = [$one, $fixture];
            }
            $open[] = $fixture;
        }

        return $pairs;
    }

    /** @return list<Fixture> those that go past the last slot */
    public function pastTheEnd(): array
    {
        return array_values(array_filter($this->fixtures, static fn (Fixture $one): bool => $one->runsOver()));
    }

    /**
     * Two or more that send it with the same highest priority: each receiver decides which one to follow. A sender that also receives the
     * universe yields to levels from the network, so it competes only with others like it.
     *
     * @return list<array{Device, int}>
     */
    public function fighting(): array
    {
        $first = $this->senders[0][1] ?? null;
        $same = array_values(array_filter($this->senders, static fn (array $one): bool => $one[1] === $first));
        $live = array_values(array_filter($same, static fn (array $one): bool => !$one[0]->kind->has(Role::LightReceiver)));
        $same = [] === $live ? $same : $live;

        return \count($same) > 1 ? $same : [];
    }

    /** The first slot at which so many are free; null where none is. */
    public function free(int $footprint): ?int
    {
        $at = 1;
        foreach ($this->fixtures as $fixture) {
            if ($fixture->start - $at >= $footprint) {
                return $at;
            }
            $at = max($at, $fixture->end + 1);
        }

        return Universe::SLOTS - $at + 1 >= $footprint ? $at : null;
    }

    public function usedSlots(): int
    {
        $used = $last = 0;
        foreach ($this->fixtures as $fixture) {
            $from = max($fixture->start, $last + 1);
            $to = min($fixture->end, Universe::SLOTS);
            $used += max(0, $to - $from + 1);
            $last = max($last, $to);
        }

        return $used;
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'universe' => $this->universe->number,
            'group' => (string) $this->universe->group(),
            'used' => $this->usedSlots(),
            'fixtures' => $this->fixtures,
            'overlaps' => array_map(static fn (array $pair): array => [$pair[0]->device->tag, $pair[1]->device->tag], $this->overlaps()),
            'senders' => array_map(static fn (array $one): array => ['device' => $one[0]->tag, 'priority' => $one[1]], $this->senders),
            'receivers' => array_map(static fn (array $one): array => ['device' => $one[0]->tag, 'ports' => $one[1]], $this->receivers),
        ];
    }
}
