<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Plan\MarkState;

/** A technician's report about one step of a run sheet, as it was typed. */
final readonly class StepMark
{
    /**
     * @param string                $note  the reason, where the state needs one
     * @param array<string, string> $typed name on the sheet → value as typed into the device, where the plan differs; `-` for blank
     * @param array<string, string> $read  name on the sheet → value as read off the device, also `mac` and `serial`; '' was not read
     * @param string                $way   code of the option that was used for the step
     */
    public function __construct(
        public MarkState $state,
        public string $note = '',
        public array $typed = [],
        public array $read = [],
        public string $way = '',
    ) {
    }

    public static function done(): self
    {
        return new self(MarkState::Done);
    }

    /**
     * The same mark with its values as they are stored.
     *
     * @param array<string, string> $typed
     * @param array<string, string> $read
     */
    public function withValues(array $typed, array $read, string $way): self
    {
        return new self($this->state, $this->note, $typed, $read, $way);
    }
}
