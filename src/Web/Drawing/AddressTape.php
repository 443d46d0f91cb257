<?php

declare(strict_types=1);

namespace Vorhut\Web\Drawing;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Text\Message;

/**
 * The address tape: a segment as a tape measure. Places are in units of the drawing, 0 to WIDTH; what a segment leaves empty at its end is
 * not drawn, so that the used part is wide enough to read.
 */
final readonly class AddressTape
{
    public const WIDTH = 1000;

    /** Rows of names above the tape. */
    public const LANES = 3;
    /** Width of a letter of the names. */
    private const LETTER = 8;

    /**
     * @param list<array{x: float, label: string}>                                                       $ticks
     * @param list<array{x: float, width: float, sort: string, label: string, range: string}>             $bands
     * @param list<array{x: float, tag: string, address: string, record: string, nic: string, trouble: string|null, lane: int}> $pins
     * @param int $from  the lowest address that is drawn, as a number
     * @param int $count how many are drawn
     */
    private function __construct(
        public array $ticks,
        public array $bands,
        public array $pins,
        public int $from,
        public int $count,
        public bool $zoomed,
    ) {
    }

    /**
     * @param \Closure(Message): string $say
     * @param Range|null                $zoom the part to draw; null for all that is used
     */
    public static function of(Plan $plan, Segment $segment, \Closure $say, ?Range $zoom = null): self
    {
        $low = $segment->network->address->number;
        $used = [$segment->network->firstHost()->number + 15];
        foreach ([...$segment->pools, ...array_column($segment->reserved, 'range'), ...array_column($segment->blocks, 'range')] as $range) {
            $used[] = $range->last->number;
        }
        $pins = [];
        foreach ($plan->nicsOn($segment->key) as $nic) {
            $address = $nic->plannedAddress();
            if (null === $address) {
                continue;
            }
            $inside = $segment->network->contains($address);
            if ($inside) {
                $used[] = $address->number;
            }
            $pool = $segment->poolWith($address);
            $pins[] = [
                'at' => $inside ? $address->number : $low,
                'tag' => $plan->devices[$nic->device]->tag ?? $nic->device,
                'address' => (string) $address,
                'record' => 'devices/'.$nic->device,
                'nic' => $nic->record(),
                'trouble' => match (true) {
                    !$inside => $say(new Message('outside the segment')),
                    null !== $pool && !$nic->reserved => $say(new Message('inside the pool')),
                    default => null,
                },
            ];
        }
        $high = min(max($used) + 8, $segment->network->broadcast()->number);
        if (null !== $zoom) {
            // Some text around it, so that its ends can be recognised.
            $margin = max(1, intdiv($zoom->count(), 20));
            $high = min($zoom->last->number + $margin, $segment->network->broadcast()->number);
            $low = max($low, $zoom->first->number - $margin);
        }
        $scale = static fn (int $number): float => round(self::WIDTH * ($number - $low) / max(1, $high - $low + 1), 1);
        $bands = [];
        foreach (self::ranges($plan, $segment, $say) as [$range, $sort, $label]) {
            if ($range->last->number >= $low && $range->first->number <= $high) {
                $bands[] = self::band($range, $sort, $label, $scale, $low, $high);
            }
        }
        $ticks = [];
        $step = 1 << max(0, (int) floor(log(max(16, $high - $low) / 12, 2)));
        for ($number = $low; $number <= $high; $number += $step) {
            // In a wide network the last octet is not enough.
            $third = $segment->network->mask->prefix < 24 ? '.'.($number >> 8 & 255) : '';
            $ticks[] = ['x' => $scale($number), 'label' => $third.'.'.($number & 255)];
        }
        if (null !== $segment->gateway && $segment->network->contains($segment->gateway)) {
            $pins[] = self::gatewayPin($segment, $segment->gateway, $say(new Message('gateway')));
        }
        $pins = array_values(array_filter($pins, static fn (array $pin): bool => $pin['at'] >= $low && $pin['at'] <= $high));
        usort($pins, static fn (array $a, array $b): int => [$a['at'], $a['tag']] <=> [$b['at'], $b['tag']]);

        return new self($ticks, $bands, self::placeLabels($pins, $scale), $low, $high - $low + 1, null !== $zoom);
    }

    /** @return array{at: int, tag: string, address: string, record: string, nic: string, trouble: null} */
    private static function gatewayPin(Segment $segment, Ipv4 $gateway, string $tag): array
    {
        return [
            'at' => $gateway->number,
            'tag' => $tag,
            'address' => (string) $gateway,
            'record' => 'segments/'.$segment->key,
            'nic' => '',
            'trouble' => null,
        ];
    }

    /**
     * @param \Closure(Message): string $say
     *
     * @return iterable<array{Range, string, string}> range, sort, label
     */
    private static function ranges(Plan $plan, Segment $segment, \Closure $say): iterable
    {
        foreach ($segment->pools as $range) {
            yield [$range, 'pool', 'DHCP'];
        }
        foreach ($segment->reserved as $one) {
            yield [$one['range'], 'reserved', $one['for']];
        }
        foreach ($segment->blocks as $one) {
            yield [$one['range'], 'block', $say(new Message($plan->catalogue->kind($one['for'])->name ?? $one['for']))];
        }
    }

    /**
     * A label lies to the right of its pin, above the heads of all pins it passes over: so no stem runs through a name. Where that would
     * need more rows than there are, the pin stands without its name (its title and the roster have it).
     *
     * @param list<array{at: int, tag: string, address: string, record: string, nic: string, trouble: string|null}> $pins by place
     * @param \Closure(int): float                                                                     $scale
     *
     * @return list<array{x: float, tag: string, address: string, record: string, nic: string, trouble: string|null, lane: int}>
     */
    private static function placeLabels(array $pins, \Closure $scale): array
    {
        $placed = [];
        foreach (array_reverse($pins) as $pin) {
            $x = $scale($pin['at']);
            $end = $x + self::LETTER * \strlen($pin['tag']) + 8;
            $lane = 0;
            foreach ($placed as $right) {
                if (null === $right['trouble'] && null === $pin['trouble'] && $right['x'] <= $end && $right['lane'] < self::LANES) {
                    $lane = max($lane, $right['lane'] + 1);
                }
            }
            $placed[] = [
                'x' => $x,
                'tag' => $pin['tag'],
                'address' => $pin['address'],
                'record' => $pin['record'],
                'nic' => $pin['nic'],
                'trouble' => $pin['trouble'],
                'lane' => $lane,
            ];
        }

        return array_reverse($placed);
    }

    /**
     * @param \Closure(int): float $scale
     *
     * @return array{x: float, width: float, sort: string, label: string, range: string}
     */
    private static function band(Range $range, string $sort, string $label, \Closure $scale, int $low, int $high): array
    {
        $x = $scale(max($low, $range->first->number));

        return [
            'x' => $x,
            'width' => round($scale(min($high, $range->last->number) + 1) - $x, 1),
            'sort' => $sort,
            'label' => $label.' '.$range,
            'range' => (string) $range,
        ];
    }
}
