<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** A number that rings several. */
final readonly class RingGroup
{
    /** @param list<string> $members numbers */
    private function __construct(
        public string $key,
        public string $number,
        public string $name,
        public string $pbx,
        public array $members,
        public string $order,
        public int $seconds,
        public string $otherwise,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('number'),
            $row->text('name'),
            $row->text('pbx'),
            $row->texts('members'),
            $row->text('order'),
            $row->int('seconds', 20),
            $row->text('otherwise'),
        );
    }
}
