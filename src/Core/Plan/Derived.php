<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** Results computed from one snapshot: computed once, and discarded with the snapshot. */
final class Derived
{
    /** @var array<string, mixed> */
    private array $results = [];

    /**
     * @template T
     *
     * @param class-string  $for     the class that computes it
     * @param \Closure(): T $compute
     *
     * @return T
     */
    public function once(string $for, string $name, \Closure $compute): mixed
    {
        $key = $for.'::'.$name;
        if (!\array_key_exists($key, $this->results)) {
            $this->results[$key] = $compute();
        }

        /** @var T */
        return $this->results[$key];
    }
}
