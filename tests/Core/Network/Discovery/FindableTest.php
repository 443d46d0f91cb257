<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Discovery;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Network\Discovery\Findable;
use Vorhut\Core\Network\Discovery\Method;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;
use Vorhut\Tests\Support\Jobs;

/** By which ways a device is found from beside it and from across a router, and why not. */
final class FindableTest extends TestCase
{
    private static function job(): Jobs
    {
        $jobs = (new Jobs())->segment('s1', '10.40.1.0/24', '10.40.1.1', ['dns' => '10.40.2.53'])
            ->segment('s2', '10.40.2.0/24', '10.40.2.1')
            ->router('r', ['s1' => '10.40.1.1/24', 's2' => '10.40.2.1/24'])
            ->device('cam', 'ptz-camera', 's2', ['address' => '10.40.2.20', 'hostName' => 'cam-1'])
            ->device('sw', 'managed-switch', 's2', ['address' => '10.40.2.21'])
            ->device('node', 'lighting-node', 's2', ['address' => '10.40.2.22']);

        return $jobs;
    }

    /** @return array<string, bool|null> */
    private static function found(Jobs $jobs, string $place, string $device): array
    {
        $plan = $jobs->plan();
        $found = [];
        foreach (Findable::all(NetworkModel::of($plan, Face::Set), $place, $plan->devices[$device]) as $one) {
            $found[$one->method->code] = $one->found;
        }

        return $found;
    }

    public function testBesideItEveryWayFindsItAndAcrossARouterOnlyItsAddress(): void
    {
        self::assertSame(
            ['mdns' => true, 'ws-discovery' => true, 'range' => true, 'name' => false],
            self::found(self::job(), 's2', 'cam'),
            'on its own wire nobody said which DNS server is asked',
        );
        self::assertSame(
            ['mdns' => false, 'ws-discovery' => false, 'range' => true, 'name' => null],
            self::found(self::job(), 's1', 'cam'),
            'whether the name is known there, the administrator says',
        );
        self::assertSame(['lldp' => false, 'range' => true, 'name' => false], self::found(self::job(), 's1', 'sw'));
        self::assertSame(['lldp' => true, 'range' => true, 'name' => false], self::found(self::job(), 's2', 'sw'));
        self::assertFalse(self::found(self::job(), 's1', 'node')['broadcast']);
        self::assertFalse(self::found(self::job(), 's1', 'node')['range'], 'it serves its own subnet only');
    }

    public function testGroupsThatAreRoutedAreHeardAsFarAsTheirTimeToLiveGoes(): void
    {
        $jobs = self::job()->change('routerPorts', 'r-s1', 'multicast', true)->change('routerPorts', 'r-s2', 'multicast', true);
        // One router is on the way: a time to live of 1 ends at it, one of 2 does not; mDNS is not passed on by anybody.
        self::assertFalse(self::found($jobs, 's1', 'cam')['ws-discovery']);
        self::assertFalse(self::found($jobs, 's1', 'cam')['mdns']);
        $gateway = static fn (Jobs $jobs): Jobs => $jobs->device('gw', 'monitor-receiver', 's2', ['address' => '10.40.2.30']);
        self::assertTrue(self::found($gateway($jobs), 's1', 'gw')['ssdp']);
        self::assertFalse(self::found($gateway(self::job()), 's1', 'gw')['ssdp']);
    }

    public function testAnAnswerByUnicastNeedsAWayBack(): void
    {
        // The camera still has the address of another place, and no gateway.
        $jobs = self::job()->row('settings', ['key' => 'nics/cam.lan#address', 'set' => '192.0.2.20'])
            ->row('settings', ['key' => 'nics/cam.lan#mask', 'set' => '/24'])
            ->row('settings', ['key' => 'nics/cam.lan#gateway', 'set' => '']);
        $found = self::found($jobs, 's2', 'cam');
        self::assertSame([true, false], [$found['mdns'], $found['ws-discovery']], 'mDNS answers to the group, WS-Discovery does not');
        $jobs = self::job()->device('gw', 'monitor-receiver', 's2', ['address' => '10.40.2.30'])
            ->change('routerPorts', 'r-s1', 'multicast', true)->change('routerPorts', 'r-s2', 'multicast', true);
        $jobs->row('settings', ['key' => 'nics/gw.lan#mask', 'set' => '/16']);
        self::assertFalse(self::found($jobs, 's1', 'gw')['ssdp'], 'by its mask the asker is on its own segment');
    }

    public function testADnsServerOfTheJobHasToBeReached(): void
    {
        $jobs = self::job()->device('dns', 'name-and-address-server', 's2', ['address' => '10.40.2.53']);
        self::assertNull(self::found($jobs, 's1', 'cam')['name']);
        $jobs->row('settings', ['key' => 'nics/dns.lan#gateway', 'planned' => '']);
        self::assertFalse(self::found($jobs, 's1', 'cam')['name']);
    }

    public function testWhatKindsMayNameIsWhatThereIs(): void
    {
        $schema = (string) file_get_contents(\dirname(__DIR__, 4).'/schema/kind.schema.json');
        self::assertSame(1, preg_match('/"discovery":.*?"enum": \[([^\]]*)\]/s', $schema, $found));
        self::assertSame(array_keys(Method::all()), json_decode('['.$found[1].']'));
    }
}
