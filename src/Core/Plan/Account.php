<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Mac;

/** A registration account at a registrar: the entry that must exist there before the phone is provisioned. */
final readonly class Account
{
    /** @param Settings $settings what the phone is told for this account, by name */
    private function __construct(
        public string $key,
        public string $extension,
        public string $registrar,
        public string $user,
        public ?Mac $macEntered,
        public ?string $enteredAt,
        private Settings $settings,
    ) {
    }

    public function setting(string $name): TrackedValue
    {
        return $this->settings->get($name);
    }

    public function record(): string
    {
        return 'accounts/'.$this->key;
    }

    public static function fromRow(Row $row, Settings $settings): self
    {
        return new self(
            $row->text('key'),
            $row->text('extension'),
            $row->text('registrar'),
            $row->text('user'),
            Mac::tryFromString($row->text('macEntered')),
            $row->textOrNull('enteredAt'),
            $settings,
        );
    }
}
