<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

/** Keeps nothing: for a snapshot that is looked at once. */
final readonly class NotKept implements Kept
{
    public function get(string $part, \Closure $make): mixed
    {
        return $make();
    }

    public function isBehind(): bool
    {
        return false;
    }
}
