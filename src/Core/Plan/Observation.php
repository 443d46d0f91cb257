<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** What a probe or a person found: what, from where, when, on which ground the prediction then stood, and the raw evidence. */
final readonly class Observation
{
    /**
     * @param list<string> $ground   facts of the prediction at that time, as Facts::texts()
     * @param list<string> $evidence raw lines, as they came over the wire
     */
    private function __construct(
        public string $key,
        public string $line,
        public string $at,
        public string $by,
        public string $from,
        public string $outcome,
        public string $detail,
        public array $ground,
        public array $evidence,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('line'),
            $row->text('at'),
            $row->text('by'),
            $row->text('from'),
            $row->text('outcome'),
            $row->text('detail'),
            $row->texts('ground'),
            $row->texts('evidence'),
        );
    }
}
