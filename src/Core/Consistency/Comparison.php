<?php

declare(strict_types=1);

namespace Vorhut\Core\Consistency;

use Vorhut\Core\Catalogue\Relation;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Face;

/** Whether two values satisfy a relation. */
final class Comparison
{
    /**
     * @param list<Subject>               $right one or more; each of them counts
     * @param list<array{string, string}> $pairs of the complementary relation
     */
    public static function between(Relation $relation, Subject $left, array $right, Face $face, array $pairs = []): Standing
    {
        if (\in_array($relation, [Relation::SameSegment, Relation::DifferentSegment], true)) {
            return self::segments($relation, $left, $right, $face);
        }
        $mine = self::parts($left, $face);
        $theirs = array_merge(...array_map(static fn (Subject $one): array => self::parts($one, $face), $right));
        if ([] === $mine || [] === $theirs) {
            return Standing::Unknown;
        }
        $common = array_intersect($mine, $theirs);

        return self::standing(match ($relation) {
            Relation::Equal => [] === array_diff($mine, $theirs) && [] === array_diff($theirs, $mine),
            Relation::MemberOf => [] !== $common,
            Relation::Different, Relation::Distinct => [] === $common,
            Relation::AtMost => self::isAtMost($mine[0], $theirs[0]),
            Relation::AtLeast => self::isAtMost($theirs[0], $mine[0]),
            default => [] !== array_filter(
                $pairs,
                static fn (array $pair): bool => [$mine[0], $theirs[0]] === $pair || [$theirs[0], $mine[0]] === $pair,
            ),
        });
    }

    /** As numbers; for sizes (`1920x1080`) each dimension separately. Anything else never satisfies "at most". */
    private static function isAtMost(string $less, string $more): bool
    {
        [$less, $more] = [explode('x', $less), explode('x', $more)];
        if (\count($less) !== \count($more)) {
            return false;
        }
        foreach ($less as $i => $one) {
            if (!is_numeric($one) || !is_numeric($more[$i]) || (float) $one > (float) $more[$i]) {
                return false;
            }
        }

        return true;
    }

    /** @return list<string> empty where the value is not known */
    public static function parts(Subject $subject, Face $face): array
    {
        $value = $subject->value->effective($face);

        // Lists are kept with commas between; a choice may be of several words.
        return null === $value ? [] : explode(', ', $value);
    }

    /** @param list<Subject> $right */
    private static function segments(Relation $relation, Subject $left, array $right, Face $face): Standing
    {
        foreach ($right as $one) {
            if (null === $left->segment || null === $one->segment) {
                return Standing::Unknown;
            }
            $same = $left->segment === $one->segment;
            if (Relation::SameSegment === $relation ? !$same : ($same || self::networksOverlap($left, $one, $face))) {
                return Standing::Broken;
            }
        }

        return [] === $right ? Standing::Unknown : Standing::Holds;
    }

    /** By the settings of the two ports: a host with two addresses in one network does not know which port to use. */
    private static function networksOverlap(Subject $a, Subject $b, Face $face): bool
    {
        $networks = [];
        foreach ([$a, $b] as $port) {
            $address = Ipv4::tryFromString($port->nic?->setting('address')->effective($face) ?? '');
            $mask = Mask::tryFromString($port->nic?->setting('mask')->effective($face) ?? '');
            $networks[] = null === $address || null === $mask ? null : Network::around($address, $mask);
        }
        [$one, $other] = $networks;

        return null !== $one && null !== $other && $one->overlaps($other);
    }

    private static function standing(bool $holds): Standing
    {
        return $holds ? Standing::Holds : Standing::Broken;
    }
}
