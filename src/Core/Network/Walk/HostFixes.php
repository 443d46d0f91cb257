<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Text\Message;

/** What a host may have been told wrong: its plug, address, mask or gateway. */
final readonly class HostFixes
{
    public function __construct(private FixSearch $search)
    {
    }

    public function find(Host $host): void
    {
        $nic = str_starts_with($host->ref, 'nics/') ? $this->search->model->plan->nics[substr($host->ref, 5)] ?? null : null;
        if (null === $nic) {
            $segment = null !== OutpostKey::segment($host->ref) ? $this->search->model->segment($host->segment) : null;
            if (null !== $segment) {
                $this->gatewayOfAll($segment);
            }

            return;
        }
        $this->plug($host, $nic);
        $segment = $this->search->model->segment($host->segment);
        if (null === $segment) {
            return;
        }
        foreach (['address', 'mask', 'gateway'] as $name) {
            $this->addTypo($host, $nic, $segment, $name);
        }
        $this->mask($host, $nic, $segment);
        $this->gateway($host, $nic, $segment);
        $this->address($host, $nic, $segment);
    }

    /** The value set differs from the planned one. */
    private function addTypo(Host $host, Nic $nic, Segment $segment, string $name): void
    {
        $value = $nic->setting($name);
        $planned = $value->planned;
        $face = $this->search->model->face;
        if (Face::Planned === $face || null === $planned || $value->effective($face) === $planned) {
            return;
        }
        $address = Ipv4::tryFromString($planned);
        if ('address' === $name && (null === $address || !$segment->network->contains($address) || $segment->network->isEdge($address))) {
            return;
        }
        $text = '' === $planned ? new Message('blank') : $planned;
        $this->tell(FixRank::TYPED, $host, $nic, [$name => $planned], match ($name) {
            'address' => new Message('Give {host} the address {address}.', ['host' => $host->label, 'address' => $text]),
            'mask' => new Message('Give {host} the mask {mask} of its segment.', ['host' => $host->label, 'mask' => $text]),
            default => new Message('Give {host} the gateway {gateway}.', ['host' => $host->label, 'gateway' => $text]),
        });
    }

    /** Its address lives on another wire, and so does its gateway where it has a word of its own about that: one plug is wrong. */
    private function plug(Host $host, Nic $nic): void
    {
        $address = $host->ipv4();
        if (null === $address) {
            return;
        }
        $home = $this->search->model->plan->segmentAround($address);
        if (null === $home || $home->key === $host->segment || $home->network->isEdge($address)) {
            return;
        }
        $own = $nic->setting('gateway')->own($this->search->model->face) ?? $nic->setting('gateway')->own(Face::Planned);
        $gateway = Ipv4::tryFromString($own ?? '');
        $planned = $nic->plannedAddress();
        if (
            (null !== $gateway && !$home->network->contains($gateway))
            || (null !== $planned && !$home->network->contains($planned))
            || [] !== $this->search->model->holders($home->key, $address)
        ) {
            return;
        }
        $change = new Change(
            new Message('Plug {host} into {segment}, where its address {address} belongs.', [
                'host' => $host->label,
                'segment' => $home->name,
                'address' => (string) $host->address,
            ]),
            [Edit::put('nics', $nic->key, 'segment', $nic->segment, $home->key)],
        );
        $this->search->add(FixRank::PLUG, $change);
    }

    private function mask(Host $host, Nic $nic, Segment $segment): void
    {
        $mask = (string) $segment->network->mask;
        if ((string) $host->mask !== $mask) {
            $this->tell(FixRank::MASK, $host, $nic, ['mask' => $mask], new Message('Give {host} the mask {mask} of its segment.', [
                'host' => $host->label,
                'mask' => $mask,
            ]));
        }
    }

    private function gateway(Host $host, Nic $nic, Segment $segment): void
    {
        $ports = $this->portsOf($segment);
        $held = null !== $segment->gateway
            && [] !== array_filter($ports, static fn (RouterPort $port): bool => $port->address->equals($segment->gateway));
        $gateway = $held ? $segment->gateway : ($ports[0]->address ?? null);
        if (null === $gateway || (string) $gateway === $host->gateway) {
            return;
        }
        $isHome = null !== $host->address && $segment->network->contains($host->address);
        if ($isHome && ($held || null === $segment->gateway || (string) $segment->gateway !== $host->gateway)) {
            $this->tell(FixRank::GATEWAY, $host, $nic, ['gateway' => (string) $gateway], new Message('Give {host} the gateway {gateway}.', [
                'host' => $host->label,
                'gateway' => (string) $gateway,
            ]));
        }
        $this->gatewayOfAll($segment);
    }

    /** What the segment calls its gateway, no router holds: one of the two is wrong, and the odder number is it. */
    private function gatewayOfAll(Segment $segment): void
    {
        $gateway = $segment->gateway;
        $ports = $this->portsOf($segment);
        $port = $ports[0] ?? null;
        if (
            null === $gateway
            || null === $port
            || [] !== array_filter($ports, static fn (RouterPort $one): bool => $one->address->equals($gateway))
            || !$this->search->isNew('gateway of '.$segment->key)
        ) {
            return;
        }
        $network = $segment->network;
        $usual = static fn (Ipv4 $address): bool => $address->equals($network->firstHost()) || $address->equals($network->lastHost());
        if ($network->contains($gateway) && !$network->isEdge($gateway) && [] === $this->search->model->holders($segment->key, $gateway)) {
            $this->search->add(
                $usual($gateway) || !$usual($port->address) ? FixRank::PORT : FixRank::SEGMENT + 1,
                $this->search->portAt($port, $gateway, $port->mask),
            );
        }
        $this->search->add(FixRank::SEGMENT, new Change(
            new Message('Set the gateway of {segment} to {gateway}.', ['gateway' => (string) $port->address, 'segment' => $segment->name]),
            [Edit::put('segments', $segment->key, 'gateway', (string) $gateway, (string) $port->address)],
        ));
    }

    /** Another address: the digits put right where that can be told, else the next that is free. */
    private function address(Host $host, Nic $nic, Segment $segment): void
    {
        $free = FreeAddress::on($this->search->model->plan, $segment, $nic);
        $kind = $this->search->model->device($nic->device)->kind->code ?? '';
        $isHome = null !== $host->address
            && $segment->network->contains($host->address)
            && !$segment->network->isEdge($host->address)
            && null === $host->address->whyNotAHost();
        $held = $host->ipv4();
        if (!$isHome && null !== $held) {
            foreach (Transpositions::of($held) as $address) {
                if ($free->isFree($address)) {
                    $this->readdress(FixRank::DIGITS, $host, $nic, $segment, $address);
                }
            }
        }
        $shared = null !== $host->address && \count($this->search->model->holders($host->segment, $host->address)) > 1;
        $isAsked = null !== $host->address && true === $this->search->walk->destination?->equals($host->address);
        if ($isHome && !$shared && !$isAsked) {
            return;
        }
        $planned = $nic->plannedAddress();
        $address = null !== $planned && $free->isFree($planned) && (string) $planned !== (string) $host->address
            ? $planned
            : $free->next($kind) ?? $free->next('');
        if (null !== $address) {
            $this->readdress(FixRank::ADDRESS + ($isHome && !$this->givesWay($host, $segment) ? 1 : 0), $host, $nic, $segment, $address);
        }
    }

    /** Of two devices with one address: the one in the address block of another kind, else the later in the roster. */
    private function givesWay(Host $host, Segment $segment): bool
    {
        $last = null;
        if (null !== $host->address) {
            foreach ($this->search->model->holders($host->segment, $host->address) as $holder) {
                $device = $this->search->model->device($holder->device);
                $rank = [$this->isStray($holder, $segment) ? 1 : 0, $device->position ?? 0];
                if (str_starts_with($holder->ref, 'nics/') && (null === $last || $rank > $last[0])) {
                    $last = [$rank, $holder->ref];
                }
            }
        }

        return null === $last || $last[1] === $host->ref;
    }

    private function isStray(Host $host, Segment $segment): bool
    {
        $address = $host->ipv4();
        $kind = $this->search->model->device($host->device)->kind->code ?? '';
        $for = [];
        foreach ($segment->blocks as $block) {
            if (null !== $address && $block['range']->contains($address)) {
                $for[] = $block['for'];
            }
        }

        return [] !== $for && !\in_array($kind, $for, true);
    }

    private function readdress(int $rank, Host $host, Nic $nic, Segment $segment, Ipv4 $address): void
    {
        $mask = (string) $segment->network->mask;
        // What a port does not say itself it has from its segment as soon as it has an address.
        $isOwn = !$nic->setting('mask')->isEmpty();
        $given = new Host(
            $host->ref,
            $host->label,
            $host->device,
            $host->segment,
            $host->address,
            $isOwn ? $host->mask : $segment->network->mask,
            $nic->setting('gateway')->isEmpty() && false !== $this->search->model->device($nic->device)?->kind->port($nic->name)?->gateway
                ? $segment->dhcpValue('gateway')
                : $host->gateway,
        );
        $this->tell(
            $rank,
            $given,
            $nic,
            ['address' => (string) $address] + ((string) $given->mask === $mask ? [] : ['mask' => $mask]),
            new Message('Give {host} the address {address}.', ['host' => $host->label, 'address' => (string) $address]),
        );
    }

    /** @param array<string, string> $values */
    private function tell(int $rank, Host $host, Nic $nic, array $values, Message $why): void
    {
        $edits = [];
        foreach ($values as $name => $value) {
            if (null === $this->search->model->plan->settings()->definition(SettingRef::ofDeclared('nics', $nic->key, $name))) {
                // Its kind has no such setting.
                return;
            }
            $edits = [
                ...$edits,
                ...SettingChange::toHold($nic->record().'#'.$name, $nic->setting($name), $value, $this->search->model->face),
            ];
        }
        $edits = array_values(array_filter($edits, static fn (Edit $edit): bool => $edit->before !== $edit->after));
        if ([] === $edits) {
            return;
        }
        $this->search->add($rank, new Change($why, $edits), new Host(
            $host->ref,
            $host->label,
            $host->device,
            $host->segment,
            isset($values['address']) ? Ipv4::tryFromString($values['address']) : $host->address,
            isset($values['mask']) ? Mask::tryFromString($values['mask']) : $host->mask,
            $values['gateway'] ?? $host->gateway,
        ));
    }

    /** @return list<RouterPort> routers' interfaces that fit their segment */
    private function portsOf(Segment $segment): array
    {
        return array_values(array_filter(
            $this->search->model->plan->routerPortsOn($segment->key),
            static fn (RouterPort $port): bool => $segment->network->contains($port->address),
        ));
    }
}
