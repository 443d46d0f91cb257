<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Discovery;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\Device;

/** What a sweep says of one address. */
final readonly class SweepLine implements \JsonSerializable
{
    /**
     * @param Device|null $device   the device found there, if known
     * @param Device|null $expected the device planned there
     */
    public function __construct(
        public Ipv4 $address,
        public SweepVerdict $verdict,
        public ?Device $device,
        public ?Device $expected,
        public ?Mac $mac,
    ) {
    }

    /** @return array<string, string|null> */
    public function jsonSerialize(): array
    {
        return [
            'address' => (string) $this->address,
            'verdict' => $this->verdict->value,
            'device' => $this->device?->tag,
            'expected' => $this->expected?->tag,
            'mac' => null === $this->mac ? null : (string) $this->mac,
        ];
    }
}
