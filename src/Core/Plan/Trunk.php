<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Ipv4;

/** A line between a PBX and a party that is not its extension: an outside provider, or another device of the job. */
final readonly class Trunk
{
    public string $key;
    public string $name;
    public string $pbx;
    public ?string $far;
    public ?Ipv4 $address;
    public int $port;
    public string $transport;
    public bool $registers;
    public string $user;
    public ?int $channels;
    /** @var list<string> as the far end prefers them, best first; empty if not set */
    public array $codecs;
    public string $callerId;
    public bool $emergency;

    private function __construct(Row $row)
    {
        $this->key = $row->text('key');
        $this->name = $row->text('name');
        $this->pbx = $row->text('pbx');
        $this->far = $row->textOrNull('far');
        $this->address = Ipv4::tryFromString($row->text('address'));
        $this->port = $row->int('port', 5060);
        $this->transport = '' === $row->text('transport') ? 'udp' : $row->text('transport');
        $this->registers = $row->bool('registers');
        $this->user = $row->text('user');
        $this->channels = $row->intOrNull('channels');
        $this->codecs = $row->texts('codecs');
        $this->callerId = $row->text('callerId');
        $this->emergency = $row->bool('emergency');
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }
}
