<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Net\Range;
use Vorhut\Core\Plan\Plan;

/** Rules as an administrator takes them: a table, and lines of text. */
final class RulesTable
{
    /** @return list<array<string, string>> */
    public static function rows(Plan $plan, RequiredFirewallRules $rules): array
    {
        $rows = [];
        foreach ($rules->rules as $i => $rule) {
            $from = $plan->segments[$rule->from];
            $to = $plan->segments[$rule->to];
            $rows[] = [
                'place' => (string) (10 * ($i + 1)),
                'router' => $plan->devices[$rule->router]->tag,
                'action' => 'allow',
                'from' => $from->name,
                'from addresses' => self::addresses($rule->fromAddresses, $rule->isFromOutside ? 'any' : (string) $from->network),
                'to' => $to->name,
                'to addresses' => self::addresses($rule->toAddresses, $rule->isToOutside ? 'any' : (string) $to->network),
                'transport' => $rule->first->transport->value,
                'ports' => explode('/', $rule->ports())[0],
                'why' => implode(' ', array_map(strval(...), $rule->why)),
                'devices' => implode(', ', $rule->devices),
            ];
        }

        return $rows;
    }

    /** @return list<string> one rule a line, with the reason below it */
    public static function text(Plan $plan, RequiredFirewallRules $rules): array
    {
        $lines = [];
        foreach (self::rows($plan, $rules) as $row) {
            $lines[] = \sprintf(
                '%4s  %s: %s %s %s from %s to %s',
                $row['place'],
                $row['router'],
                $row['action'],
                $row['transport'],
                $row['ports'],
                $row['from addresses'],
                $row['to addresses'],
            );
            $lines[] = '      '.(mb_strlen($row['why']) > 120 ? mb_substr($row['why'], 0, 119).'…' : $row['why']);
        }

        return $lines;
    }

    /** @param list<Range> $ranges */
    private static function addresses(array $ranges, string $network): string
    {
        return [] === $ranges ? $network : implode(' ', $ranges);
    }
}
