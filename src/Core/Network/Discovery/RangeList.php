<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Discovery;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;

/** Addresses that are asked one by one whether anybody is there, from one place. */
final readonly class RangeList
{
    /** A /20: larger ranges are scanned only on request. */
    public const AT_ONCE = 4096;
    public const MOST = 65536;
    /** A gap up to this size between two required addresses is scanned rather than splitting the range. */
    private const GAP = 8;

    /**
     * @param list<Range> $ranges
     * @param string|null $from   the segment of the scan
     */
    private function __construct(public string $key, public string $name, public array $ranges, public ?string $from, public Port $port)
    {
    }

    /** @return list<self> those of a job, by name */
    public static function all(Plan $plan): array
    {
        $lists = array_map(self::fromRow(...), $plan->records('rangeLists'));
        usort($lists, static fn (self $a, self $b): int => [$a->name, $a->key] <=> [$b->name, $b->key]);

        return $lists;
    }

    public static function find(Plan $plan, string $key): ?self
    {
        $row = $plan->row('rangeLists', $key);

        return null === $row ? null : self::fromRow(new Row($row));
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('name'),
            array_map(Range::fromString(...), $row->texts('ranges')),
            $row->textOrNull('from'),
            Port::tryFromString($row->text('port')) ?? Port::tcp(80),
        );
    }

    /** Under which its evidence is kept. */
    public function test(): string
    {
        return 'sweep:'.$this->key;
    }

    public function count(): int
    {
        return array_sum(array_map(static fn (Range $range): int => $range->count(), self::merge($this->ranges)));
    }

    public function contains(Ipv4 $address): bool
    {
        foreach ($this->ranges as $range) {
            if ($range->contains($address)) {
                return true;
            }
        }

        return false;
    }

    /** @return iterable<Ipv4> each once, in order */
    public function addresses(): iterable
    {
        foreach (self::merge($this->ranges) as $range) {
            yield from $range->addresses();
        }
    }

    /**
     * The fewest ranges that cover the devices to find from a segment: those managed from there, wherever they are.
     *
     * @return list<Range>
     */
    public static function suggest(Plan $plan, string $from): array
    {
        $addresses = [];
        foreach ($plan->devices as $device) {
            $nic = $device->nic();
            $address = $nic?->addressAsSet();
            if (null !== $address && ($device->controlledFrom ?? $nic->segment) === $from) {
                $addresses[] = $address;
            }
        }
        $ranges = [];
        foreach (Range::covering($addresses) as $range) {
            $last = $ranges[array_key_last($ranges) ?? -1] ?? null;
            $sameWire = null !== $last && $plan->segmentAround($last->last) === $plan->segmentAround($range->first);
            if (null !== $last && $sameWire && $range->first->number - $last->last->number <= self::GAP) {
                array_pop($ranges);
                $range = Range::of($last->first, $range->last);
            }
            $ranges[] = $range;
        }

        return $ranges;
    }

    /**
     * In order, and none twice.
     *
     * @param list<Range> $ranges
     *
     * @return list<Range>
     */
    public static function merge(array $ranges): array
    {
        usort($ranges, static fn (Range $a, Range $b): int => $a->first->number <=> $b->first->number);
        $merged = [];
        foreach ($ranges as $range) {
            $last = array_pop($merged);
            if (null === $last || $range->first->number > $last->last->number + 1) {
                if (null !== $last) {
                    $merged[] = $last;
                }
                $merged[] = $range;
            } else {
                $merged[] = Range::of($last->first, $range->last->number > $last->last->number ? $range->last : $last->last);
            }
        }

        return $merged;
    }
}
