<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Text\Message;

/** Where a segment contradicts itself: what it names lies outside its own network, or is claimed twice. */
final class SegmentCheck
{
    /**
     * @return list<array{field: string, what: Message}> each with the field to look at first
     */
    public static function of(Segment $segment, Catalogue $catalogue): array
    {
        return [...self::addresses($segment), ...self::ranges($segment), ...self::kinds($segment, $catalogue)];
    }

    /** The first of them that is about a field; null where that field is sound. */
    public static function whyNot(Segment $segment, Catalogue $catalogue, string $field): ?Message
    {
        foreach (self::of($segment, $catalogue) as $one) {
            if ($field === $one['field']) {
                return $one['what'];
            }
        }

        return null;
    }

    /** @return list<array{field: string, what: Message}> */
    private static function addresses(Segment $segment): array
    {
        $found = [];
        foreach (['gateway' => $segment->gateway, 'outpost' => $segment->outpost] as $field => $address) {
            if (null === $address) {
                continue;
            }
            $at = ['address' => (string) $address, 'network' => (string) $segment->network];
            if (!$segment->network->contains($address)) {
                $found[] = [
                    'field' => $field,
                    'what' => 'gateway' === $field
                        ? new Message('{address} is not in {network}: a device sends only to a gateway on its own wire.', $at)
                        : new Message('{address} is not in {network}: from there nothing of this segment is seen.', $at),
                ];
            } elseif ($segment->network->isEdge($address)) {
                $found[] = [
                    'field' => $field,
                    'what' => new Message('{address} is the first or the last address of {network}: no device holds it.', $at),
                ];
            }
        }

        return $found;
    }

    /** @return list<array{field: string, what: Message}> */
    private static function ranges(Segment $segment): array
    {
        $found = [];
        $all = self::namedRanges($segment);
        $network = $segment->network->range();
        foreach ($all as [$field, $range]) {
            if (!$network->contains($range->first) || !$network->contains($range->last)) {
                $found[] = ['field' => $field, 'what' => new Message('{range} is not all in {network}.', [
                    'range' => (string) $range,
                    'network' => (string) $segment->network,
                ])];
            }
        }
        // By their first address only the next one can overlap, or one that reaches over several: the farthest end so far is kept.
        usort($all, static fn (array $a, array $b): int => $a[1]->first->number <=> $b[1]->first->number);
        $reach = null;
        foreach ($all as [$field, $range, $name]) {
            if (null !== $reach && $reach[1]->overlaps($range)) {
                $found[] = ['field' => $field, 'what' => new Message('{range} ({name}) overlaps {other} ({otherName}).', [
                    'range' => (string) $range,
                    'name' => $name,
                    'other' => (string) $reach[1],
                    'otherName' => $reach[2],
                ])];
                // Shown at both, so that it is found where one of them is typed.
                if ($reach[0] !== $field) {
                    $found[] = ['field' => $reach[0], 'what' => $found[array_key_last($found)]['what']];
                }
            }
            if (null === $reach || $range->last->number > $reach[1]->last->number) {
                $reach = [$field, $range, $name];
            }
        }

        return $found;
    }

    /** @return list<array{string, Range, Message|string}> field, range, and what it is called */
    private static function namedRanges(Segment $segment): array
    {
        return [
            ...array_map(static fn (Range $one): array => ['pools', $one, new Message('DHCP pool')], $segment->pools),
            ...array_map(static fn (array $one): array => ['reserved', $one['range'], $one['for']], $segment->reserved),
            ...array_map(static fn (array $one): array => ['blocks', $one['range'], $one['for']], $segment->blocks),
        ];
    }

    /** @return list<array{field: string, what: Message}> */
    private static function kinds(Segment $segment, Catalogue $catalogue): array
    {
        $found = [];
        foreach ($segment->blocks as $block) {
            if (null === $catalogue->kind($block['for'])) {
                $found[] = ['field' => 'blocks', 'what' => new Message('{range}: unknown kind "{kind}".', [
                    'range' => (string) $block['range'],
                    'kind' => $block['for'],
                ])];
            }
        }

        return $found;
    }
}
