<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** A number of the PBX and the terminal it rings. */
final readonly class Extension
{
    public string $key;
    public string $number;
    public string $name;
    public ?string $pbx;
    public string $terminal;
    public ?string $phone;
    public bool $voicemail;
    public string $location;
    public bool $factoryMade;
    public string $callerId;
    public string $permission;
    public string $forwardAlways;
    public string $forwardBusy;
    public string $forwardUnanswered;
    public string $mail;

    private function __construct(Row $row)
    {
        $this->key = $row->text('key');
        $this->number = $row->text('number');
        $this->name = $row->text('name');
        $this->pbx = $row->textOrNull('pbx');
        $this->terminal = $row->text('terminal');
        $this->phone = $row->textOrNull('phone');
        $this->voicemail = $row->bool('voicemail');
        $this->location = $row->text('location');
        $this->factoryMade = $row->bool('factoryMade');
        $this->callerId = $row->text('callerId');
        $this->permission = '' === $row->text('permission') ? 'international' : $row->text('permission');
        $this->forwardAlways = $row->text('forwardAlways');
        $this->forwardBusy = $row->text('forwardBusy');
        $this->forwardUnanswered = $row->text('forwardUnanswered');
        $this->mail = $row->text('mail');
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }
}
