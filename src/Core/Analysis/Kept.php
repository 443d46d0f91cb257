<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

/** A cache for the results of an analysis, valid while their snapshot is the newest. */
interface Kept
{
    /**
     * The cached value, or a new one, which is then cached.
     *
     * @template T
     *
     * @param \Closure(): T $make
     *
     * @return T
     */
    public function get(string $part, \Closure $make): mixed;

    /** Whether something was given that is of an older state. */
    public function isBehind(): bool;
}
