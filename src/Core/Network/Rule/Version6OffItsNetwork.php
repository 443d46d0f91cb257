<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\Network6;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Text\Message;

/** The recorded IPv6 settings contradict each other; a client with both kinds of address tries IPv6 first, and waits (RFC 6724 §2.1). */
final class Version6OffItsNetwork implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        /** @var array<string, array<string, list<array{string, string}>>> $held segment → address → record and name of who holds it */
        $held = [];
        foreach ($plan->routerPorts as $port) {
            $name = $plan->devices[$port->router]->tag ?? $port->router;
            $segment = $plan->segments[$port->segment] ?? null;
            foreach (array_filter([$port->address6, $port->local6]) as $address) {
                $held[$port->segment][(string) $address][] = ['devices/'.$port->router, $name];
            }
            if (null !== $segment && null !== $port->address6 && null !== $port->network6) {
                yield from self::off(
                    $segment,
                    $port->address6,
                    $port->network6,
                    $name,
                    ['devices/'.$port->router, 'routerPorts/'.$port->key],
                );
            }
        }
        foreach ($plan->nics as $nic) {
            $segment = $plan->segments[$nic->segment ?? ''] ?? null;
            if (null === $segment || null === $nic->address6 || null === $nic->network6) {
                continue;
            }
            $name = $plan->devices[$nic->device]->tag ?? $nic->device;
            $held[$segment->key][(string) $nic->address6][] = ['devices/'.$nic->device, $name];
            yield from self::off($segment, $nic->address6, $nic->network6, $name, ['devices/'.$nic->device, $nic->record()]);
        }
        foreach ($held as $there) {
            foreach ($there as $address => $holders) {
                if (\count($holders) > 1) {
                    yield self::twice((string) $address, $holders);
                }
            }
        }
        foreach ($plan->nics as $nic) {
            yield from self::gateway($plan, $nic, $held[$nic->segment ?? ''] ?? []);
        }
    }

    /**
     * @param list<string> $records
     *
     * @return iterable<Finding>
     */
    private static function off(Segment $segment, Ipv6 $address, Network6 $own, string $name, array $records): iterable
    {
        if (null === $segment->network6 || $segment->network6->equals($own)) {
            return;
        }
        yield new Finding(
            'ipv6-off-its-network',
            Severity::Risk,
            Stage::Networks,
            [...$records, 'segments/'.$segment->key],
            new Message('{name} has {address} in {own}, but {segment} is {network}.', [
                'name' => $name,
                'address' => (string) $address,
                'own' => (string) $own,
                'segment' => $segment->name,
                'network' => (string) $segment->network6,
            ]),
            new Message('Devices with both addresses are tried over IPv6 first, and each attempt times out.'),
            new Message('Compare with the administrator\'s values, and correct one of the two.'),
        );
    }

    /** @param non-empty-list<array{string, string}> $holders */
    private static function twice(string $address, array $holders): Finding
    {
        return new Finding(
            'ipv6-held-twice',
            Severity::Risk,
            Stage::Networks,
            array_values(array_unique(array_column($holders, 0))),
            new Message(
                '{names} have the same address, {address}, in one segment.',
                ['names' => implode(', ', array_column($holders, 1)), 'address' => $address],
            ),
            new Message('The second device detects the duplicate and gets no address (RFC 4862 §5.4).'),
            new Message('Give one of them another address.'),
        );
    }

    /**
     * @param array<string, list<array{string, string}>> $held
     *
     * @return iterable<Finding>
     */
    private static function gateway(Plan $plan, Nic $nic, array $held): iterable
    {
        if (null === $nic->address6 || null === $nic->gateway6 || isset($held[(string) $nic->gateway6])) {
            return;
        }
        $isThere = [] !== array_filter($plan->routerPortsOn($nic->segment ?? ''), static fn ($port): bool => null !== $port->address6);
        if (!$isThere) {
            // The plan has no IPv6 router there: it is the administrator's router.
            return;
        }
        yield new Finding(
            'ipv6-gateway-not-found',
            Severity::Risk,
            Stage::Networks,
            ['devices/'.$nic->device, $nic->record()],
            new Message('{name} has the IPv6 gateway {gateway}, but no router in its segment has this address.', [
                'name' => $plan->devices[$nic->device]->tag ?? $nic->device,
                'gateway' => (string) $nic->gateway6,
            ]),
            new Message('Its packets to other segments are lost.'),
            new Message('Compare with the router\'s own address.'),
        );
    }
}
