<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Voice\Dialling\DigitMap;

/** Where a call goes that comes in by a trunk: by the called number as the far end sends it. The first that takes it counts. */
final readonly class InboundRoute
{
    private function __construct(
        public string $key,
        public string $trunk,
        public int $position,
        public DigitMap $map,
        public ?string $timeFrame,
        public string $to,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('trunk'),
            $row->int('position', 1),
            DigitMap::fromString($row->text('map')),
            $row->textOrNull('timeFrame'),
            $row->text('to'),
        );
    }
}
