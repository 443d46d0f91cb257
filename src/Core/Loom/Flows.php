<?php

declare(strict_types=1);

namespace Vorhut\Core\Loom;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** What a job needs of the network between segments: from the plan alone, each with the reason why. */
final class Flows
{
    /** Ports of sound from the first on: two for each call and direction, for as many as a phone system of this size carries. */
    private const MEDIA_PORTS = 1000;
    private const DNS = 53;
    private const NTP = 123;

    /** @var array<string, Flow> */
    private array $flows = [];

    private function __construct(private readonly Plan $plan)
    {
    }

    /** @return list<Flow> only those between segments */
    public static function of(Plan $plan): array
    {
        $flows = new self($plan);
        foreach ($plan->devices as $device) {
            $flows->controlled($device);
            $flows->pointed($device);
            $flows->served($device);
            $flows->fetched($device);
        }
        $flows->registered();
        $flows->called();
        $flows->streamed();
        $flows->tested();

        return array_values($flows->flows);
    }

    private function add(string $from, Device $to, Service $service, Message $why): void
    {
        $here = str_starts_with($from, 'outposts/') ? substr($from, 9) : $this->plan->devices[$from]->nic()->segment ?? null;
        $there = $to->nic()?->segment;
        if (null === $here || null === $there || $here === $there || $service->ownSubnetOnly) {
            return;
        }
        $last = 'media' === $service->name ? $service->port->number + self::MEDIA_PORTS - 1 : $service->port->number;
        $flow = new Flow($from, $to->key, $service->port, $last, $why);
        $this->flows[$flow->key()] ??= $flow;
    }

    /** The program that controls it runs elsewhere. */
    private function controlled(Device $device): void
    {
        $segment = $this->plan->segments[$device->controlledFrom ?? ''] ?? null;
        if (null === $segment) {
            return;
        }
        foreach ($device->services() as $service) {
            if (!\in_array($service->name, ['sip', 'media'], true)) {
                $this->add('outposts/'.$segment->key, $device, $service, new Message('{tag} is controlled from {segment}.', [
                    'tag' => $device->tag,
                    'segment' => $segment->name,
                ]));
            }
        }
    }

    /** A setting of it names another device: what it has to do with that one, it does by what that one serves. */
    private function pointed(Device $device): void
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
    private function served(Device $device): void
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

    /** @var array<int, Device>|null */
    private ?array $holders = null;

    private function holder(Ipv4 $address): ?Device
    {
        if (null === $this->holders) {
            $this->holders = [];
            foreach ($this->plan->devices as $device) {
                foreach ($device->activeNics() as $nic) {
                    $held = $nic->plannedAddress();
                    null === $held || $this->holders[$held->number] ??= $device;
                }
            }
        }

        return $this->holders[$address->number] ?? null;
    }

    /** Its file lies here: on the laptop, over HTTPS where the job has a certificate. */
    private function fetched(Device $device): void
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

    /** Streams that are pulled: who receives one asks who sends it. */
    private function streamed(): void
    {
        foreach ($this->plan->streams as $stream) {
            $sender = $this->plan->devices[$stream->sender] ?? null;
            $service = 'RTSP' === $stream->transport ? $sender?->serviceNamed('rtsp') : null;
            if (null === $sender || null === $service) {
                continue;
            }
            foreach ($stream->receivers as $receiver) {
                $this->add($receiver, $sender, $service, new Message('{receiver} receives {stream} of {sender}.', [
                    'receiver' => $this->plan->devices[$receiver]->tag ?? $receiver,
                    'stream' => $stream->name,
                    'sender' => $sender->tag,
                ]));
            }
        }
    }

    private function registered(): void
    {
        foreach ($this->plan->extensions as $extension) {
            $registrar = $this->plan->devices[$this->plan->accountOf($extension->key)->registrar ?? ''] ?? null;
            $service = $registrar?->serviceNamed('sip');
            if (null === $registrar || null === $service) {
                continue;
            }
            foreach ($this->plan->ringing($extension) as $device) {
                $phone = $this->plan->devices[$device] ?? null;
                null === $phone || $this->registers($phone, $registrar, $service);
            }
        }
    }

    private function registers(Device $phone, Device $registrar, Service $service): void
    {
        $at = ['phone' => $phone->tag, 'registrar' => $registrar->tag];
        $this->add($phone->key, $registrar, $service, new Message('{phone} registers at {registrar}.', $at));
        $back = $phone->serviceNamed('sip');
        null === $back || $this->add($registrar->key, $phone, $back, new Message('{registrar} rings {phone}.', $at));
    }

    /** Sound goes from end to end, each way for itself; codecs are called directly as well. */
    private function called(): void
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
                    null === $service || $this->add($some[0]->key, $other, $service, $why);
                }
                $service = $others[0]->serviceNamed('media');
                foreach (\array_slice($some, 1) as $one) {
                    null === $service || $this->add($one->key, $others[0], $service, $why);
                }
            }
        }
    }

    /** Tests that somebody added: what is to answer has to be let through. */
    private function tested(): void
    {
        foreach ($this->plan->tests as $test) {
            $device = $this->plan->deviceTagged($test->to);
            $port = Port::tryFromString('' === $test->port ? '80/tcp' : $test->port);
            $service = null === $port ? null : $device?->service($port);
            if (null !== $device && null !== $service && isset($this->plan->segments[$test->from])) {
                $this->add('outposts/'.$test->from, $device, $service, new Message('A test of its own asks {tag} from {segment}.', [
                    'tag' => $device->tag,
                    'segment' => $this->plan->segments[$test->from]->name,
                ]));
            }
        }
    }
}
