<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/**
 * One value with its three faces. Null means nobody said; the empty text means it was left blank on purpose or found blank: a
 * gateway that was never typed in is another fact than one nobody asked about.
 */
final readonly class Faced
{
    public function __construct(
        public ?string $planned = null,
        public ?string $set = null,
        public ?string $seen = null,
        public ?string $setBy = null,
        public ?string $setAt = null,
        public ?string $seenBy = null,
        public ?string $seenAt = null,
    ) {
    }

    /** What the device is taken to hold when asked about a face: the nearest one known, falling back towards the plan. */
    public function asOf(Face $face): ?string
    {
        return match ($face) {
            Face::Planned => $this->planned,
            Face::Set => $this->set ?? $this->planned,
            Face::Seen => $this->seen ?? $this->set ?? $this->planned,
        };
    }

    public function face(Face $face): ?string
    {
        return match ($face) {
            Face::Planned => $this->planned,
            Face::Set => $this->set,
            Face::Seen => $this->seen,
        };
    }

    /** The same value with a default where the plan is silent (a nic without a planned gateway takes its segment's). */
    public function withDefault(?string $planned): self
    {
        return null !== $this->planned ? $this : new self($planned, $this->set, $this->seen, $this->setBy, $this->setAt, $this->seenBy, $this->seenAt);
    }
}
