<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Plan\Facts;

/** Which of a device's interfaces is meant, and which one it sends from. */
final class InterfaceChoice
{
    /**
     * The one that a walk names: on a wire that both share, else one with a gateway, else one with an address.
     *
     * @param list<Host> $hosts
     * @param list<Host> $peers
     */
    public static function between(array $hosts, array $peers): ?Host
    {
        if (\count($hosts) < 2) {
            return $hosts[0] ?? null;
        }
        $shared = array_map(static fn (Host $peer): string => $peer->segment, $peers);
        $rank = static fn (Host $host): int => ($host->isFurther ? 16 : 0)
            + (null === $host->address ? 8 : 0)
            + (\in_array($host->segment, $shared, true) ? 0 : 4)
            + (null === $host->gatewayAddress ? 2 : 0);
        usort($hosts, static fn (Host $a, Host $b): int => $rank($a) <=> $rank($b));

        return $hosts[0];
    }

    /**
     * The one that the sender's own table picks: with the narrowest network that holds the target, else with a gateway.
     *
     * @param list<Host> $own
     *
     * @return Host|null null if two interfaces match equally: the choice is left to chance
     */
    public static function egress(array $own, Host $named, Address $destination, Facts $facts): ?Host
    {
        if (\count($own) < 2 || $named->forwards) {
            return $named;
        }
        $connected = $gated = [];
        foreach ($own as $host) {
            $host->note($facts, 'address', 'mask', 'gateway');
            if ('' === $host->segment || null === $host->address) {
                continue;
            }
            if (true === $host->network?->contains($destination)) {
                $connected[$host->network->prefix()][] = $host;
            }
            if (null !== $host->gatewayAddress) {
                // If a port has several addresses, the one in the gateway's network is used as the source (RFC 6724 §5 rule 2 by analogy).
                $gated[true === $host->network?->contains($host->gatewayAddress) ? 0 : 1][] = $host;
            }
        }
        krsort($connected);
        ksort($gated);
        $nearest = reset($connected) ?: (reset($gated) ?: [$named]);
        $segments = array_unique(array_map(static fn (Host $host): string => $host->segment, $nearest));

        return 1 === \count($segments) ? $nearest[0] : null;
    }
}
