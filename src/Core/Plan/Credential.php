<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** What may be known of a secret without knowing it. */
final readonly class Credential
{
    public string $key;
    public string $owner;
    public string $purpose;
    public string $user;
    public bool $isDefault;
    public int $length;
    public ?string $weakness;
    public string $heldBy;
    public ?string $changedAt;

    private function __construct(Row $row)
    {
        $this->key = $row->text('key');
        $this->owner = $row->text('owner');
        $this->purpose = $row->text('purpose');
        $this->user = $row->text('user');
        $this->isDefault = 'default' === $row->text('state');
        $this->length = $row->int('length');
        $this->weakness = $row->textOrNull('weakness');
        $this->heldBy = $row->text('heldBy');
        $this->changedAt = $row->textOrNull('changedAt');
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }
}
