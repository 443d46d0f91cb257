<?php

declare(strict_types=1);

namespace Vorhut\Core\Allocation;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/**
 * Addresses that a job names although no port of it need hold them: gateways, servers, far ends of trunks, outposts. They are in use, so
 * none of them is given to a device.
 */
final class NamedAddresses
{
    private const DNS = '53/udp';
    private const NTP = '123/udp';
    private const SIP = '5060/udp';

    /** @return list<Ipv4> */
    public static function all(Plan $plan): array
    {
        return array_map(Ipv4::fromNumber(...), array_keys(self::of($plan)));
    }

    /**
     * What an address is named for, where a device of the job that holds it does not do that: two would then hold it.
     *
     * @return list<Message>
     */
    public static function besides(Plan $plan, Device $device, Ipv4 $address): array
    {
        $others = [];
        foreach (self::of($plan)[$address->number] ?? [] as [$use, $port]) {
            if ('' === $port || null === $device->service(Port::fromString($port))) {
                $others[] = $use;
            }
        }

        return $others;
    }

    /** @return array<int, list<array{Message, string}>> address → what it is named for, and the port at which a device serves that */
    private static function of(Plan $plan): array
    {
        return $plan->derived->once(self::class, 'named', static fn (): array => self::collect($plan));
    }

    /** @return array<int, list<array{Message, string}>> */
    private static function collect(Plan $plan): array
    {
        $named = [];
        foreach (self::uses($plan) as [$address, $use, $port]) {
            $address = \is_string($address) ? Ipv4::tryFromString($address) : $address;
            if (null !== $address) {
                $named[$address->number][] = [$use, $port];
            }
        }

        return $named;
    }

    /** @return iterable<array{Ipv4|string|null, Message, string}> */
    private static function uses(Plan $plan): iterable
    {
        yield [$plan->job->text('dns'), new Message('the DNS server of the job'), self::DNS];
        yield [$plan->job->text('ntp'), new Message('the time server of the job'), self::NTP];
        foreach ($plan->segments as $segment) {
            $at = ['segment' => $segment->name];
            yield [$segment->gateway, new Message('the gateway of {segment}', $at), ''];
            yield [$segment->dns, new Message('the DNS server of {segment}', $at), self::DNS];
            yield [$segment->outpost, new Message('the outpost on {segment}', $at), ''];
        }
        foreach ($plan->trunks as $trunk) {
            yield [$trunk->address, new Message('the far end of the trunk {trunk}', ['trunk' => $trunk->name]), self::SIP];
        }
        foreach ($plan->translations as $rule) {
            yield [$rule->address, new Message('the outside address of a translation'), ''];
        }
        foreach ($plan->routes as $route) {
            yield [$route->via, new Message('the next hop to {network}', ['network' => (string) $route->destination]), ''];
        }
    }
}
