<?php

declare(strict_types=1);

namespace Vorhut\Core\Loom;

use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Walk\NetworkModel;

/** How many of the ways that the job needs each rule of a filter decides on: what it lets through, or what it stops. */
final readonly class RuleUse
{
    /** @param array<string, int> $ways rule → of how many */
    private function __construct(private array $ways)
    {
    }

    public static function of(NetworkModel $model): self
    {
        $keys = [];
        foreach ($model->plan->filters as $rule) {
            $keys[self::at($rule->router, (string) $rule)] = $rule->key;
        }
        $met = [];
        foreach (WantedWays::of($model) as [$flow, , $walk]) {
            foreach ($walk->facts->texts() as $fact) {
                if (1 === preg_match('~^filters/([^:]+):[^=]*>[^=]* [0-9]+/\w+=(.*)$~D', $fact, $found)) {
                    $key = $keys[self::at($found[1], $found[2])] ?? null;
                    null === $key || $met[$key][$flow->key()] = true;
                }
            }
        }

        return new self(array_map(count(...), $met));
    }

    public function by(FilterRule $rule): int
    {
        return $this->ways[$rule->key] ?? 0;
    }

    private static function at(string $router, string $rule): string
    {
        return $router.' '.$rule;
    }
}
