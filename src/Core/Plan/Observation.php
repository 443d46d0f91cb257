<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Text\Message;

/** What a probe or a person found: what, from where, when, on which basis the prediction then stood, and the raw evidence. */
final readonly class Observation
{
    /**
     * @param list<string> $basis   facts of the prediction at that time, as Facts::texts()
     * @param list<string> $evidence raw lines, as they came over the wire
     */
    private function __construct(
        public string $key,
        public string $test,
        public string $at,
        public string $by,
        public string $from,
        public string $outcome,
        public Message $detail,
        public array $basis,
        public array $evidence,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('test'),
            $row->text('at'),
            $row->text('by'),
            $row->text('from'),
            $row->text('outcome'),
            Message::fromStored($row->stored('detail')),
            $row->texts('basis'),
            $row->texts('evidence'),
        );
    }
}
