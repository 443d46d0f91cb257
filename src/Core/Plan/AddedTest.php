<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** A test that a person added to those which the plan yields. */
final readonly class AddedTest
{
    private function __construct(
        public string $key,
        public string $what,
        public string $from,
        public string $to,
        public string $port,
        public bool $mustAnswer,
        public string $note,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('what'),
            $row->text('from'),
            $row->text('to'),
            $row->text('port'),
            'no-answer' !== $row->text('requires'),
            $row->text('note'),
        );
    }
}
