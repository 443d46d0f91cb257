<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/**
 * The value of a setting with its three faces. Null means not known; an empty text means left blank on purpose or found blank: a gateway
 * that was never typed in is a different fact from one that was never checked.
 */
final readonly class TrackedValue
{
    /**
     * @param bool        $inherited `planned` is not this setting's own word: its segment, the job or its kind says so
     * @param string|null $odd       the device's own value, if this setting cannot have it: kept unchanged, apart from valid readings
     */
    public function __construct(
        public ?string $planned = null,
        public ?string $set = null,
        public ?string $seen = null,
        public ?string $setBy = null,
        public ?string $setAt = null,
        public ?string $seenBy = null,
        public ?string $seenAt = null,
        public bool $inherited = false,
        public ?string $odd = null,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->textOrNull('planned'),
            $row->textOrNull('set'),
            $row->textOrNull('seen'),
            $row->textOrNull('setBy'),
            $row->textOrNull('setAt'),
            $row->textOrNull('seenBy'),
            $row->textOrNull('seenAt'),
            false,
            $row->textOrNull('odd'),
        );
    }

    /** What the device is taken to hold when asked about a face: the nearest one known, falling back towards the plan. */
    public function effective(Face $face): ?string
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

    /** The stored value of this setting: the one that an edit expects to find. */
    public function own(Face $face): ?string
    {
        return Face::Planned === $face && $this->inherited ? null : $this->face($face);
    }

    /** The same value, with the inherited one where the plan has none. */
    public function withDefault(?string $planned): self
    {
        return null !== $this->planned || null === $planned
            ? $this
            : new self($planned, $this->set, $this->seen, $this->setBy, $this->setAt, $this->seenBy, $this->seenAt, true, $this->odd);
    }

    public function isEmpty(): bool
    {
        return null === $this->own(Face::Planned) && null === ($this->set ?? $this->seen ?? $this->odd);
    }

    public function setDiffers(): bool
    {
        return null !== $this->set && null !== $this->planned && $this->set !== $this->planned;
    }

    public function seenDiffers(): bool
    {
        return null !== $this->seen && !$this->isOnlySeen() && $this->seen !== ($this->set ?? $this->planned);
    }

    /** Whether there is nothing that the seen value could be compared with. */
    public function isOnlySeen(): bool
    {
        return null !== $this->seen && null === ($this->set ?? $this->planned);
    }
}
