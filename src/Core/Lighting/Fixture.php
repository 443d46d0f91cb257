<?php

declare(strict_types=1);

namespace Vorhut\Core\Lighting;

use Vorhut\Core\Plan\Device;

/** One device in a universe: from which slot on, and how many. */
final readonly class Fixture implements \JsonSerializable
{
    public int $end;

    public function __construct(public Device $device, public int $start, public int $footprint)
    {
        $this->end = $start + $footprint - 1;
    }

    public function overlaps(self $other): bool
    {
        return $this->start <= $other->end && $other->start <= $this->end;
    }

    public function runsOver(): bool
    {
        return $this->end > Universe::SLOTS;
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return ['fixture' => $this->device->tag, 'start' => $this->start, 'end' => $this->end];
    }
}
