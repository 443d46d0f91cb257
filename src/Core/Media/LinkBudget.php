<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Lighting\Patch;
use Vorhut\Core\Lighting\Universe;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Stream;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Quality;

/**
 * Every link of a job in each direction, with all that goes over it: streams, light, music from outside, calls of the busy hour, the
 * chatter of control.
 * Unicast goes once for each receiver; multicast once where every switch on the way looks who wants it, else to every port of its
 * network.
 */
final readonly class LinkBudget implements \JsonSerializable
{
    /** Of a link, for control programs, discovery, time and all that is small. */
    private const CHATTER = 0.01;
    /** One call at once for so many phones (handbook of the trade: one in four). */
    private const PHONES_A_CALL = 4;

    /**
     * @param list<LinkLoad>            $links  the fullest first
     * @param list<array{string, string}> $lost   stream and receiver that no cable joins
     * @param array<string, StreamRate> $rates  by stream
     * @param float                     $pushed Mbit/s that leave the site
     */
    private function __construct(
        public array $links,
        public array $lost,
        public array $rates,
        public float $pushed,
        public Headroom $headroom,
    ) {
    }

    public static function of(Plan $plan, Face $face = Face::Set): self
    {
        $headroom = Headroom::of($plan->job->int('headroom', Headroom::SCHOOLS[0]));
        $cabling = Cabling::of($plan);
        $routers = self::routers($plan, $cabling);
        $parts = $hops = $rates = $lost = [];
        $pushed = 0.0;
        foreach (PlannedStreams::of($plan, $face) as $stream) {
            $rate = $rates[$stream->key] = StreamRate::of($plan, $stream, $face);
            $pushed += $stream->outside ? $rate->mbps() : 0.0;
            [$over, $missed] = self::hopsOf($plan, $cabling, $stream, $routers, $face);
            foreach ($missed as $receiver) {
                $lost[] = [$stream->key, $receiver];
            }
            foreach ($over as $key => [$hop, $times]) {
                $hops[$key] = $hop;
                $parts[$key][] = [
                    'name' => $times > 1 ? $stream->name.' × '.$times : $stream->name,
                    'mbps' => $rate->mbps() * $times,
                    'ref' => PlannedStreams::recordOf($plan, $stream),
                ];
            }
        }
        foreach (self::light($plan, $cabling, $face) as $key => [$hop, $universes]) {
            $hops[$key] = $hop;
            $parts[$key][] = ['name' => 'light', 'mbps' => Universe::mbps($universes), 'ref' => ''];
        }
        foreach (self::addPlayback($plan, $cabling, $routers) as $key => [$hop, $mbps]) {
            $hops[$key] = $hop;
            $parts[$key][] = ['name' => 'music and the like', 'mbps' => $mbps, 'ref' => ''];
        }
        foreach (self::phonesBehind($plan, $cabling) as $key => [$hop, $phones]) {
            $hops[$key] = $hop;
            $parts[$key][] = [
                'name' => 'calls',
                'mbps' => ceil($phones / self::PHONES_A_CALL) * Quality::rate('G.711')['ethernet'] / 1000,
                'ref' => '',
            ];
        }
        $links = [];
        foreach ($hops as $key => $hop) {
            $parts[$key][] = ['name' => 'control', 'mbps' => self::CHATTER * ($hop->cable->mbps ?? Cabling::USUAL_MBPS), 'ref' => ''];
            $links[] = LinkLoad::of(
                $hop,
                $plan->devices[$hop->from]->tag,
                $plan->devices[$hop->to]->tag,
                $parts[$key],
                $headroom,
            );
        }
        usort($links, static fn (LinkLoad $a, LinkLoad $b): int => [$b->share(), $a->from, $a->to] <=> [$a->share(), $b->from, $b->to]);

        return new self($links, $lost, $rates, $pushed, $headroom);
    }

    /** As it would be with a stream so many times more; nothing is entered. */
    public static function withMore(Plan $plan, string $stream, int $times, Face $face = Face::Set): self
    {
        $row = $plan->row('streams', $stream) ?? [];
        $edits = [];
        for ($i = 1; $i <= $times; ++$i) {
            $edits[] = Edit::add('streams', ['key' => "$stream.more.$i"] + $row);
            foreach ($plan->streams[$stream]->receivers ?? [] as $receiver) {
                $edits[] = Edit::add(
                    'deliveries',
                    ['key' => "$stream.more.$i.$receiver", 'stream' => "$stream.more.$i", 'device' => $receiver],
                );
            }
        }

        return self::of($plan->with(new Change(new Message('One more.'), $edits)), $face);
    }

    /** @return list<string> routers that a cable leads to: outbound traffic uses the first one that it reaches */
    private static function routers(Plan $plan, Cabling $cabling): array
    {
        return array_values(array_map(static fn (Device $one): string => $one->key, array_filter(
            $plan->devices,
            static fn (Device $one): bool => $one->kind->has(Role::Forwards) && $cabling->has($one->key),
        )));
    }

    public function link(string $key): ?LinkLoad
    {
        foreach ($this->links as $link) {
            if ($link->key === $key) {
                return $link;
            }
        }

        return null;
    }

    /**
     * @param list<string> $routers
     *
     * @return array{array<string, array{LinkHop, int}>, list<string>} what it goes over and how often, and receivers that no cable leads to
     */
    private static function hopsOf(Plan $plan, Cabling $cabling, Stream $stream, array $routers, Face $face): array
    {
        [$over, $missed] = self::spread($plan, $cabling, $stream->sender, $stream->receivers, $stream->multicast, $face);
        if ($stream->outside) {
            foreach ($routers as $router) {
                $way = $cabling->way($stream->sender, $router);
                foreach ($way ?? [] as $hop) {
                    $over[$hop->key()] = [$hop, ($over[$hop->key()][1] ?? 0) + 1];
                }
                if (null !== $way) {
                    break;
                }
            }
        }

        return [$over, $missed];
    }

    /**
     * @param list<string> $receivers
     *
     * @return array{array<string, array{LinkHop, int}>, list<string>} what it goes over and how often, and receivers that no cable leads to
     */
    private static function spread(Plan $plan, Cabling $cabling, string $sender, array $receivers, bool $multicast, Face $face): array
    {
        $over = $missed = [];
        foreach ($receivers as $receiver) {
            $way = $cabling->way($sender, $receiver);
            if (null === $way) {
                $missed[] = $receiver;
            }
            foreach ($way ?? [] as $hop) {
                $times = ($over[$hop->key()][1] ?? 0) + 1;
                $over[$hop->key()] = [$hop, $multicast ? 1 : $times];
            }
        }

        if (!$multicast || !$cabling->has($sender)) {
            return [$over, $missed];
        }
        // A switch with IGMP snooping forwards every group to multicast routers as well (RFC 4541 §2.1.2).
        foreach (self::multicastRouters($plan, $sender) as $router) {
            foreach ($cabling->way($sender, $router) ?? [] as $hop) {
                $over[$hop->key()] ??= [$hop, 1];
            }
        }

        return [self::addFlooding($plan, $cabling, $sender, $over, $face), $missed];
    }

    /** @return list<string> routers that route groups from the segment of a sender */
    private static function multicastRouters(Plan $plan, string $sender): array
    {
        $routers = [];
        foreach ($plan->routerPortsOn($plan->devices[$sender]->nic()->segment ?? '') as $port) {
            if ($port->multicast) {
                $routers[$port->router] = $port->router;
            }
        }

        return array_values($routers);
    }

    /**
     * Each universe is sent to its own multicast group (ANSI E1.31 §9.3.1), by every sender that has it, whichever one wins.
     *
     * @return array<string, array{LinkHop, int}> link → how many universes go over it
     */
    private static function light(Plan $plan, Cabling $cabling, Face $face): array
    {
        $light = [];
        foreach (Patch::of($plan, $face)->universes as $universe) {
            $receivers = array_map(static fn (array $one): string => $one[0]->key, $universe->receivers);
            foreach ($universe->senders as [$sender]) {
                foreach (self::spread($plan, $cabling, $sender->key, $receivers, true, $face)[0] as $key => [$hop]) {
                    $light[$key] = [$hop, ($light[$key][1] ?? 0) + 1];
                }
            }
        }

        return $light;
    }

    /**
     * A switch that does not look sends a group to every port of its network (RFC 4541 §2.1.2).
     *
     * @param array<string, array{LinkHop, int}> $wanted
     *
     * @return array<string, array{LinkHop, int}>
     */
    private static function addFlooding(Plan $plan, Cabling $cabling, string $sender, array $wanted, Face $face): array
    {
        $segment = $plan->devices[$sender]->nic()?->segment;
        $over = $wanted;
        for ($queue = [[$sender, '']], $i = 0; $i < \count($queue); ++$i) {
            [$here, $came] = $queue[$i];
            $device = $plan->devices[$here];
            $looks = !$device->kind->has(Role::Switches)
                || (null !== $device->kind->setting('snooping') && 'yes' === $device->setting('snooping')->effective($face));
            foreach ($cabling->near($here) as [$there, $cable]) {
                if ($cable->key === $came) {
                    continue;
                }
                $hop = new LinkHop($cable, $here, $there);
                $other = $plan->devices[$there];
                $isHeard = $other->kind->has(Role::Switches) || $other->nic()?->segment === $segment;
                if (isset($wanted[$hop->key()]) || ($here === $sender) || (!$looks && $isHeard)) {
                    $over[$hop->key()] ??= [$hop, 1];
                    // A device forwards nothing; traffic that reaches a switch is followed from there.
                    if ($other->kind->has(Role::Switches)) {
                        $queue[] = [$there, $cable->key];
                    }
                }
            }
        }

        return $over;
    }

    /**
     * What devices take from outside while they play: from the router to each of them.
     *
     * @param list<string> $routers
     *
     * @return array<string, array{LinkHop, float}> link → Mbit/s
     */
    private static function addPlayback(Plan $plan, Cabling $cabling, array $routers): array
    {
        $fetched = [];
        foreach ($plan->devices as $device) {
            if (null !== $device->kind->fetches) {
                foreach ($routers as $router) {
                    $way = $cabling->way($router, $device->key);
                    foreach ($way ?? [] as $hop) {
                        $fetched[$hop->key()] = [$hop, ($fetched[$hop->key()][1] ?? 0.0) + $device->kind->fetches / 1000];
                    }
                    if (null !== $way) {
                        break;
                    }
                }
            }
        }

        return $fetched;
    }

    /** @return array<string, array{LinkHop, int}> link → how many phones speak over it, each way */
    private static function phonesBehind(Plan $plan, Cabling $cabling): array
    {
        $behind = [];
        foreach ($plan->extensions as $extension) {
            if (null !== $extension->pbx) {
                foreach ($plan->ringing($extension) as $phone) {
                    foreach ($cabling->way($phone, (string) $extension->pbx) ?? [] as $hop) {
                        foreach ([$hop, new LinkHop($hop->cable, $hop->to, $hop->from)] as $one) {
                            $behind[$one->key()] = [$one, ($behind[$one->key()][1] ?? 0) + 1];
                        }
                    }
                }
            }
        }

        return $behind;
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'keep' => $this->headroom->percent,
            'pushedMbps' => round($this->pushed, 3),
            'links' => $this->links,
            'lost' => $this->lost,
        ];
    }
}
