<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** A number of the PBX and the terminal it rings. */
final readonly class Extension
{
    private function __construct(
        public string $key,
        public string $number,
        public string $name,
        public ?string $pbx,
        public string $terminal,
        public ?string $phone,
        public bool $voicemail,
        public string $location,
        public bool $factoryMade,
        public string $callerId,
        public string $permission,
        public string $forwardAlways,
        public string $forwardBusy,
        public string $forwardUnanswered,
        public string $mail,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('number'),
            $row->text('name'),
            $row->textOrNull('pbx'),
            $row->text('terminal'),
            $row->textOrNull('phone'),
            $row->bool('voicemail'),
            $row->text('location'),
            $row->bool('factoryMade'),
            $row->text('callerId'),
            '' === $row->text('permission') ? 'international' : $row->text('permission'),
            $row->text('forwardAlways'),
            $row->text('forwardBusy'),
            $row->text('forwardUnanswered'),
            $row->text('mail'),
        );
    }
}
