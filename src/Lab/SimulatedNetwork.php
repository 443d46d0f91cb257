<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Bench\BenchSegment;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Network\Walk\EgressResult;
use Vorhut\Core\Network\Walk\Fault;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Translator;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Network\Walk\WirelessAccess;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\TranslationKind;
use Vorhut\Socket\Loopback;

/**
 * Which stand-ins reach each other in the lab: walks from their actual settings, through the job's routers and filters. Every datagram and
 * every connection is checked here before it is delivered; packets that would be lost on site are lost here.
 */
final class SimulatedNetwork
{
    private NetworkModel $model;
    /** @var array<string, bool> devices on a bad line */
    private array $lossy = [];
    /** @var array<string, string> site address → `DEVICE` or `outposts/SEGMENT`, the first that holds it */
    private array $names = [];
    /** @var array<int, string> loopback twin → site address */
    private array $twins = [];
    /** @var array<string, bool> */
    private array $passed = [];
    /** @var array<string, Ipv4|null> sender, receiver and port → the address it arrives with, where that is not its own */
    private array $seenAs = [];
    /** @var array<string, EgressResult> sender, receiver outside and port → how it leaves */
    private array $departures = [];
    /** @var array<string, float> flows that went through, with their time: their answers are known to a filter that keeps state */
    private array $flows = [];

    /** @param array<string, SimulatedState> $states by device */
    public function __construct(Plan $plan, array $states, public readonly Loopback $loopback = new Loopback())
    {
        $this->rewire($plan, $states);
    }

    private const OUTSIDE = 'outside/';

    /**
     * @param array<string, SimulatedState> $states
     * @param BenchSegment|null             $bench  what the laptop on the bench is set for
     */
    public function rewire(Plan $plan, array $states, ?BenchSegment $bench = null): void
    {
        $sections = [];
        foreach (['segments', 'devices', 'nics', 'routerPorts', 'routes', 'routes6', 'filters', 'translations'] as $section) {
            $sections[$section] = $plan->rows($section);
        }
        $sections['segments'] = [...$sections['segments'], ...(null === $bench ? [] : [$bench->row()])];
        foreach ($sections['nics'] as $i => $row) {
            $device = \is_string($row['device'] ?? null) ? $row['device'] : '';
            if (true === ($states[$device] ?? null)?->onBench) {
                $sections['nics'][$i]['segment'] = null === $bench ? null : BenchSegment::KEY;
            }
        }
        $sections['settings'] = [];
        foreach ($plan->devices as $device) {
            $state = $states[$device->key] ?? null;
            foreach ($device->activeNics() as $nic) {
                foreach (['address', 'mask', 'gateway'] as $name) {
                    // The laptop is the technician's own: it is where the plan has it.
                    $held = match (true) {
                        $device->kind->has(Role::Workstation) => $nic->setting($name)->effective(Face::Set),
                        true === $state?->powered => $state->get($nic->name.'.'.$name),
                        default => '',
                    };
                    $sections['settings'][] = ['key' => $nic->record().'#'.$name, 'planned' => $held ?? ''];
                }
            }
        }
        array_push($sections['settings'], ...self::wirelessSettings($plan, $states));
        $this->model = NetworkModel::of(Plan::of($plan->jobRow(), $sections, $plan->catalogue), Face::Planned);
        $this->names = $this->twins = $this->passed = $this->seenAs = $this->departures = [];
        $this->lossy = array_filter(array_map(
            static fn (SimulatedState $state): bool => $state->isFaulty(InjectedFault::LossyLine),
            $states,
        ));
        foreach ($plan->devices as $device) {
            foreach ($this->model->hostsOf($device->key) as $host) {
                $this->name($host->ipv4(), $device->key);
            }
        }
        foreach ([...array_keys($plan->segments), BenchSegment::KEY] as $segment) {
            $this->name($this->model->outpost((string) $segment)?->ipv4(), OutpostKey::on($segment));
        }
        foreach ($plan->trunks as $trunk) {
            if (null === $trunk->far) {
                $this->name($trunk->address, self::OUTSIDE.$trunk->address);
            }
        }
    }

    /**
     * The settings that Wi-Fi access depends on, as the stand-ins hold them.
     *
     * @param array<string, SimulatedState> $states
     *
     * @return list<array{key: string, planned: string}>
     */
    private static function wirelessSettings(Plan $plan, array $states): array
    {
        $rows = [];
        foreach ($plan->devices as $device) {
            foreach (WirelessAccess::READS as $name) {
                $state = null === $device->kind->setting($name) ? null : $states[$device->key] ?? null;
                if (true === $state?->powered) {
                    $rows[] = ['key' => $device->record().'#'.$name, 'planned' => $state->get($name)];
                }
            }
        }

        return $rows;
    }

    /** Whether a datagram of sound that a device sends is lost on its line: each seventh, where the line is bad. */
    public function loses(string $device, int $count): bool
    {
        return isset($this->lossy[$device]) && 0 === $count % 7;
    }

    /** The site address behind a loopback peer; null for a guest of the lab. */
    public function siteOf(Ipv4 $peer): ?Ipv4
    {
        return isset($this->twins[$peer->number]) ? Ipv4::fromString($this->twins[$peer->number]) : null;
    }

    /** The address of the tester in a segment. */
    public function outpostOn(string $segment): ?Ipv4
    {
        return $this->model->outpost($segment)?->ipv4();
    }

    /** `DEVICE` or `outposts/SEGMENT` that holds an address of the site. */
    public function nameOf(Ipv4 $site): ?string
    {
        return $this->names[(string) $site] ?? null;
    }

    public function isOutside(?string $name): bool
    {
        return null !== $name && str_starts_with($name, self::OUTSIDE);
    }

    /** The name of an outside party here. */
    public static function outside(Ipv4 $address): string
    {
        return self::OUTSIDE.$address;
    }

    /** @param string $name device key, or `outposts/SEGMENT` */
    public function holds(string $name, Ipv4 $address): bool
    {
        $segment = $this->segmentOfOutpost($name);
        foreach (null === $segment ? $this->model->hostsOf($name) : [$this->model->outpost($segment)] as $host) {
            if (true === $host?->address?->equals($address)) {
                return true;
            }
        }

        return false;
    }

    /** How a datagram leaves for the outside: the source address that it has there; null if no reply could return. */
    public function leaves(string $device, Ipv4 $outside, int $toPort): ?Ipv4
    {
        $way = $this->departure($device, $outside, $toPort);

        return $way->isAnswerable() ? $way->seenAs : null;
    }

    /** A packet left: replies are let in for a while. */
    public function went(Ipv4 $seen, int $port, Ipv4 $outside, int $toPort): void
    {
        $this->flows["$seen:$port>$outside:$toPort"] = microtime(true);
    }

    /**
     * The ports outside that a rule leads to one inside (RFC 2663 §4.4).
     *
     * @return list<array{Ipv4, int}>
     */
    public function ledTo(Ipv4 $inside, int $port): array
    {
        $led = [];
        foreach ($this->model->plan->translations as $rule) {
            if (TranslationKind::Source === $rule->what || true !== $rule->inside?->equals($inside)) {
                continue;
            }
            $seen = (new Translator([$rule], $this->model->ports($rule->router)))->outsideOf($rule);
            $outside = TranslationKind::Static === $rule->what ? $port : $rule->outsidePortOf(Port::udp($port));
            if (null !== $seen && null !== $outside) {
                $led[] = [$seen, $outside];
            }
        }

        return $led;
    }

    /** Whether a packet from outside to a translated address gets in to a device: by a rule, or as a reply. */
    public function enters(string $device, Ipv4 $from, int $fromPort, Ipv4 $seen, int $port): bool
    {
        if (microtime(true) - ($this->flows["$seen:$port>$from:$fromPort"] ?? 0.0) < 120) {
            return true;
        }
        if (!$this->isCarriedTo($from, $device, $seen, $port)) {
            return false;
        }
        foreach ($this->model->plan->translations as $rule) {
            if (TranslationKind::Source === $rule->what || null === $rule->inside || !$this->holds($device, $rule->inside)) {
                continue;
            }
            if (
                true === (new Translator([$rule], $this->model->ports($rule->router)))->outsideOf($rule)?->equals($seen)
                && (TranslationKind::Static === $rule->what || $rule->takes(Port::udp($port)))
            ) {
                return true;
            }
        }

        return false;
    }

    /** Whether a datagram from a place of the job reaches an outside address of a translation; one from outside the job always does. */
    private function isCarriedTo(Ipv4 $from, string $device, Ipv4 $seen, int $port): bool
    {
        $name = $this->nameOf($from);
        if (null === $name || $this->isOutside($name)) {
            return true;
        }

        return $this->passed["$name>$device:$port at $seen"]
            ??= Walker::at($this->model, $name, $device, Port::udp($port), $seen)->arrives();
    }

    /** Whether a device can be reached from outside at its own address: it is one of the public network's, and packets leave with it. */
    public function isOpen(string $device): bool
    {
        foreach ($this->model->hostsOf($device) as $host) {
            if (null !== $host->address && !$host->address->isPrivate()) {
                return true;
            }
        }

        return false;
    }

    private function departure(string $device, Ipv4 $outside, int $port): EgressResult
    {
        return $this->departures["$device>$outside:$port"] ??= Walker::leaving($this->model, $device, $outside, Port::udp($port));
    }

    public function segmentOfOutpost(string $name): ?string
    {
        return OutpostKey::segment($name);
    }

    /** The address with which a datagram of a device arrives at another name, where a router between them puts its own in its place. */
    public function translatedTo(string $device, int $port, string $to, int $toPort): ?Ipv4
    {
        $key = "$device>$to:$toPort";
        if (!\array_key_exists($key, $this->seenAs)) {
            $seen = [] === $this->model->plan->translations
                ? null
                : Walker::oneWay($this->model, $device, $to, Port::udp($toPort))->seenAs;
            $this->seenAs[$key] = $seen instanceof Ipv4 && !$this->holds($device, $seen) ? $seen : null;
        }

        return $this->seenAs[$key];
    }

    /** Whether a datagram from one name gets to another. */
    public function carries(string $from, int $fromPort, string $to, int $toPort): bool
    {
        if ($this->isOutside($from)) {
            // From outside only public addresses can be reached; the rest is decided on arrival.
            return $this->isOutside($to) || $this->isOpen($to);
        }
        $now = microtime(true);
        $flow = "$from:$fromPort>$to:$toPort";
        $answerOf = "$to:$toPort>$from:$fromPort";
        // A translated packet is answered at the outside address, not at the sender's own.
        $known = isset($this->flows[$answerOf]) && $now - $this->flows[$answerOf] < 120
            && null === $this->translatedTo($to, $toPort, $from, $fromPort);
        $key = $flow.($known ? ' known' : '');
        $passes = $this->passed[$key] ??= $this->arrives(Walker::oneWay($this->model, $from, $to, Port::udp($toPort)))
            || ($known && $this->answerReturns($to, $from, Port::udp($fromPort)));
        if ($passes) {
            $this->flows[$flow] = $now;
        }

        return $passes;
    }

    /** Whether a connection can be made: both ways must hold. */
    public function connects(string $from, string $to, int $port): bool
    {
        return $this->answerReturns($from, $to, Port::of(Transport::Tcp, $port));
    }

    private function answerReturns(string $from, string $to, Port $port): bool
    {
        $walk = Walker::between($this->model, $from, $to, $port);
        if (Fault::NotServed !== $walk->brokenHop()?->fault) {
            return $walk->holds();
        }

        // "Not served" is an answer of the far end, not of the network: only the path counts here. Walk again without a port, so that no
        // filter checks it, and use the filter's decision on this port from the request.
        return $this->arrives($walk) && $this->arrives(Walker::between($this->model, $to, $from, null));
    }

    private function arrives(Walk $walk): bool
    {
        return $walk->arrives() || Fault::NotServed === $walk->brokenHop()?->fault;
    }

    private function name(?Ipv4 $address, string $name): void
    {
        if (null !== $address) {
            $this->names[(string) $address] ??= $name;
            $this->twins[$this->loopback->of($address)->number] ??= (string) $address;
        }
    }
}
