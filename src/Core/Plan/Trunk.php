<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Ipv4;

/** A line between a PBX and somebody who is not its extension: a provider outside, or another device of the job. */
final readonly class Trunk
{
    /** @param list<string> $codecs as the far end wants them, the first preferred; none where nobody said */
    private function __construct(
        public string $key,
        public string $name,
        public string $pbx,
        public ?string $far,
        public ?Ipv4 $address,
        public int $port,
        public string $transport,
        public bool $registers,
        public string $user,
        public ?int $channels,
        public array $codecs,
        public string $callerId,
        public bool $emergency,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('name'),
            $row->text('pbx'),
            $row->textOrNull('far'),
            Ipv4::tryFromString($row->text('address')),
            $row->int('port', 5060),
            '' === $row->text('transport') ? 'udp' : $row->text('transport'),
            $row->bool('registers'),
            $row->text('user'),
            $row->intOrNull('channels'),
            $row->texts('codecs'),
            $row->text('callerId'),
            $row->bool('emergency'),
        );
    }
}
