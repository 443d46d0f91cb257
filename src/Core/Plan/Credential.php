<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** What may be known of a secret without knowing it. */
final readonly class Credential
{
    private function __construct(
        public string $key,
        public string $owner,
        public string $purpose,
        public string $user,
        public bool $isDefault,
        public int $length,
        public ?string $weakness,
        public string $heldBy,
        public ?string $changedAt = null,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('owner'),
            $row->text('purpose'),
            $row->text('user'),
            'default' === $row->text('state'),
            $row->int('length'),
            $row->textOrNull('weakness'),
            $row->text('heldBy'),
            $row->textOrNull('changedAt'),
        );
    }
}
