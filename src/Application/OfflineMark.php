<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\Row;

/** A mark that was made without a connection, as the browser kept it. */
final readonly class OfflineMark
{
    /** Characters of a note. */
    private const NOTE = 1000;

    /**
     * @param string    $id      the browser's own, returned with the answer
     * @param string    $at      when it was made, by the browser's clock
     * @param bool      $isFinal whether it replaces a mark that another person made
     * @param StepMark|null $mark null where the state is none that can be sent
     */
    private function __construct(
        public string $id,
        public string $device,
        public string $step,
        public string $at,
        public bool $isFinal,
        public ?StepMark $mark,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        $state = MarkState::tryFrom($row->text('state'));

        return new self(
            $row->text('id'),
            $row->text('device'),
            $row->text('step'),
            $row->text('at'),
            $row->bool('force'),
            null === $state || MarkState::Open === $state
                ? null
                : new StepMark($state, mb_substr(trim($row->text('note')), 0, self::NOTE)),
        );
    }
}
