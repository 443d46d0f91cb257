<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Range;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Plan\FilterRule;

/**
 * Rules that no packet ever comes to: those before them take it all, or the router has no interface there. Looked at pair by pair of
 * segments and port by port; of lists of addresses a rule is covered only by one that has all of them.
 */
final class DeadRules
{
    /** @return list<FilterRule> by position */
    public static function of(NetworkModel $model): array
    {
        $alive = [];
        $routers = [];
        foreach ($model->plan->filters as $rule) {
            $routers[$rule->router] = true;
        }
        foreach (array_keys($routers) as $router) {
            $segments = array_unique(array_map(static fn ($port): string => $port->segment, $model->ports((string) $router)));
            foreach ($segments as $from) {
                foreach ($segments as $to) {
                    // Between a wire and itself a router does not filter.
                    if ($from !== $to) {
                        $alive += self::aliveOf($model->rulesBetween((string) $router, $from, $to));
                    }
                }
            }
        }

        return array_values(array_filter($model->plan->filters, static fn (FilterRule $rule): bool => !isset($alive[$rule->key])));
    }

    /**
     * @param list<FilterRule> $rules of one pair, by position
     *
     * @return array<string, true>
     */
    private static function aliveOf(array $rules): array
    {
        $alive = [];
        foreach (Transport::cases() as $transport) {
            $before = [];
            foreach ($rules as $rule) {
                if (null !== $rule->transport && $rule->transport !== $transport) {
                    continue;
                }
                $covering = array_filter(
                    $before,
                    static fn (FilterRule $one): bool => self::covers($one->fromAddresses, $rule->fromAddresses)
                        && self::covers($one->toAddresses, $rule->toAddresses),
                );
                if (self::isOpen($rule, $covering)) {
                    $alive[$rule->key] = true;
                }
                $before[] = $rule;
            }
        }

        return $alive;
    }

    /** @param array<FilterRule> $before */
    private static function isOpen(FilterRule $rule, array $before): bool
    {
        $last = $rule->portLast ?? 65535;
        $next = $rule->portFirst ?? 1;
        usort($before, static fn (FilterRule $a, FilterRule $b): int => ($a->portFirst ?? 1) <=> ($b->portFirst ?? 1));
        foreach ($before as $one) {
            if (($one->portFirst ?? 1) > $next) {
                break;
            }
            $next = max($next, ($one->portLast ?? 65535) + 1);
        }

        return $next <= $last;
    }

    /**
     * @param list<Range> $wide   none is all
     * @param list<Range> $narrow
     */
    private static function covers(array $wide, array $narrow): bool
    {
        if ([] === $wide || [] === $narrow) {
            return [] === $wide;
        }
        foreach ($narrow as $range) {
            $isIn = static fn (Range $one): bool => $one->contains($range->first) && $one->contains($range->last);
            if ([] === array_filter($wide, $isIn)) {
                return false;
            }
        }

        return true;
    }
}
