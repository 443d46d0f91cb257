<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\FilterRule;

/** How many of the ways that the job needs each rule of a filter decides on: what it lets through, or what it stops. */
final readonly class RuleUse
{
    /** @param array<string, int> $ways rule → of how many */
    private function __construct(private array $ways)
    {
    }

    public static function of(NetworkModel $model): self
    {
        $met = [];
        foreach (RequiredPaths::of($model) as [$flow, , $walk]) {
            foreach ($walk->rules as $rule) {
                $met[$rule->key][$flow->key()] = true;
            }
        }

        return new self(array_map(count(...), $met));
    }

    public function by(FilterRule $rule): int
    {
        return $this->ways[$rule->key] ?? 0;
    }
}
