<?php

declare(strict_types=1);

namespace Vorhut\Core\Sample;

use Vorhut\Core\Audio\PatchBay;
use Vorhut\Core\Bench\LicenceNeed;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\LoginPattern;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\DeviceDefaults;
use Vorhut\Core\Plan\DeviceLogin;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Voice\Traffic;

/**
 * A made-up job of any size, as the trade has them: a technical segment, segments with phones and a PBX, segments with everything else of
 * the library, routers in a star, rules, numbers, blocks and labels; a part of it staged. The same chance gives the same job.
 *
 * @phpstan-import-type RowData from Edit
 */
// phpcs:ignore SlevomatCodingStandard.Classes.ClassLength -- made-up data, part after part; the order of the dice is part of it
final class SampleJob
{
    /** What a switch of a made-up site feeds, and what joins its switches. */
    private const POE_WATTS = 1440;
    /** Of a processor, that it works on. */
    private const CHANNELS = 8;
    private const UPLINK_MBPS = 40000;
    /** From so many devices on some phones are a provider's. */
    private const HOSTED_FROM = 60;
    /** Every so many-th number is one of them, … */
    private const HOSTED_EVERY = 10;
    /** … and every so many-th phone rings for the number of the one before it. */
    private const ALSO_EVERY = 12;
    private const PROVIDER = 'https://provisioning.voice.example/site';
    private const FIRST = '10.64.0.0';
    /** The backbone lies below the segments, so that these can be of any size. */
    private const BACKBONE = '10.63.255.0/24';
    private const UPLINK = '203.0.113.0/29';
    private const GROUPS = '239.195.1.0';
    private const BY_ROUTER = 24;
    private const SWITCH_EVERY = 25;
    private const FIRST_HOST = 11;
    private const AT = '2026-03-09T10:20:00Z';
    private const BY = 'Jonas Aydin';
    private const FIRMWARE = '4.2.10';
    private const PLACES = ['gate', 'hall', 'stairs', 'store', 'studio', 'lounge', 'kitchen', 'roof', 'office', 'foyer'];
    private const SIDES = ['north', 'east', 'south', 'west'];
    private const HOMES = ['Technical', 'Voice', 'Media'];

    /** @var RowData */
    private array $job = [];
    /** @var array<string, list<RowData>> */
    private array $rows = ['devices' => []];
    /** @var array<string, RowData> by their address */
    private array $settings = [];
    /** @var list<array{key: string, name: string, network: Network, home: int}> */
    private array $segments = [];
    /** @var array<string, string> card → the group of its sound */
    private array $sounds = [];

    /**
     * @param \Closure(int): int $chance a number from 0 to below the one it is given
     * @param int                $staged how many of a hundred devices are done at the bench
     */
    private function __construct(private readonly Catalogue $catalogue, private readonly \Closure $chance, private readonly int $staged)
    {
    }

    /**
     * @param \Closure(int): int $chance a number from 0 to below the one it is given
     *
     * @throws Malformed where the figures make no job
     */
    public static function of(Catalogue $catalogue, int $devices, int $segments, \Closure $chance, int $staged = 50): Plan
    {
        if ($devices < 3 || $devices > 100_000) {
            throw Malformed::because('{n} devices: a job has between 3 and 100000.', ['n' => $devices]);
        }
        if ($segments < 3 || $segments > 1_000 || $segments > $devices) {
            throw Malformed::because('{n} segments: between 3 and 1000, and no more than devices.', ['n' => $segments]);
        }
        $sample = new self($catalogue, $chance, $staged);
        $sample->segments($devices, $segments);
        $sample->routers();
        $sample->devices($devices);
        // Devices and their ports stand: none of what follows looks at what another adds.
        $standing = $sample->plan();
        $sample->groups($standing);
        $sample->calls($standing);
        $sample->cables($standing);
        $sample->licences($standing);
        $sample->stage($sample->plan());

        return $sample->plan();
    }

    private function plan(): Plan
    {
        return Plan::of($this->job, $this->rows + ['settings' => array_values($this->settings)], $this->catalogue);
    }

    /** @param RowData $row */
    private function add(string $section, array $row): void
    {
        $this->rows[$section][] = $row;
    }

    private function planValue(string $ref, string $value): void
    {
        $this->settings[$ref] = ['key' => $ref, 'planned' => $value];
    }

    private function changeSecret(string $owner, string $purpose, string $user): void
    {
        $this->add('credentials', [
            'key' => explode('/', $owner, 2)[1].'.'.$purpose,
            'owner' => $owner,
            'purpose' => $purpose,
            'user' => $user,
            'state' => 'changed',
            'length' => 20,
            'changedAt' => self::AT,
        ]);
    }

    /** @return non-empty-list<Kind> */
    private function kinds(Role $role): array
    {
        $kinds = array_values(array_filter($this->catalogue->kinds(), static fn (Kind $kind): bool => $kind->has($role)));
        // Devices with network settings first: a registrar may be hosted, a switch may have no address.
        usort($kinds, static fn (Kind $a, Kind $b): int => [[] === $a->activePorts(), $a->code] <=> [[] === $b->activePorts(), $b->code]);

        return [] === $kinds ? throw Malformed::because('The library holds no {role}.', ['role' => $role->value]) : $kinds;
    }

    /**
     * @template T
     *
     * @param non-empty-list<T> $some
     *
     * @return T
     */
    private function oneOf(array $some): mixed
    {
        return $some[($this->chance)(\count($some))];
    }

    private function segments(int $devices, int $count): void
    {
        // Room for the devices, for those that come later, and for the pool of the DHCP server.
        $prefix = static fn (float $live): int => 32 - max(6, (int) ceil(log(2 * (int) ceil(1.3 * $live) + self::FIRST_HOST + 2, 2)));
        $usual = $prefix($devices / $count);
        // Where the technicians are, all the switches are.
        $first = min($usual, $prefix($devices / self::SWITCH_EVERY + 2));
        $at = Ipv4::fromString(self::FIRST)->number;
        $voice = max(1, intdiv($count * 3, 10));
        for ($i = 0; $i < $count; ++$i) {
            $home = match (true) {
                0 === $i => 0,
                $i <= $voice => 1,
                default => 2,
            };
            $bits = 0 === $i ? $first : $usual;
            $network = Network::around(Ipv4::fromNumber($at), Mask::fromString('/'.$bits));
            $this->segments[] = [
                'key' => \sprintf('s%03d', $i),
                'name' => self::HOMES[$home].' '.($i + 1),
                'network' => $network,
                'home' => $home,
            ];
            $at += 1 << (32 - $bits);
        }
    }

    /** A router for so many segments, all of them on one backbone, each knowing the others' segments. */
    private function routers(): void
    {
        $kind = $this->kinds(Role::Forwards)[0];
        $backbone = Network::fromString(self::BACKBONE);
        $this->add('segments', ['key' => 'backbone', 'name' => 'Backbone', 'network' => self::BACKBONE, 'gateway' => 'none', 'vlan' => 9]);
        $of = array_chunk($this->segments, self::BY_ROUTER);
        foreach ($of as $n => $segments) {
            $key = \sprintf('r-%02d', $n + 1);
            $this->add('devices', [
                'key' => $key,
                'tag' => strtoupper($key),
                'kind' => $kind->code,
                'room' => 'Rack '.($n + 1),
                'filterDefault' => 'deny',
                'stateful' => true,
                'position' => $n + 1,
            ]);
            $there = $backbone->firstHost()->plus($n);
            $this->interface($key, 'backbone', $there, $backbone->mask);
            foreach ($segments as $segment) {
                $this->interface($key, $segment['key'], $segment['network']->firstHost(), $segment['network']->mask);
            }
            foreach ($of as $other => $far) {
                if ($other !== $n) {
                    foreach ($far as $segment) {
                        $this->add('routes', [
                            'key' => $key.'-'.$segment['key'],
                            'router' => $key,
                            'destination' => (string) $segment['network'],
                            'via' => (string) $backbone->firstHost()->plus($other),
                        ]);
                    }
                }
            }
            $this->rules($key, 0 === $n);
            $this->wayOut($key, 0 === $n, $backbone->firstHost());
        }
    }

    /** Out of the site by the first router, which gives all of them its own address there. */
    private function wayOut(string $router, bool $isFirst, Ipv4 $first): void
    {
        $uplink = Network::fromString(self::UPLINK);
        $this->add('routes', [
            'key' => $router.'-out',
            'router' => $router,
            'destination' => '0.0.0.0/0',
            'via' => (string) ($isFirst ? $uplink->firstHost() : $first),
        ]);
        if ($isFirst) {
            $this->add('segments', [
                'key' => 'uplink',
                'name' => 'Uplink',
                'network' => self::UPLINK,
                'gateway' => (string) $uplink->firstHost(),
                'vlan' => 8,
            ]);
            $this->interface($router, 'uplink', $uplink->firstHost()->plus(1), $uplink->mask);
            $this->add('translations', [
                'key' => $router.'-source',
                'router' => $router,
                'outside' => 'uplink',
                'what' => 'source',
                'position' => 10,
                'transport' => 'any',
            ]);
        }
    }

    /** A device in a segment sends multicast, and some of those that can listen in the same segment do. */
    private function groups(Plan $plan): void
    {
        $number = Ipv4::fromString(self::GROUPS)->number;
        foreach ($this->segments as $segment) {
            $senders = $receivers = [];
            foreach ($plan->nicsOn($segment['key']) as $nic) {
                $kind = $plan->devices[$nic->device]->kind;
                if ($kind->has(Role::StreamSender)) {
                    $senders[] = $nic->device;
                }
                if ($kind->has(Role::StreamReceiver)) {
                    $receivers[$nic->device] = $nic->device;
                }
            }
            if ([] === $senders) {
                continue;
            }
            $key = 'g-'.$segment['key'];
            $this->add('groups', [
                'key' => $key,
                'name' => 'Picture '.$segment['name'],
                'address' => (string) Ipv4::fromNumber($number++),
                'sender' => $senders[0],
                'ttl' => 1,
            ]);
            foreach (\array_slice($receivers, 0, 8) as $device) {
                $this->add('joins', ['key' => $key.'-'.$device, 'group' => $key, 'device' => $device]);
            }
        }
    }

    /** Outside calls through one provider, as many at once as a quarter of the phones; inbound calls go to a menu. */
    /** Every device into a switch, switches into a tree; every sender of pictures to a receiver. */
    private function cables(Plan $plan): void
    {
        $switches = array_values(array_filter($plan->devices, static fn (Device $one): bool => $one->kind->has(Role::Switches)));
        // Receivers are in the sender's segment: flows across routers are allowed by rules that are made before the devices exist.
        $receivers = [];
        foreach ($plan->devices as $one) {
            if ($one->kind->has(Role::StreamReceiver)) {
                $receivers[$one->nic()->segment ?? ''][] = $one;
            }
        }
        foreach ($switches as $i => $switch) {
            if (isset($switch->kind->settings['poeBudget'])) {
                $this->planValue($switch->record().'#poeBudget', (string) self::POE_WATTS);
            }
            if (0 !== $i) {
                $this->cable($switch, $switches[intdiv($i - 1, 8)], 'up-'.$i, self::UPLINK_MBPS);
            }
        }
        $this->patchProcessors($plan);
        $n = $streams = $lights = 0;
        foreach ($plan->devices as $device) {
            $isWired = [] !== $device->activeNics() && 'battery' !== $device->kind->power?->by;
            if ([] === $switches || $device->kind->has(Role::Switches) || !$isWired) {
                continue;
            }
            $this->cable($device, $switches[$n % \count($switches)], (string) (1 + intdiv($n, \count($switches))), 1000);
            ++$n;
            if ($device->kind->has(Role::LightSender)) {
                $universe = (string) ++$lights;
                foreach (['universesSent', 'universe'] as $setting) {
                    if (isset($device->kind->settings[$setting])) {
                        $this->planValue($device->record().'#'.$setting, $universe);
                    }
                }
            }
            $near = $receivers[$device->nic()->segment ?? ''] ?? [];
            if ($device->kind->has(Role::StreamSender) && [] !== $near) {
                $to = $near[$streams++ % \count($near)];
                $this->add('streams', ['key' => $device->key, 'name' => $device->tag, 'sender' => $device->key, 'transport' => 'RTSP',
                    'cast' => 'unicast']);
                if ($to !== $device) {
                    $this->add('deliveries', ['key' => $device->key, 'stream' => $device->key, 'device' => $to->key]);
                }
            }
        }
    }

    /** Each processor works on channels of a nearby card, and returns them to that card. */
    private function patchProcessors(Plan $plan): void
    {
        $cards = $used = [];
        foreach ($plan->devices as $one) {
            if ($one->kind->has(Role::SharesSound) && !$one->kind->has(Role::ProcessesSound)) {
                $cards[$one->nic()->segment ?? ''][] = $one;
            }
        }
        foreach ($plan->devices as $server) {
            $near = $server->kind->has(Role::ProcessesSound) ? $cards[$server->nic()->segment ?? ''] ?? [] : [];
            foreach ($near as $card) {
                $first = $used[$card->key] ?? 1;
                if ($first + self::CHANNELS - 1 > (int) PatchBay::channels($card, Face::Planned)) {
                    continue;
                }
                $this->add('soundPatches', ['key' => $server->key.'-to', 'from' => $card->key, 'fromChannel' => $first,
                    'to' => $server->key, 'toChannel' => 1, 'count' => self::CHANNELS]);
                $this->add('soundPatches', ['key' => $server->key.'-back', 'from' => $server->key, 'fromChannel' => 1,
                    'to' => $card->key, 'toChannel' => $first, 'count' => self::CHANNELS]);
                $used[$card->key] = $first + self::CHANNELS;
                $this->shareGroup($card, $server);
                break;
            }
        }
    }

    /** What a card sends to its processors goes to a group of its own. */
    private function shareGroup(Device $card, Device $server): void
    {
        if (!isset($this->sounds[$card->key])) {
            $number = \count($this->sounds);
            $this->sounds[$card->key] = \sprintf('239.192.%d.%d', 1 + intdiv($number, 250), 1 + $number % 250);
            $this->add('groups', ['key' => $card->key, 'name' => 'Sound of '.$card->tag, 'address' => $this->sounds[$card->key],
                'sender' => $card->key, 'ttl' => 1]);
            $this->add('streams', ['key' => $card->key.'-sound', 'name' => 'Sound of '.$card->tag, 'sender' => $card->key,
                'transport' => 'AES67', 'cast' => 'multicast', 'group' => $card->key, 'codec' => 'L24', 'channels' => self::CHANNELS]);
        }
        $this->add('deliveries', ['key' => $server->key.'-sound', 'stream' => $card->key.'-sound', 'device' => $server->key]);
    }

    private function cable(Device $from, Device $to, string $port, int $mbps): void
    {
        $this->add('cables', [
            'key' => $from->key,
            'device' => $from->key,
            'switch' => $to->key,
            'port' => $port,
            'mbps' => $mbps,
            'metres' => 5 + ($this->chance)(80),
        ]);
    }

    // phpcs:ignore SlevomatCodingStandard.Functions.FunctionLength -- made-up data, part after part
    private function calls(Plan $plan): void
    {
        $pbx = $this->kinds(Role::Registrar)[0]->code.'-0001';
        $numbers = array_values(array_map(static fn (Extension $one): string => $one->number, $plan->extensions));
        if ([] === $numbers) {
            return;
        }
        $inside = (string) ($plan->devices[$pbx]->nic()?->plannedAddress() ?? '');
        $router = $plan->translations[0]->router ?? '';
        $this->planValue('devices/'.$pbx.'#announcedAddress', (string) Network::fromString(self::UPLINK)->firstHost()->plus(1));
        $this->add('translations', [
            'key' => $router.'-sound',
            'router' => $router,
            'outside' => 'uplink',
            'what' => 'forward',
            'position' => 20,
            'inside' => $inside,
            'transport' => 'udp',
            'portFirst' => 40000,
            'portLast' => 40999,
        ]);
        $at = ['pbx' => $pbx];
        $this->add('timeFrames', ['key' => 'office', 'name' => 'Office hours', 'when' => 'mon-fri 8:00-16:00']);
        $this->add('trunks', $at + [
            'key' => 'provider',
            'name' => 'Provider',
            'address' => '198.51.100.20',
            'registers' => true,
            'emergency' => true,
            'channels' => Traffic::byShare(\count($numbers)),
            'callerId' => '+4721000000',
        ]);
        foreach ([
            ['emergency', '11[023]', 0], ['emergency-0', '011[023]', 1], ['abroad', '000x.T', 1], ['home', '0[2-9]xxxxxxx', 1],
        ] as $i => [$key, $map, $strip]) {
            $this->add('callRoutes', $at + [
                'key' => $key,
                'name' => ucfirst($key),
                'position' => 10 * ($i + 1),
                'map' => $map,
                'strip' => $strip,
                'trunk' => 'provider',
            ]);
        }
        $first = substr_replace($numbers[0], '9', 0, 1);
        $this->add('inboundRoutes', [
            'key' => 'day',
            'trunk' => 'provider',
            'position' => 10,
            'map' => '4721000000',
            'timeFrame' => 'office',
            'to' => $first,
        ]);
        $this->add(
            'inboundRoutes',
            ['key' => 'night', 'trunk' => 'provider', 'position' => 20, 'map' => '4721000000', 'to' => $numbers[0]],
        );
        $this->add('menus', $at + [
            'key' => 'welcome',
            'number' => $first,
            'name' => 'Welcome',
            'choices' => ['1 '.$numbers[0]],
            'otherwise' => $numbers[0],
        ]);
    }

    private function interface(string $router, string $segment, Ipv4 $address, Mask $mask): void
    {
        $this->add('routerPorts', [
            'key' => $router.'-'.$segment,
            'router' => $router,
            'segment' => $segment,
            'address' => (string) $address,
            'mask' => (string) $mask,
        ]);
    }

    /** @param bool $isFirst the router that the technical segment hangs on: to others a rule about it says nothing */
    private function rules(string $router, bool $isFirst): void
    {
        $technical = $this->segments[0]['key'];
        foreach ([
            ['from' => $technical, 'transport' => 'any', 'note' => 'Technicians reach everything'],
            ['from' => 'backbone', 'transport' => 'any', 'note' => 'What another router let through'],
            ['transport' => 'udp', 'portFirst' => 5060, 'portLast' => 5060, 'note' => 'Calls'],
            ['transport' => 'udp', 'portFirst' => 40000, 'portLast' => 40999, 'note' => 'Sound of calls'],
            // No rule here can name a device beyond the backbone.
            ['to' => $isFirst ? $technical : 'backbone', 'transport' => 'tcp', 'portFirst' => 80, 'portLast' => 80, 'note' => 'Files'],
            ['transport' => 'tcp', 'portFirst' => 5061, 'portLast' => 5061, 'note' => 'Phones of the provider'],
            ['transport' => 'udp', 'portFirst' => 53, 'portLast' => 53, 'note' => 'Names'],
            ['transport' => 'udp', 'portFirst' => 123, 'portLast' => 123, 'note' => 'Time'],
            ['transport' => 'tcp', 'portFirst' => 1720, 'portLast' => 1720, 'note' => 'Calls between systems'],
        ] as $i => $rule) {
            if (!$isFirst && \in_array($technical, [$rule['from'] ?? null, $rule['to'] ?? null], true)) {
                continue;
            }
            $this->add('filters', $rule + [
                'key' => $router.'-'.(100 + 10 * $i),
                'router' => $router,
                'position' => 100 + 10 * $i,
                'action' => 'allow',
            ]);
        }
    }

    // phpcs:ignore SlevomatCodingStandard.Functions.FunctionLength, SlevomatCodingStandard.Complexity.Cognitive -- made-up data
    private function devices(int $devices): void
    {
        $routers = \count($this->rows['devices']);
        $laptop = $this->kinds(Role::Workstation)[0];
        $registrar = $this->kinds(Role::Registrar)[0];
        $phones = $this->kinds(Role::FileClient);
        $switch = $this->kinds(Role::Switches)[0];
        $other = array_values(array_filter(
            $this->catalogue->kinds(),
            static fn (Kind $kind): bool => [] !== $kind->steps && !$kind->has(Role::Forwards) && !$kind->has(Role::Workstation)
                && !$kind->has(Role::Registrar) && !$kind->has(Role::FileClient) && !$kind->has(Role::Switches),
        ));
        if ([] === $other) {
            throw new Malformed('The library holds nothing but phones and what carries them.');
        }
        /** @var array<int, list<Kind>> $in place of the segment → what lives there */
        $in = [0 => [$laptop], 1 => [$registrar]];
        $hosted = $devices < self::HOSTED_FROM ? null : $this->hostedKind();
        if (null !== $hosted) {
            $in[0][] = $hosted;
        }
        $voice = array_keys(array_filter($this->segments, static fn (array $one): bool => 1 === $one['home']));
        $media = array_keys(array_filter($this->segments, static fn (array $one): bool => 2 === $one['home']));
        for ($i = $routers + (null === $hosted ? 2 : 3); $i < $devices; ++$i) {
            if (0 === $i % self::SWITCH_EVERY) {
                $in[0][] = $switch;
            } elseif ($i % 5 < 2) {
                $in[$voice[$i % \count($voice)]][] = $this->oneOf($phones);
            } else {
                $in[$media[$i % \count($media)]][] = $this->oneOf($other);
            }
        }
        ksort($in);
        $position = 100;
        $number = $terminals = 0;
        $count = [];
        $digits = \strlen((string) $devices) + 1;
        foreach ($this->segments as $place => $segment) {
            $kinds = $in[$place] ?? [];
            usort($kinds, static fn (Kind $a, Kind $b): int => $a->code <=> $b->code);
            $at = $segment['network']->firstHost()->plus(self::FIRST_HOST - 1);
            $blocks = [];
            /** @var array{number: string, where: array{string, string}}|null $before the last phone here that has a number of its own */
            $before = null;
            foreach ($kinds as $kind) {
                $n = $count[$kind->code] = ($count[$kind->code] ?? 0) + 1;
                $key = \sprintf('%s-%04d', $kind->code, $n);
                if ([] !== $kind->activePorts()) {
                    $blocks[$kind->code][] = $at;
                }
                $isPhone = $kind->has(Role::FileClient);
                $also = $isPhone && null !== $before && 0 === ++$terminals % self::ALSO_EVERY ? $before : null;
                $where = $also['where'] ?? [$this->oneOf(self::PLACES).' '.(1 + ($this->chance)(40)), $this->oneOf(self::SIDES)];
                $mac = $this->device($kind, $key, $segment['key'], ++$position, $at, $where);
                if (null !== $also) {
                    $this->alsoRings($key, $mac, $also['number']);
                } elseif ($isPhone) {
                    $own = (string) (2 * 10 ** ($digits - 1) + ++$number);
                    $isTheirs = null !== $hosted && 0 === $number % self::HOSTED_EVERY && self::speaksTls($kind);
                    $this->rings($key, $mac, $own, $where[0], ($isTheirs ? $hosted : $registrar)->code.'-0001');
                    if ($isTheirs) {
                        $this->fetchesFromTheProvider($key);
                    }
                    $before = $isTheirs ? null : ['number' => $own, 'where' => $where];
                }
                $at = [] === $kind->activePorts() ? $at : $at->plus(1);
            }
            $this->segment($place, $segment, $blocks);
        }
        $first = (string) (2 * 10 ** ($digits - 1));
        $this->job = [
            'name' => \sprintf('Made-up site, %d devices', $devices),
            'customer' => 'None',
            'site' => 'A site that is not there',
            'country' => 'NO',
            'language' => 'en',
            'timeZone' => 'Europe/Oslo',
            'ntp' => (string) $this->segments[0]['network']->firstHost()->plus(4),
            'dns' => (string) $this->segments[0]['network']->firstHost()->plus(4),
            'domain' => 'site.example',
            'adminName' => 'Petra Solheim',
            'adminMail' => 'net@site.example',
            'extensionFirst' => $first,
            'extensionLast' => (string) ((int) $first + 10 ** ($digits - 1) - 1),
            'outsideDigit' => '0',
            'featureCodes' => ['*97', '*98'],
            'emergencyNumbers' => ['112', '110', '113'],
            'voicemailAfter' => 4,
            'laptop' => $laptop->code.'-0001',
        ];
    }

    /**
     * @param array{key: string, name: string, network: Network, home: int} $segment
     * @param array<string, non-empty-list<Ipv4>>                            $blocks  kind → addresses, one after the other
     */
    private function segment(int $place, array $segment, array $blocks): void
    {
        $last = $segment['network']->lastHost();
        $size = $segment['network']->hosts();
        $this->add('segments', [
            'key' => $segment['key'],
            'name' => $segment['name'],
            'vlan' => 10 + $place,
            'network' => (string) $segment['network'],
            'gateway' => (string) $segment['network']->firstHost(),
            'pools' => [$last->plus(-intdiv($size, 8)).'-'.$last->plus(-2)],
            'blocks' => array_map(
                static fn (string $kind, array $at): array => ['range' => (string) Range::of($at[0], $at[\count($at) - 1]), 'for' => $kind],
                array_keys($blocks),
                $blocks,
            ),
            'voice' => 1 === $segment['home'],
            'snooping' => 'yes',
            'querier' => 'yes',
            'pattern' => $place % 12,
        ]);
    }

    /**
     * @param array{string, string} $where place and side
     *
     * @return string its MAC
     */
    private function device(Kind $kind, string $key, string $segment, int $position, Ipv4 $address, array $where): string
    {
        $row = [
            'key' => $key,
            'tag' => strtoupper($key),
            'kind' => $kind->code,
            'room' => ucfirst($where[0]).', '.$where[1],
            'serial' => \sprintf('NM%06d', $position * 7),
            'position' => $position,
        ];
        // Who answers on its own wire only is controlled from there.
        $answersAfar = isset($kind->settings['gateway']) && false !== ($kind->activePorts()[0] ?? null)?->gateway
            && true !== $kind->serviceNamed('admin')?->ownSubnetOnly;
        if ($answersAfar && ($kind->has(Role::Controlled) || $kind->has(Role::DirectCallee) || $kind->has(Role::StreamSender))) {
            $row['controlledFrom'] = $this->segments[0]['key'];
        }
        $this->add('devices', $row);
        // Locally administered, so it belongs to no manufacturer.
        $mac = \sprintf('02-00-5E-%02X-%02X-%02X', $position >> 16 & 255, $position >> 8 & 255, $position & 255);
        foreach (DeviceDefaults::ports($kind, $row, $mac, $segment) as $i => $nic) {
            $this->add('nics', ['segment' => 0 === $i ? $segment : null] + $nic);
        }
        $main = $kind->activePorts()[0] ?? null;
        if (null !== $main) {
            $this->planValue('nics/'.$key.'.'.$main->name.'#address', (string) $address);
        }
        if (LoginPattern::Held === $kind->login->pattern) {
            $this->changeSecret('devices/'.$key, 'label', $kind->login->user);
        }
        foreach (array_keys(DeviceLogin::purposesOf($kind)) as $purpose) {
            $this->changeSecret('devices/'.$key, $purpose, $kind->login->user);
        }
        if (isset($kind->settings['hostName'])) {
            $this->planValue('devices/'.$key.'#hostName', $key);
        }

        return $mac;
    }

    /** A provider whose phones stand here: nothing of it does. */
    private function hostedKind(): ?Kind
    {
        $kinds = array_values(array_filter($this->kinds(Role::Registrar), static fn (Kind $kind): bool => $kind->isHosted()));
        if ([] !== $kinds) {
            foreach ([
                'realm' => 'voice.example',
                'siteProfile' => 'The site',
                'emergencyAddress' => 'A site that is not there',
                'provisioningString' => self::PROVIDER,
            ] as $name => $value) {
                if (null !== $kinds[0]->setting($name)) {
                    $this->planValue('devices/'.$kinds[0]->code.'-0001#'.$name, $value);
                }
            }
        }

        return $kinds[0] ?? null;
    }

    private static function speaksTls(Kind $kind): bool
    {
        return \in_array('tls', $kind->setting('transport')->choices ?? [], true);
    }

    private function fetchesFromTheProvider(string $phone): void
    {
        foreach (['provisioning' => self::PROVIDER, 'transport' => 'tls', 'authority' => ''] as $name => $value) {
            $this->planValue('devices/'.$phone.'#'.$name, $value);
        }
    }

    private function rings(string $phone, string $mac, string $number, string $place, string $registrar): void
    {
        $this->planValue('devices/'.$phone.'#provisioning', FileAddress::HERE);
        $this->add('extensions', [
            'key' => 'x'.$number,
            'number' => $number,
            'name' => ucfirst($place),
            'pbx' => $registrar,
            'terminal' => 'sip',
            'phone' => $phone,
            'voicemail' => 0 === ($this->chance)(3),
            'location' => 'A site that is not there, '.$place,
        ]);
        $this->add('accounts', [
            'key' => 'a'.$number,
            'extension' => 'x'.$number,
            'registrar' => $registrar,
            'user' => $number,
            'macEntered' => $mac,
            'enteredAt' => self::AT,
        ]);
    }

    /** One more terminal of a number, in the same room. */
    private function alsoRings(string $phone, string $mac, string $number): void
    {
        $this->planValue('devices/'.$phone.'#provisioning', FileAddress::HERE);
        $this->add('terminals', [
            'key' => 'x'.$number.'-'.$phone,
            'extension' => 'x'.$number,
            'device' => $phone,
            'macEntered' => $mac,
            'enteredAt' => self::AT,
        ]);
    }

    /** All that is wanted by licence has come. */
    private function licences(Plan $plan): void
    {
        foreach (LicenceNeed::all($plan) as $need) {
            $this->add('licences', [
                'key' => $need->device->key.'.'.$need->term->code,
                'device' => $need->device->key,
                'feature' => $need->term->code,
                'quantity' => $need->missing(),
                'orderedOn' => '2026-02-02',
                'arrivedOn' => '2026-02-16',
            ]);
        }
    }

    /** The first of the roster are done: their steps marked, what they were to be told told, their passwords changed. */
    private function stage(Plan $plan): void
    {
        $left = intdiv(\count($plan->devices) * $this->staged, 100);
        foreach ($plan->devices as $device) {
            if ([] !== $device->kind->steps && !$device->kind->has(Role::Forwards) && $left-- > 0) {
                $this->stageDevice($plan, $device);
            }
        }
    }

    private function stageDevice(Plan $plan, Device $device): void
    {
        $sheet = RunSheet::of($plan, $device);
        foreach ($device->steps as $step) {
            $this->add('marks', [
                'key' => $device->key.'.'.$step->code,
                'device' => $device->key,
                'step' => $step->code,
                'state' => 'done',
                'by' => self::BY,
                'at' => self::AT,
            ]);
            foreach ($sheet->slots($step->records) as $slot) {
                if (null !== $slot->value->planned && null === $slot->setting->secret) {
                    $this->settings[(string) $slot->ref] = ($this->settings[(string) $slot->ref] ?? ['key' => (string) $slot->ref])
                        + ['set' => $slot->value->planned, 'setBy' => self::BY, 'setAt' => self::AT];
                }
            }
            foreach ($sheet->slots($step->reads) as $slot) {
                if (ValueType::Text === $slot->setting->type && null === $slot->value->planned) {
                    $this->settings[(string) $slot->ref] = [
                        'key' => (string) $slot->ref,
                        'seen' => self::FIRMWARE,
                        'seenBy' => self::BY,
                        'seenAt' => self::AT,
                    ];
                }
            }
            if ($step->does(Effect::Secures)) {
                $this->changeSecret('devices/'.$device->key, 'admin', $device->loginUser());
            }
        }
        foreach ($plan->extensionsOf($device->key) as $extension) {
            $account = $plan->accountOf($extension->key);
            if (null !== $account) {
                $this->changeSecret('accounts/'.$account->key, 'sip', $account->user);
            }
        }
    }
}
