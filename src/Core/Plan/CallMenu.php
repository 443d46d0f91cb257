<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** A number at which a caller is told what to press. */
final readonly class CallMenu
{
    /** @param array<array-key, string> $choices key that is pressed → number it leads to */
    private function __construct(
        public string $key,
        public string $number,
        public string $name,
        public string $pbx,
        public string $says,
        public array $choices,
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
            $row->text('says'),
            array_column(array_map(static fn (string $one): array => explode(' ', $one, 2), $row->texts('choices')), 1, 0),
            $row->int('seconds', 10),
            $row->text('otherwise'),
        );
    }
}
