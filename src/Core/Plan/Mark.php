<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Malformed;

/** What became of a step of a run sheet, and who said so. */
final readonly class Mark
{
    private function __construct(
        public string $key,
        public string $device,
        public string $step,
        public MarkState $state,
        public string $note,
        public string $by,
        public string $at,
        public string $way,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('device'),
            $row->text('step'),
            MarkState::tryFrom($row->text('state')) ?? throw new Malformed('The state of a mark is done, skipped, failed or blocked.'),
            $row->text('note'),
            $row->text('by'),
            $row->text('at'),
            $row->text('way'),
        );
    }

    public function isDone(): bool
    {
        return MarkState::Done === $this->state;
    }
}
