<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;

/**
 * A day at the bench as it comes: 46 devices of 35 kinds everything planned, nothing done.
 *
 * @phpstan-import-type RowData from Edit
 */
final class BenchDay
{
    private const UNREAD = ['pan2', 'mic', 'door1'];

    private Jobs $jobs;
    private int $mac = 0x10;
    private int $number = 2101;

    private function __construct()
    {
        $this->jobs = (new Jobs())
            ->segment('c', '10.72.10.0/24', '10.72.10.1')->segment('v', '10.72.20.0/24', '10.72.20.1')
            ->segment('a', '10.72.40.0/24', '10.72.40.1')->segment('l', '10.72.80.0/24', '10.72.80.1')
            ->segment('m', '10.72.60.0/24', null, ['routed' => false])->segment('i', '10.72.61.0/24', null, ['routed' => false])
            ->router('r', ['c' => '10.72.10.1/24', 'v' => '10.72.20.1/24', 'a' => '10.72.40.1/24', 'l' => '10.72.80.1/24']);
        $this->jobs->job = [
            'name' => 'Nordmole, east quay',
            'country' => 'NO',
            'timeZone' => 'Europe/Oslo',
            'ntp' => '10.72.10.5',
            'dns' => '10.72.10.5',
            'domain' => 'nordmole.example',
            'adminName' => 'Petra Solheim',
            'adminMail' => 'net@nordmole.example',
            'extensionFirst' => '2100',
            'extensionLast' => '2199',
            'emergencyNumbers' => ['112'],
            'voicemailAfter' => 4,
            'laptop' => 'lap',
        ];
    }

    public static function plan(): Plan
    {
        $day = new self();
        $day->add('lap', 'laptop', 'c', ['address' => '10.72.10.9']);
        foreach (['sw1' => '10.72.10.11', 'sw2' => '10.72.10.12'] as $key => $address) {
            $day->add($key, 'managed-switch', 'c', ['address' => $address, 'vlans' => '10, 20, 40, 80', 'poeBudget' => '370']);
        }
        $day->telephony();
        $day->pictures();
        $day->sound();
        $day->light();

        return $day->jobs->plan();
    }

    /**
     * @param array<string, string> $values
     * @param RowData               $more
     */
    private function add(string $key, string $kind, ?string $segment, array $values, array $more = []): void
    {
        $name = null === Jobs::catalogue()->kind($kind)?->setting('hostName') ? [] : ['hostName' => $key];
        $ported = null !== $segment;
        $label = ['serial' => 'QY'.strtoupper(substr(md5($key), 0, 6)), 'room' => 'Bench'];
        $this->jobs->device($key, $kind, $segment, $values + $name, $more + $label + (
            // Of some the roster does not know the MAC yet: it is read off the label when they are unpacked.
            $ported && !\in_array($key, self::UNREAD, true) ? ['mac' => \sprintf('02-00-5E-00-01-%02X', $this->mac++)] : []
        ));
    }

    /** @param array<string, string> $values */
    private function caller(string $key, string $kind, int $host, array $values = []): void
    {
        $this->add($key, $kind, 'v', ['address' => '10.72.20.'.$host, 'provisioning' => 'vorhut'] + $values);
        $more = ['name' => strtoupper($key), 'location' => 'Quay 1', 'voicemail' => true];
        $this->jobs->number((string) $this->number++, $key, null, $more);
    }

    private function licence(string $device, string $feature, int $quantity): void
    {
        $this->jobs->row('licences', [
            'key' => $device.'-licence',
            'device' => $device,
            'feature' => $feature,
            'quantity' => $quantity,
            'arrivedOn' => '2026-11-02',
        ]);
    }

    private function telephony(): void
    {
        $this->add('pbx', 'on-site-pbx', 'v', ['address' => '10.72.20.10', 'module.1' => 'two phones', 'analoguePorts' => '2']);
        foreach ([31, 32, 33, 34, 35] as $host) {
            $this->caller('ph'.$host, 'desk-phone-poe', $host, 35 === $host ? ['ringOutput' => 'headset'] : []);
        }
        foreach ([36, 37] as $host) {
            $this->caller('ph'.$host, 'desk-phone-supply', $host);
        }
        $this->caller('conf', 'conference-phone', 38);
        $this->caller('ata', 'analogue-adapter', 39);
        $this->add('aph', 'analogue-phone', null, ['portOf' => 'ata', 'portNumber' => '1']);
        $this->add('det', 'ring-detector', null, ['listensTo' => 'ph35', 'detectorSocket' => 'headset', 'drives' => 'horn1']);
        $this->add('horn1', 'ring-alerter', 'v', [
            'address' => '10.72.20.61', 'listensTo' => 'ph35', 'detectorSocket' => 'headset', 'contactMode' => 'detector',
        ]);
        $this->add('lamp1', 'visual-alerter', 'v', ['address' => '10.72.20.62']);
        $this->add('page1', 'paging-horn', 'v', ['address' => '10.72.20.63', 'groupAddress' => '239.192.20.1']);
        $this->add('door1', 'intercom-station', 'v', ['address' => '10.72.20.64', 'groupAddress' => '239.192.20.1']);
        $this->add('fax', 'fax-server', 'v', [
            'address' => '10.72.20.12', 'gatewayHost' => '10.72.20.10', 'channels' => '4', 'defaultRecipient' => 'office@nordmole.example',
            'mailServer' => 'mail.nordmole.example',
        ]);
        $this->licence('fax', 'fax-channels', 2);
    }

    private function pictures(): void
    {
        foreach (['cod1' => 21, 'cod2' => 22] as $key => $host) {
            $this->add($key, 'room-codec', 'a', ['address' => '10.72.40.'.$host]);
        }
        foreach ([1 => 23, 2 => 24] as $n => $host) {
            $this->add('bar'.$n, 'video-bar', 'a', [
                'address' => '10.72.40.'.$host,
                'roomAccount' => "room$n@nordmole.example",
                'providerMode' => 'meetings',
                'displayInput' => '1',
            ]);
            $this->add('pan'.$n, 'touch-panel', 'a', [
                'address' => '10.72.40.'.($host + 10), 'roomAccount' => "room$n@nordmole.example", 'pairedWith' => 'bar'.$n,
            ]);
        }
        $this->add('gwi', 'presentation-gateway-internet', 'a', ['address' => '10.72.40.41', 'displayInput' => '2']);
        $this->add('gwl', 'presentation-gateway-local', 'a', [
            'address' => '10.72.40.42', 'displayInput' => '2', 'ownGateway' => '10.72.40.42', 'ownDns' => '10.72.40.42',
        ]);
        foreach ([51, 52, 53] as $n => $host) {
            $this->add('cam'.($n + 1), 'ptz-camera', 'a', ['address' => '10.72.40.'.$host, 'remoteNumber' => (string) ($n + 1)]);
        }
        $this->add('enc', 'streaming-encoder', 'a', ['address' => '10.72.40.61']);
        $this->add('mon', 'monitor-receiver', 'a', ['address' => '10.72.40.62', 'source' => 'enc']);
        $this->add('srv', 'media-server', 'm', ['address' => '10.72.60.10', 'projector' => 'proj', 'hostName' => 'auditorium-1']);
        $this->jobs->port('srv', 'nic2', 'a', ['address' => '10.72.40.71']);
        $this->add('proj', 'projector', 'm', ['address' => '10.72.60.20']);
    }

    private function sound(): void
    {
        $this->add(
            'zone',
            'multi-room-controller',
            'a',
            [
                'address' => '10.72.40.81',
                'inputSource.1' => '1',
                'inputSource.2' => '2',
                'inputType.1' => 'streamer',
                'inputType.2' => 'streamer',
            ],
        );
        $this->licence('zone', 'installer', 1);
        foreach ([1 => '1', 2 => '2'] as $input => $number) {
            $this->add('src'.$input, 'multi-room-streamer', 'a', [
                'address' => '10.72.40.8'.(1 + $input), 'controller' => 'zone', 'cabledInput' => (string) $input, 'sourceNumber' => $number,
            ]);
        }
        $this->add('card', 'console-card', 'i', ['address' => '10.72.61.10']);
        $this->add('proc', 'processing-server', 'i', ['address' => '10.72.61.11', 'card' => 'card']);
        $this->add('mic', 'microphone-receiver', 'a', ['address' => '10.72.40.91']);
    }

    private function light(): void
    {
        $this->add('scn', 'scene-store', 'l', [
            'address' => '10.72.80.10', 'sceneName.1' => 'House', 'sceneName.2' => 'Show', 'sceneContact.1' => '1', 'universe' => '1',
        ]);
        $this->add('wall', 'wall-panel', null, ['controls' => 'scn', 'keyScene.1' => '1', 'keyScene.2' => '2']);
        $this->add('node', 'lighting-node', 'l', ['address' => '10.72.80.20']);
        $this->add('par', 'fixture', null, [
            'litBy' => 'node', 'universe' => '1', 'startAddress' => '1', 'fixtureMode' => '8 channels', 'footprint' => '8',
        ]);
    }
}
