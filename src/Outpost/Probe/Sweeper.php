<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Discovery\Answered;
use Vorhut\Core\Proof\Outcome;

use function Amp\async;
use function Amp\Future\await;

/**
 * Scans addresses, a limited number at a time: an accepted or refused connection means that the address is used. Only addresses permitted
 * for the place; the time is that of the silent ones divided by the sockets.
 */
final readonly class Sweeper
{
    public const SOCKETS = 128;
    public const PATIENCE = 0.7;

    public function __construct(
        private NetworkAccess $access,
        private int $sockets = self::SOCKETS,
        private float $patience = self::PATIENCE,
    ) {
    }

    /**
     * @param iterable<Ipv4>             $addresses
     * @param \Closure(int, int): mixed $told      hears now and then how many were asked and how many answered; false ends it
     *
     * @return list<Answered> by address
     */
    public function sweep(VantagePoint $place, iterable $addresses, Port $port, \Closure $told): array
    {
        $left = (static fn (): \Generator => yield from $addresses)();
        $asked = 0;
        $goesOn = true;
        /** @var list<Answered> $found */
        $found = [];
        $hands = [];
        for ($n = 0; $n < $this->sockets; ++$n) {
            $hands[] = async(function () use ($place, $left, $port, $told, &$asked, &$found, &$goesOn): void {
                while ($goesOn && $left->valid()) {
                    $address = $left->current();
                    $left->next();
                    if (!$place->mayAsk($address)) {
                        continue;
                    }
                    $one = $this->ask($place, $address, $port);
                    if (null !== $one) {
                        $found[] = $one;
                    }
                    if (0 === ++$asked % 64 && false === $told($asked, \count($found))) {
                        $goesOn = false;
                    }
                }
            });
        }
        await($hands);
        $told($asked, \count($found));
        usort($found, static fn (Answered $a, Answered $b): int => $a->address->number <=> $b->address->number);

        return $found;
    }

    private function ask(VantagePoint $place, Ipv4 $address, Port $port): ?Answered
    {
        $refused = false;
        try {
            $this->access->connect($place->address, $address, $port->number, $this->patience)->close();
        } catch (NoAnswer $e) {
            if (Outcome::Refuses !== $e->outcome && Outcome::BrokenOff !== $e->outcome) {
                return null;
            }
            $refused = true;
        }

        return new Answered($address, $refused, $this->access->holderOf($address));
    }
}
