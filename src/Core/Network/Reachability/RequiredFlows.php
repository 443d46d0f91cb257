<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Media\NamedHosts;
use Vorhut\Core\Media\PushTarget;
use Vorhut\Core\Media\StreamUrl;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Stream;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\Registration;
use Vorhut\Core\Voice\TrunkWay;

/**
 * What a job needs of the network between segments and towards the outside: from the plan alone, each with the reason why. Rules, findings,
 * reachability and the administrator's sheet all go by this list.
 */
final class RequiredFlows
{
    /** RTP has no fixed ports (RFC 3550 §11), so a provider may receive audio on any of these. */
    private const ANY_MEDIA = [1024, 65535];
    /** Where a stream without a port of its own goes (RFC 3551 §8). */
    private const RTP = 5004;
    /** Ports of sound from the first on: two for each call and direction, for as many as a phone system of this size carries. */
    private const MEDIA_PORTS = 1000;
    /** Services that an outpost asks for in the place of a device. */
    private const PROBED = ['sip', 'media', 'call', 'rtsp', 'srt', 'radius'];
    private const DNS = 53;
    private const NTP = 123;

    /** @var array<string, Flow> */
    private array $flows = [];
    private ?NamedHosts $hosts = null;

    private function __construct(private readonly Plan $plan)
    {
    }

    /** @return list<Flow> only those that leave a segment */
    public static function of(Plan $plan): array
    {
        $flows = new self($plan);
        foreach ($plan->devices as $device) {
            $flows->addControl($device);
            $flows->addReferences($device);
            $flows->addSiteServices($device);
            $flows->addFileDownload($device);
            $flows->servedOutside($device);
            $flows->addPush($device);
        }
        $flows->addRegistrations();
        $flows->addAudio();
        $flows->addTrunks();
        $flows->calledDirectly();
        $flows->addStreams();
        $flows->addAddedTests();
        $flows->addProbes();

        return array_values($flows->flows);
    }

    private function add(string $from, Device $to, Service $service, Message $why): void
    {
        $here = OutpostKey::segment($from) ?? $this->plan->devices[$from]->nic()->segment ?? null;
        $there = $to->nic()?->segment;
        if (null === $here || null === $there || $here === $there || $service->ownSubnetOnly) {
            return;
        }
        $last = 'media' === $service->name ? $service->port->number + self::MEDIA_PORTS - 1 : $service->port->number;
        $this->addFlow(new Flow($from, $to->key, $service->port, $last, $why));
    }

    private function addFlow(Flow $flow): void
    {
        $this->flows[$flow->key()] ??= $flow;
    }

    /** Adds a flow from a device to an address outside the job. */
    private function out(Device $from, Ipv4 $address, Port $port, Message $why, ?int $last = null, bool $isAnywhere = false): void
    {
        if (null !== $from->nic()?->segment) {
            $last ??= $port->number;
            $this->addFlow(new Flow($from->key, Flow::OUTSIDE, $port, $last, $why, $address, isAnywhere: $isAnywhere));
        }
    }

    /** Adds a flow from an address outside the job to a device. */
    private function in(Ipv4 $address, Device $to, Port $port, Message $why, ?int $last = null, bool $isAnywhere = false): void
    {
        if (null !== $to->nic()?->segment) {
            $this->addFlow(new Flow(Flow::OUTSIDE, $to->key, $port, $last ?? $port->number, $why, $address, isAnywhere: $isAnywhere));
        }
    }

    private static function elsewhere(): Ipv4
    {
        return Ipv4::fromString(Registration::ELSEWHERE);
    }

    /** The program that controls it runs elsewhere. */
    private function addControl(Device $device): void
    {
        $segment = $this->plan->segments[$device->controlledFrom ?? ''] ?? null;
        if (null === $segment) {
            return;
        }
        foreach ($device->services() as $service) {
            if (!\in_array($service->name, ['sip', 'media'], true)) {
                $this->add(OutpostKey::on($segment->key), $device, $service, new Message('{tag} is controlled from {segment}.', [
                    'tag' => $device->tag,
                    'segment' => $segment->name,
                ]));
            }
        }
    }

    /** A setting of it names another device: what it has to do with that one, it does by what that one serves. */
    private function addReferences(Device $device): void
    {
        $names = [];
        foreach ($device->kind->settingsOf(SettingScope::Device) as $setting) {
            if (ValueType::Device === $setting->type) {
                $names[$setting->name] = $setting->label;
            }
        }
        foreach ($names as $name => $label) {
            $other = $this->plan->devices[$device->setting($name)->planned ?? ''] ?? null;
            if (null === $other) {
                continue;
            }
            foreach ($other->services() as $service) {
                if ('media' !== $service->name) {
                    $this->add($device->key, $other, $service, new Message('{label} of {tag} is {other}.', [
                        'label' => new Message($label),
                        'tag' => $device->tag,
                        'other' => $other->tag,
                    ]));
                }
            }
        }
    }

    /** Names and time, where a device of the job serves them. */
    private function addSiteServices(Device $device): void
    {
        $segment = $this->plan->segmentOf($device);
        if (null === $segment || $device->kind->has(Role::Forwards)) {
            return;
        }
        foreach ([
            [$segment->dns ?? Ipv4::tryFromString($this->plan->job->text('dns')), self::DNS, 'On {segment} names are asked of {other}.'],
            [Ipv4::tryFromString($this->plan->job->text('ntp')), self::NTP, 'On {segment} the time is asked of {other}.'],
        ] as [$address, $number, $why]) {
            $other = null === $address ? null : $this->holder($address);
            $service = null === $other ? null : $other->service(Port::udp($number));
            if (null !== $other && null !== $service && $other !== $device) {
                $this->add($device->key, $other, $service, new Message($why, ['segment' => $segment->name, 'other' => $other->tag]));
            }
        }
    }

    /** DNS and NTP, unless a device of the job is the server. */
    private function servedOutside(Device $device): void
    {
        $segment = $this->plan->segmentOf($device);
        $nic = $device->nic();
        $gateway = Ipv4::tryFromString($nic?->setting('gateway')->planned ?? '');
        // A device that is planned without a way out is not meant to ask anybody outside its segment.
        $held = $nic?->plannedAddress();
        if (null === $segment || null === $held || null === $gateway || $gateway->equals($held) || $device->kind->has(Role::Forwards)) {
            return;
        }
        foreach ([
            [$segment->dns ?? Ipv4::tryFromString($this->plan->job->text('dns')), self::DNS, '{segment} uses the DNS server {server}.'],
            [Ipv4::tryFromString($this->plan->job->text('ntp')), self::NTP, '{segment} uses the time server {server}.'],
        ] as [$address, $number, $why]) {
            if (null !== $address && null === $this->holder($address) && !$segment->network->contains($address)) {
                $at = ['segment' => $segment->name, 'server' => (string) $address];
                $this->out($device, $address, Port::udp($number), new Message($why, $at));
            }
        }
    }

    /** A pushed stream, to a device of the job or to an address outside. */
    private function addPush(Device $device): void
    {
        $url = StreamUrl::pushedBy($device, Face::Planned);
        $number = null === $url ? null : $url->port ?? StreamUrl::PORTS[$url->scheme] ?? null;
        if (null === $url || null === $number || '' === $url->host) {
            return;
        }
        $port = 'srt' === $url->scheme ? Port::udp($number) : Port::tcp($number);
        $at = ['tag' => $device->tag, 'host' => $url->host];
        $taker = ($this->hosts ??= NamedHosts::of($this->plan, Face::Planned))->find($url->host, $device);
        $address = Ipv4::tryFromString($url->host);
        $service = $taker?->service($port);
        if (null !== $taker && null !== $service) {
            $this->add($device->key, $taker, $service, new Message('{tag} pushes its stream to {host}.', $at));
        } elseif (null === $taker) {
            // Where a name leads is not known to the job.
            $this->out(
                $device,
                $address ?? self::elsewhere(),
                $port,
                new Message('{tag} pushes its stream to {host}.', $at),
                isAnywhere: null === $address,
            );
        }
    }

    /** Trunks: signalling and sound, to a provider and to another device of the job. */
    private function addTrunks(): void
    {
        foreach ($this->plan->trunks as $trunk) {
            $pbx = $this->plan->devices[$trunk->pbx] ?? null;
            $far = $this->plan->devices[$trunk->far ?? ''] ?? null;
            if (null === $pbx) {
                continue;
            }
            $at = ['pbx' => $pbx->tag, 'trunk' => $trunk->name, 'far' => $far->tag ?? (string) $trunk->address];
            $port = Port::of('udp' === $trunk->transport ? Transport::Udp : Transport::Tcp, $trunk->port);
            if (null !== $far) {
                $this->trunkWithin($pbx, $far, $port, $at);
            } elseif (null !== $trunk->address) {
                $sound = new Message('Sound of calls by {trunk} between {pbx} and {far}.', $at);
                $this->out($pbx, $trunk->address, $port, new Message('{pbx} calls by {trunk} at {far}.', $at));
                $this->out($pbx, $trunk->address, Port::udp(self::ANY_MEDIA[0]), $sound, self::ANY_MEDIA[1]);
                $this->in($trunk->address, $pbx, Port::udp(Dial::MEDIA_PORT), $sound, TrunkWay::MEDIA_LAST);
                if (!$trunk->registers) {
                    $this->in($trunk->address, $pbx, $port, new Message('Inbound calls on {trunk} from {far}.', $at));
                }
            }
        }
    }

    /** @param array<string, string> $at */
    private function trunkWithin(Device $pbx, Device $far, Port $port, array $at): void
    {
        foreach ([[$pbx, $far], [$far, $pbx]] as [$from, $to]) {
            $signalling = $to->service($port) ?? $to->serviceNamed('sip');
            $media = $to->serviceNamed('media');
            $why = new Message('{pbx} and {far} call each other by {trunk}.', $at);
            if (null !== $signalling) {
                $this->add($from->key, $to, $signalling, $why);
            }
            if (null !== $media) {
                $this->add($from->key, $to, $media, new Message('Sound and fax by {trunk} between {pbx} and {far}.', $at));
            }
        }
    }

    /** Systems that are called by their address: signalling by every protocol that they take, and media. */
    private function calledDirectly(): void
    {
        /** @var array<string, list<Device>> $systems segment → those that live there */
        $systems = [];
        foreach ($this->plan->devices as $device) {
            if ($device->kind->has(Role::DirectCallee)) {
                $systems[$device->nic()->segment ?? ''][] = $device;
            }
        }
        unset($systems['']);
        $places = array_flip(array_keys($systems));
        foreach ($systems as $here => $some) {
            foreach ($systems as $there => $others) {
                if ($here === $there) {
                    continue;
                }
                $isNear = 1 === abs($places[$here] - $places[$there]);
                // One of each segment calls all of the other, and all of it call one: what a rule looks at is the same for the rest.
                foreach ($others as $other) {
                    $this->callsDirectly($some[0], $other, $isNear);
                }
                foreach ($some as $one) {
                    $this->callsDirectly($one, $others[0], $isNear);
                }
            }
        }
    }

    private function callsDirectly(Device $from, Device $to, bool $isNear): void
    {
        foreach (['sip', 'call', 'media'] as $name) {
            $service = $to->serviceNamed($name);
            if (null !== $service) {
                $at = ['from' => $from->tag, 'to' => $to->tag];
                $last = 'media' === $name ? $service->port->number + self::MEDIA_PORTS - 1 : $service->port->number;
                $why = new Message('{from} calls {to} directly.', $at);
                $this->addFlow(new Flow($from->key, $to->key, $service->port, $last, $why, isOneOfMany: !$isNear));
            }
        }
    }

    /** @var array<int, Device>|null */
    private ?array $holders = null;

    private function holder(Ipv4 $address): ?Device
    {
        if (null === $this->holders) {
            $this->holders = [];
            foreach ($this->plan->devices as $device) {
                foreach ($device->activeNics() as $nic) {
                    $held = $nic->plannedAddress();
                    if (null !== $held) {
                        $this->holders[$held->number] ??= $device;
                    }
                }
            }
        }

        return $this->holders[$address->number] ?? null;
    }

    /** Its file lies here: on the laptop, over HTTPS where the job has a certificate. */
    private function addFileDownload(Device $device): void
    {
        $server = $this->plan->devices[$this->plan->job->text('laptop')] ?? null;
        $service = $server?->serviceNamed(FileAddress::of($this->plan, '')->isSealed ? 'sealed-files' : 'files');
        if (null === $server || null === $service || !FileAddress::isOf($device, Face::Planned)) {
            return;
        }
        $this->add($device->key, $server, $service, new Message('{phone} fetches its file from {server}.', [
            'phone' => $device->tag,
            'server' => $server->tag,
        ]));
    }

    /** Unicast streams: the receiver requests RTSP, the sender sends every other kind. Filters do not look at multicast. */
    private function addStreams(): void
    {
        foreach ($this->plan->streams as $stream) {
            $sender = $this->plan->devices[$stream->sender] ?? null;
            if (null === $sender) {
                continue;
            }
            // Where it goes is not planned; without a port nothing can be asked for.
            $hasPort = null !== $stream->port || 'RTMP' === $stream->transport;
            if ($stream->outside && $hasPort && '' === ($sender->setting('pushUrl')->planned ?? '')) {
                $why = new Message('{stream} of {sender} leaves the site.', ['stream' => $stream->name, 'sender' => $sender->tag]);
                $this->out($sender, self::elsewhere(), self::portOf($stream), $why, isAnywhere: true);
            }
            if (!$stream->multicast) {
                foreach ($stream->receivers as $key) {
                    $receiver = $this->plan->devices[$key] ?? null;
                    if (null !== $receiver) {
                        $this->addStreamTo($stream, $sender, $receiver);
                    }
                }
            }
        }
    }

    private function addStreamTo(Stream $stream, Device $sender, Device $receiver): void
    {
        $why = new Message('{receiver} receives {stream} of {sender}.', [
            'receiver' => $receiver->tag,
            'stream' => $stream->name,
            'sender' => $sender->tag,
        ]);
        $rtsp = 'RTSP' === $stream->transport ? $sender->serviceNamed('rtsp') : null;
        if (null !== $rtsp) {
            $this->add($receiver->key, $sender, $rtsp, $why);
        }
        $here = $sender->nic()?->segment;
        $there = $receiver->nic()?->segment;
        if ('RTSP' === $stream->transport || null === $here || null === $there || $here === $there) {
            return;
        }
        $port = self::portOf($stream, $receiver);
        $this->addFlow(new Flow($sender->key, $receiver->key, $port, $port->number, $why, isServed: false));
    }

    /** The port that a stream goes to: its own, else the one at which the receiver takes such streams. */
    private static function portOf(Stream $stream, ?Device $receiver = null): Port
    {
        if ('RTMP' === $stream->transport) {
            return Port::tcp($stream->port ?? (int) StreamUrl::PORTS['rtmp']);
        }
        $taken = 'SRT' === $stream->transport ? $receiver?->serviceNamed(PushTarget::SERVICE) : null;

        return Port::udp($stream->port ?? $taken->port->number ?? self::RTP);
    }

    private function addRegistrations(): void
    {
        foreach ($this->plan->extensions as $extension) {
            $registrar = $this->plan->devices[$this->plan->accountOf($extension->key)->registrar ?? ''] ?? null;
            $service = $registrar?->serviceNamed('sip');
            if (null !== $registrar && $registrar->kind->isHosted()) {
                $this->addHostedPhone($extension, $registrar);
                continue;
            }
            if (null === $registrar || null === $service) {
                continue;
            }
            foreach ($this->plan->ringing($extension) as $device) {
                $phone = $this->plan->devices[$device] ?? null;
                if (null !== $phone) {
                    $this->registers($phone, $registrar, $service);
                }
            }
        }
    }

    /** A hosted phone registers with its provider, which also carries its audio. */
    private function addHostedPhone(Extension $extension, Device $registrar): void
    {
        foreach ($this->plan->ringing($extension) as $key) {
            $phone = $this->plan->devices[$key] ?? null;
            if (null === $phone) {
                continue;
            }
            $spoken = ValueType::List->parts(strtolower($phone->setting('transport')->planned ?? 'udp'));
            $heard = ValueType::List->parts(strtolower($registrar->setting('transport')->planned ?? 'udp'));
            $at = ['phone' => $phone->tag, 'registrar' => $registrar->tag];
            $why = new Message('{phone} registers at {registrar}, outside.', $at);
            $over = array_values(array_intersect($spoken, $heard))[0] ?? $spoken[0] ?? 'udp';
            $this->out($phone, self::elsewhere(), Registration::portOver($over), $why, isAnywhere: true);
            $sound = new Message('Audio of {phone} goes through {registrar}, outside the site.', $at);
            $this->out($phone, self::elsewhere(), Port::udp(self::ANY_MEDIA[0]), $sound, self::ANY_MEDIA[1], true);
        }
    }

    private function registers(Device $phone, Device $registrar, Service $service): void
    {
        $at = ['phone' => $phone->tag, 'registrar' => $registrar->tag];
        $this->add($phone->key, $registrar, $service, new Message('{phone} registers at {registrar}.', $at));
        $back = $phone->serviceNamed('sip');
        if (null !== $back) {
            $this->add($registrar->key, $phone, $back, new Message('{registrar} rings {phone}.', $at));
        }
    }

    /** Sound goes from end to end, each way for itself; codecs are called directly as well. */
    private function addAudio(): void
    {
        /** @var array<string, list<Device>> $speakers segment → who speaks there */
        $speakers = [];
        foreach ($this->plan->devices as $device) {
            $numbered = [] !== $this->plan->extensionsOf($device->key) || $device->kind->has(Role::Registrar);
            if (null !== $device->serviceNamed('media') && ($numbered || $device->kind->has(Role::Caller))) {
                $speakers[$device->nic()->segment ?? ''][] = $device;
            }
        }
        unset($speakers['']);
        foreach ($speakers as $here => $some) {
            foreach ($speakers as $there => $others) {
                if ($here === $there) {
                    continue;
                }
                $why = new Message('Sound from {here} to {there}.', [
                    'here' => $this->plan->segments[$here]->name,
                    'there' => $this->plan->segments[$there]->name,
                ]);
                // One of each segment speaks for all: what a rule looks at is the same for them.
                foreach ($others as $other) {
                    $service = $other->serviceNamed('media');
                    if (null !== $service) {
                        $this->add($some[0]->key, $other, $service, $why);
                    }
                }
                $service = $others[0]->serviceNamed('media');
                foreach (\array_slice($some, 1) as $one) {
                    if (null !== $service) {
                        $this->add($one->key, $others[0], $service, $why);
                    }
                }
            }
        }
    }

    /** Tests that somebody added: what is to answer has to be let through. */
    private function addAddedTests(): void
    {
        foreach ($this->plan->tests as $test) {
            $device = $this->plan->deviceTagged($test->to);
            $port = Port::tryFromString('' === $test->port ? '80/tcp' : $test->port);
            $service = null === $port ? null : $device?->service($port);
            if (null !== $device && null !== $service && isset($this->plan->segments[$test->from])) {
                $this->add(OutpostKey::on($test->from), $device, $service, new Message('A test of its own asks {tag} from {segment}.', [
                    'tag' => $device->tag,
                    'segment' => $this->plan->segments[$test->from]->name,
                ]));
            }
        }
    }

    /**
     * What outposts need for the tests of the plan: they register, call, ask for streams and push them in the place of the devices of
     * their segment.
     */
    private function addProbes(): void
    {
        $places = [];
        foreach ($this->flows as $flow) {
            $from = $this->plan->devices[$flow->from] ?? null;
            $to = $this->plan->devices[$flow->to] ?? null;
            $here = $from?->nic()?->segment;
            if (null !== $to && null !== $here && \in_array($to->service($flow->port)?->name, self::PROBED, true)) {
                $places[$here.' '.$to->key.' '.$flow->port] = [$here, $to, $flow];
            }
        }
        foreach ($places as [$here, $to, $flow]) {
            $this->addFlow(new Flow(
                OutpostKey::on($here),
                $to->key,
                $flow->port,
                $flow->last,
                $flow->why,
                isServed: $flow->isServed,
                isTest: true,
            ));
            if ('media' === $to->service($flow->port)?->name) {
                $back = new Flow($to->key, OutpostKey::on($here), $flow->port, $flow->last, $flow->why, isServed: false, isTest: true);
                $this->addFlow($back);
            }
        }
    }
}
