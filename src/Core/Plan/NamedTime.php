<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Voice\Dialling\TimeFrame;

/** A time frame of the job with a name, to be pointed to. */
final readonly class NamedTime
{
    private function __construct(
        public string $key,
        public string $name,
        public TimeFrame $when,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('name'),
            TimeFrame::fromString($row->text('when')),
        );
    }
}
