<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Mac;

/** One more terminal of a number, beside its phone: it stands with the same account, from a place of its own (RFC 3261 §10.2.1). */
final readonly class Terminal
{
    private function __construct(
        public string $key,
        public string $extension,
        public string $device,
        public ?Mac $macEntered,
        public ?string $enteredAt,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('extension'),
            $row->text('device'),
            Mac::tryFromString($row->text('macEntered')),
            $row->textOrNull('enteredAt'),
        );
    }

    public function record(): string
    {
        return 'terminals/'.$this->key;
    }
}
