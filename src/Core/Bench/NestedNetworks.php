<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Net\Network;

/**
 * The fewest laptop settings that reach all factory networks. Networks nest or are apart, never half and half: a setting reaches a chain of
 * networks each within the next, so there are at least as many as there are innermost ones. Some may not be up together.
 */
final class NestedNetworks
{
    /** Partial chains that are looked at before the best so far is taken. */
    private const LOOKS = 5_000;

    /** @var list<list<int>> */
    private array $best = [];
    private int $looks = 0;

    /**
     * @param list<Network>             $networks the narrowest first
     * @param \Closure(int, int): bool $apart    whether these two, the narrower first, may not be up together
     */
    private function __construct(private readonly array $networks, private readonly \Closure $apart, private readonly int $innermost)
    {
    }

    /**
     * @param list<Network>             $networks each once, the narrowest first
     * @param \Closure(int, int): bool $apart
     *
     * @return list<list<int>> chains of their numbers
     */
    public static function of(array $networks, \Closure $apart): array
    {
        $innermost = 0;
        foreach ($networks as $i => $network) {
            $innermost += [] === array_filter(
                \array_slice($networks, 0, $i),
                static fn (Network $other): bool => $network->covers($other),
            ) ? 1 : 0;
        }
        $chains = new self($networks, $apart, $innermost);
        $chains->put(0, []);

        return $chains->best;
    }

    /** @param list<list<int>> $chains */
    private function put(int $network, array $chains): void
    {
        $done = [] !== $this->best && (\count($this->best) <= $this->innermost || ++$this->looks > self::LOOKS);
        if ($done || ([] !== $this->best && \count($chains) >= \count($this->best))) {
            return;
        }
        if (!isset($this->networks[$network])) {
            $this->best = $chains;

            return;
        }
        foreach ($chains as $i => $chain) {
            $widest = $this->networks[$chain[\count($chain) - 1]];
            if (!$this->networks[$network]->covers($widest)) {
                continue;
            }
            foreach ($chain as $one) {
                if (($this->apart)($one, $network)) {
                    continue 2;
                }
            }
            $with = $chains;
            $with[$i] = [...$chain, $network];
            $this->put($network + 1, $with);
        }
        $this->put($network + 1, [...$chains, [$network]]);
    }
}
