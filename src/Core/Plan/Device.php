<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Kind\Kind;

/** One box of the kit list. */
final readonly class Device
{
    /**
     * @param list<Nic>            $nics   in the order of the kind
     * @param array<string, Faced> $values hostName, firmware, transport, provisioning, provisioningUser
     */
    public function __construct(
        public string $key,
        public string $tag,
        public Kind $kind,
        public string $room,
        public string $serial,
        public ?string $controlledFrom,
        public bool $forwardsByDefault,
        public bool $stateful,
        public int $analoguePorts,
        public array $nics,
        private array $values,
        public int $position = 9999,
    ) {
    }

    public function value(string $field): Faced
    {
        return $this->values[$field] ?? new Faced();
    }

    /** The nic that carries its address: the first that is not a mere pass-through. */
    public function nic(): ?Nic
    {
        foreach ($this->nics as $nic) {
            if (!$nic->passive) {
                return $nic;
            }
        }

        return null;
    }
}
