<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Catalogue\FactoryMode;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;

/**
 * The address that a stand-in gets when it asks for one: the reserved one, if the reservation has its very MAC; else one that the laptop on
 * the bench serves; else what it falls back on; else one that it makes itself (RFC 3927).
 */
final readonly class AddressLease
{
    /**
     * @param array<string, SimulatedState> $states
     * @param list<Ipv4>                    $inUse  at which devices run now; a new address takes effect after a restart
     * @param bool                          $serves whether everybody who asks is served, reserved or not
     */
    public function __construct(private Plan $plan, private array $states, private array $inUse, private bool $serves)
    {
    }

    public function give(SimulatedState $state): void
    {
        $device = $this->plan->devices[$state->device];
        $asks = FactoryMode::LinkLocal !== $state->factory()->mode;
        if ($asks && $this->giveReserved($device, $state)) {
            return;
        }
        $free = $asks && $this->serves ? $this->freeFor($device) : null;
        if (null === $free) {
            $this->fallBack($state);

            return;
        }
        $state->put('address', (string) $free);
        $state->put('mask', (string) $this->plan->segmentOf($device)?->network->mask);
    }

    private function giveReserved(Device $device, SimulatedState $state): bool
    {
        $nic = $device->nic();
        if (true !== $nic?->reserved || null === $nic->segment || ($nic->mac->digits ?? '') !== $state->mac) {
            return false;
        }
        foreach (['address', 'mask', 'gateway', 'dns'] as $name) {
            $state->put($name, $nic->setting($name)->planned ?? '');
        }

        return true;
    }

    private function fallBack(SimulatedState $state): void
    {
        $factory = $state->factory();
        $own = null !== $factory->address && FactoryMode::DhcpThenFixed === $factory->mode;
        $made = crc32($state->mac);
        $state->put('address', $own ? (string) $factory->address : \sprintf('169.254.%d.%d', 1 + $made % 254, ($made >> 8) % 254 + 1));
        $state->put('mask', $own ? (string) $factory->mask : '/16');
        $state->put('gateway', '');
    }

    /** A temporary address: any free one, until its own is typed. */
    private function freeFor(Device $device): ?Ipv4
    {
        $segment = $this->plan->segmentOf($device);
        if (null === $segment || true === $device->nic()?->reserved) {
            return null;
        }
        $free = FreeAddress::on($this->plan, $segment);
        foreach ($this->inUse as $address) {
            $free->take($address);
        }
        foreach ($this->states as $state) {
            $held = $state->device === $device->key ? null : Ipv4::tryFromString($state->get('address'));
            if (null !== $held) {
                $free->take($held);
            }
        }

        return $free->next($device->kind->code);
    }
}
