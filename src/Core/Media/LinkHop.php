<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

use Vorhut\Core\Plan\Cable;

/** One cable in one direction: each direction has all of its speed (full duplex). */
final readonly class LinkHop
{
    public function __construct(public Cable $cable, public string $from, public string $to)
    {
    }

    public function key(): string
    {
        return $this->cable->key.'>'.$this->to;
    }
}
