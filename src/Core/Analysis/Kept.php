<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

/** Where results of an analysis are kept for as long as the snapshot that they are of is the newest. */
interface Kept
{
    /**
     * What is kept under a name, or what is made now and kept from then on.
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
