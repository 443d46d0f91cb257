<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Audio\SoundNetwork;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Ptp\Announce;

/** Listens on a network for sound who says that its clock leads (IEEE 1588-2008 §9.3). */
final readonly class ClockListener
{
    /** Who leads says so every second or two; one that was not heard so long is gone (§9.2.6.11, default profile). */
    private const SECONDS = 7.0;
    private const SECONDS_IN_THE_LAB = 2.5;
    /** So many are told apart: who makes up more of them is heard all the same. */
    private const VOICES = 64;

    public function __construct(private NetworkAccess $access)
    {
    }

    /** @throws NoAnswer if it is impossible to listen there */
    public function hear(VantagePoint $place, Plan $plan, ProofTest $test): Evidence
    {
        $socket = $this->access->listen($place, Ipv4::fromString(Announce::GROUP), Announce::PORT);
        /** @var array<string, array{announce: Announce, from: Ipv4, count: int}> $heard identity → announcements received */
        $heard = [];
        $seconds = $this->access->isOnSite() ? self::SECONDS : self::SECONDS_IN_THE_LAB;
        try {
            for ($until = microtime(true) + $seconds; ($left = $until - microtime(true)) > 0;) {
                $received = $socket->receive($left);
                $announce = null === $received ? null : Announce::tryFromString($received[2]);
                $key = null === $announce ? '' : $announce->domain.' '.bin2hex($announce->clock);
                if (null !== $received && null !== $announce && (isset($heard[$key]) || \count($heard) < self::VOICES)) {
                    $heard[$key] = ['announce' => $announce, 'from' => $received[0], 'count' => 1 + ($heard[$key]['count'] ?? 0)];
                }
            }
        } finally {
            $socket->close();
        }

        return $this->judge($plan, $test, array_values($heard), $seconds);
    }

    /** @param list<array{announce: Announce, from: Ipv4, count: int}> $heard */
    private function judge(Plan $plan, ProofTest $test, array $heard, float $seconds): Evidence
    {
        $log = array_map(static fn (array $one): string => \sprintf(
            'domain %d: %s at %s leads, clock of %s, priority %d/%d, class %d, %d steps away, %d times in %.1f s',
            $one['announce']->domain,
            bin2hex($one['announce']->clock),
            $one['from'],
            bin2hex($one['announce']->grandmaster),
            $one['announce']->priority1,
            $one['announce']->priority2,
            $one['announce']->class,
            $one['announce']->stepsRemoved,
            $one['count'],
            $seconds,
        ), $heard);
        $first = $heard[0] ?? null;
        if (null === $first) {
            return new Evidence(Outcome::Silent, new Message('no clock leader was heard in {n} s', ['n' => (int) ceil($seconds)]));
        }
        $whose = new SenderLookup($this->access);
        $at = [
            'who' => $whose->name($plan, $first['from']),
            'clock' => bin2hex($first['announce']->grandmaster),
            'all' => implode(', ', array_map(static fn (array $one): string => $whose->name($plan, $one['from']), $heard)),
            'priority' => $first['announce']->priority1,
        ];
        $isMeant = false;
        foreach (SoundNetwork::all($plan) as $network) {
            if ($network->segment === $test->called) {
                foreach ($network->mayLead() as $device) {
                    $mac = $device->nic()?->mac;
                    $isMeant = $isMeant || $whose->isAt($device, $first['from'])
                        || (null !== $mac && Announce::identity($mac) === $first['announce']->clock);
                }
            }
        }

        return new Evidence(...match (true) {
            \count($heard) > 1 => [Outcome::OtherHeard, new Message('{all} all say that their clock leads', $at)],
            !$isMeant => [Outcome::OtherHeard, new Message('{who} leads, and was not meant', $at)],
            default => [Outcome::Heard, new Message('{who} leads with clock {clock}, priority {priority}', $at)],
        }, lines: $log);
    }
}
