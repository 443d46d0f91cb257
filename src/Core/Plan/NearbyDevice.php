<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/**
 * The device that another one obviously works with, of the kinds that it can work with: the only candidate in its room, in its subnet or on
 * the site. What is not known does not exclude a candidate; one that is known to share room or segment precedes those that may.
 *
 * @phpstan-import-type RowData from Edit
 * @phpstan-import-type Rows from Plan
 */
final class NearbyDevice
{
    /** @var array<string, list<string>>|null kind → devices */
    private ?array $ofKind = null;
    /** @var array<string, list<string>> device → its segments */
    private array $segments = [];

    /** @param Rows $rows */
    public function __construct(private readonly array $rows)
    {
    }

    /**
     * @param list<string> $kinds
     *
     * @return string|null key; null if none, or more than one, is in its room and subnet as far as known
     */
    public function inRoom(string $device, array $kinds): ?string
    {
        $possible = array_filter(
            $this->others($device, $kinds),
            fn (string $other): bool => false !== $this->sharesRoom($device, $other) && false !== $this->sharesSegment($device, $other),
        );
        $inRoom = array_filter($possible, fn (string $other): bool => true === $this->sharesRoom($device, $other));

        return [] === $inRoom ? $this->bySegment($device, $possible) : self::single($inRoom);
    }

    /**
     * @param list<string> $kinds
     *
     * @return string|null key; null if none, or more than one, is in its subnet as far as known
     */
    public function inSubnet(string $device, array $kinds): ?string
    {
        return $this->bySegment($device, array_filter(
            $this->others($device, $kinds),
            fn (string $other): bool => false !== $this->sharesSegment($device, $other),
        ));
    }

    /**
     * @param list<string> $kinds
     *
     * @return string|null key of the only one of the job
     */
    public function onSite(string $device, array $kinds): ?string
    {
        return self::single($this->others($device, $kinds));
    }

    /** @param array<string> $possible */
    private function bySegment(string $device, array $possible): ?string
    {
        $inSegment = array_filter($possible, fn (string $other): bool => true === $this->sharesSegment($device, $other));

        return self::single([] === $inSegment ? $possible : $inSegment);
    }

    /** @param array<string> $candidates */
    private static function single(array $candidates): ?string
    {
        return 1 === \count($candidates) ? reset($candidates) : null;
    }

    /** @return bool|null null where the room of one of them is not known */
    private function sharesRoom(string $device, string $other): ?bool
    {
        [$here, $there] = [$this->room($device), $this->room($other)];

        return '' === $here || '' === $there ? null : $here === $there;
    }

    /** @return bool|null null where one of them is in no segment, or not known to be */
    private function sharesSegment(string $device, string $other): ?bool
    {
        [$here, $there] = [$this->segments[$device] ?? [], $this->segments[$other] ?? []];

        return [] === $here || [] === $there ? null : [] !== array_intersect($here, $there);
    }

    private function room(string $device): string
    {
        return mb_strtolower(trim((new Row($this->rows['devices'][$device] ?? []))->text('room')));
    }

    /**
     * @param list<string> $kinds
     *
     * @return list<string> all devices of these kinds, without the one that looks for them
     */
    private function others(string $device, array $kinds): array
    {
        $this->ofKind ??= $this->index();
        $found = array_merge(...array_map(fn (string $kind): array => $this->ofKind[$kind] ?? [], $kinds));

        return array_values(array_diff($found, [$device]));
    }

    /** @return array<string, list<string>> */
    private function index(): array
    {
        foreach ($this->rows['nics'] ?? [] as $nic) {
            $row = new Row($nic);
            if ('' !== $row->text('segment')) {
                $this->segments[$row->text('device')][] = $row->text('segment');
            }
        }
        $ofKind = [];
        foreach ($this->rows['devices'] ?? [] as $key => $device) {
            $ofKind[(new Row($device))->text('kind')][] = (string) $key;
        }

        return $ofKind;
    }
}
