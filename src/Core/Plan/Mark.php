<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Malformed;

/** What became of a step of a run sheet, and who said so. */
final readonly class Mark
{
    public string $key;
    public string $device;
    public string $step;
    public MarkState $state;
    public string $note;
    public string $by;
    public string $at;
    public string $way;

    private function __construct(Row $row)
    {
        $this->key = $row->text('key');
        $this->device = $row->text('device');
        $this->step = $row->text('step');
        $this->state = MarkState::tryFrom($row->text('state'))
            ?? throw new Malformed('The state of a mark is done, skipped, failed or blocked.');
        $this->note = $row->text('note');
        $this->by = $row->text('by');
        $this->at = $row->text('at');
        $this->way = $row->text('way');
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }

    public function isDone(): bool
    {
        return MarkState::Done === $this->state;
    }
}
