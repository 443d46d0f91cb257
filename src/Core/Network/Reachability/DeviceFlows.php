<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Text\Message;

/** What single devices need: their control program, devices that their settings name, DNS, NTP and their file. */
final readonly class DeviceFlows implements FlowSource
{
    private const DNS = 53;
    private const NTP = 123;

    public function __construct(private FlowList $flows)
    {
    }

    public function collect(): void
    {
        foreach ($this->flows->plan->devices as $device) {
            $this->addControl($device);
            $this->addReferences($device);
            $this->addSiteServices($device);
            $this->addFileDownload($device);
            $this->addServersOutside($device);
        }
    }

    /** The program that controls it runs elsewhere. */
    private function addControl(Device $device): void
    {
        $segment = $this->flows->plan->segments[$device->controlledFrom ?? ''] ?? null;
        if (null === $segment) {
            return;
        }
        foreach ($device->services() as $service) {
            if (!\in_array($service->name, ['sip', 'media'], true)) {
                $this->flows->add(OutpostKey::on($segment->key), $device, $service, new Message('{tag} is controlled from {segment}.', [
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
            $other = $this->flows->plan->devices[$device->setting($name)->planned ?? ''] ?? null;
            if (null === $other) {
                continue;
            }
            foreach ($other->services() as $service) {
                if ('media' !== $service->name) {
                    $this->flows->add($device->key, $other, $service, new Message('{label} of {tag} is {other}.', [
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
        $segment = $this->flows->plan->segmentOf($device);
        if (null === $segment || $device->kind->has(Role::Forwards)) {
            return;
        }
        $dns = $segment->dnsServer($this->flows->plan->job);
        foreach ([
            [$dns, self::DNS, 'On {segment} names are asked of {other}.'],
            [Ipv4::tryFromString($this->flows->plan->job->text('ntp')), self::NTP, 'On {segment}, time comes from {other}.'],
        ] as [$address, $number, $why]) {
            $other = null === $address ? null : $this->flows->holder($address);
            $service = null === $other ? null : $other->service(Port::udp($number));
            if (null !== $other && null !== $service && $other !== $device) {
                $this->flows->add($device->key, $other, $service, new Message($why, ['segment' => $segment->name, 'other' => $other->tag]));
            }
        }
    }

    /** Its file lies here: on the laptop, over HTTPS where the job has a certificate. */
    private function addFileDownload(Device $device): void
    {
        $server = $this->flows->plan->devices[$this->flows->plan->job->text('laptop')] ?? null;
        $service = $server?->serviceNamed(FileAddress::of($this->flows->plan, '')->isSealed ? 'sealed-files' : 'files');
        if (null === $server || null === $service || !FileAddress::isOf($device, Face::Planned)) {
            return;
        }
        $this->flows->add($device->key, $server, $service, new Message('{phone} fetches its file from {server}.', [
            'phone' => $device->tag,
            'server' => $server->tag,
        ]));
    }

    /** DNS and NTP, unless a device of the job is the server. */
    private function addServersOutside(Device $device): void
    {
        $segment = $this->flows->plan->segmentOf($device);
        $nic = $device->nic();
        $gateway = Ipv4::tryFromString($nic?->setting('gateway')->planned ?? '');
        // A device that is planned without a way out is not meant to ask anybody outside its segment.
        $held = $nic?->plannedAddress();
        if (null === $segment || null === $held || null === $gateway || $gateway->equals($held) || $device->kind->has(Role::Forwards)) {
            return;
        }
        $dns = $segment->dnsServer($this->flows->plan->job);
        foreach ([
            [$dns, self::DNS, '{segment} uses the DNS server {server}.'],
            [Ipv4::tryFromString($this->flows->plan->job->text('ntp')), self::NTP, '{segment} uses the time server {server}.'],
        ] as [$address, $number, $why]) {
            if (null !== $address && null === $this->flows->holder($address) && !$segment->network->contains($address)) {
                $at = ['segment' => $segment->name, 'server' => (string) $address];
                $this->flows->out($device, $address, Port::udp($number), new Message($why, $at));
            }
        }
    }
}
