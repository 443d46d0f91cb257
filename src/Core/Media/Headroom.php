<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

/** The share of a link to keep free: three common rules; a job uses one of them. */
final readonly class Headroom
{
    public const SCHOOLS = [25, 40, 60];

    private function __construct(public int $percent)
    {
    }

    public static function of(int $percent): self
    {
        return new self(max(0, min(99, $percent)));
    }

    /** What may be used of a link; never what would be needed with so much added to the load, which is another sum. */
    public function usable(float $mbps): float
    {
        return $mbps * (100 - $this->percent) / 100;
    }
}
