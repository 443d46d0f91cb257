<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/**
 * The device that another one obviously works with, of the kinds that it can work with.
 *
 * @phpstan-import-type RowData from Edit
 * @phpstan-import-type Rows from Plan
 */
final class NearbyDevice
{
    /** @var array<string, array<string, list<string>>>|null kind → room → devices */
    private ?array $inRoom = null;
    /** @var array<string, array<string, list<string>>> kind → segment → devices */
    private array $inSegment = [];
    /** @var array<string, list<string>> device → its segments */
    private array $segmentsOf = [];

    /** @param Rows $rows */
    public function __construct(private readonly array $rows)
    {
    }

    /**
     * @param list<string> $kinds
     *
     * @return string|null key of the only one in its room, else of the only one in its segment, else of the only one of the job; null if
     *                     none of these is known, or if it is known to be in another room
     */
    public function near(string $device, array $kinds): ?string
    {
        $this->index();
        $room = self::room($this->rows['devices'][$device] ?? []);
        $possible = $sameRoom = $sameSegment = [];
        foreach ($kinds as $kind) {
            $rooms = $this->inRoom[$kind] ?? [];
            $possible = [...$possible, ...'' === $room ? array_merge(...array_values($rooms)) : $rooms[''] ?? []];
            $sameRoom = [...$sameRoom, ...'' === $room ? [] : $rooms[$room] ?? []];
            foreach ($this->segmentsOf[$device] ?? [] as $segment) {
                $sameSegment = [...$sameSegment, ...$this->inSegment[$kind][$segment] ?? []];
            }
        }
        foreach ([$sameRoom, array_intersect($sameSegment, $possible), $possible] as $candidates) {
            $others = array_diff(array_unique($candidates), [$device]);
            if ([] !== $others) {
                return self::single($others);
            }
        }

        return null;
    }

    /**
     * @param list<string> $kinds
     *
     * @return string|null key of the only one of the job, for a device that serves the whole site
     */
    public function only(string $device, array $kinds): ?string
    {
        $this->index();
        $all = [];
        foreach ($kinds as $kind) {
            $all = [...$all, ...array_merge(...array_values($this->inRoom[$kind] ?? []))];
        }

        return self::single(array_diff($all, [$device]));
    }

    /** @param array<string> $candidates */
    private static function single(array $candidates): ?string
    {
        return 1 === \count($candidates) ? reset($candidates) : null;
    }

    private function index(): void
    {
        if (null !== $this->inRoom) {
            return;
        }
        $this->inRoom = [];
        foreach ($this->rows['nics'] ?? [] as $nic) {
            $row = new Row($nic);
            if ('' !== $row->text('segment')) {
                $this->segmentsOf[$row->text('device')][] = $row->text('segment');
            }
        }
        foreach ($this->rows['devices'] ?? [] as $key => $device) {
            $kind = (new Row($device))->text('kind');
            $this->inRoom[$kind][self::room($device)][] = (string) $key;
            foreach (array_unique($this->segmentsOf[$key] ?? []) as $segment) {
                $this->inSegment[$kind][$segment][] = (string) $key;
            }
        }
    }

    /** @param RowData $device */
    private static function room(array $device): string
    {
        return mb_strtolower(trim((new Row($device))->text('room')));
    }
}
