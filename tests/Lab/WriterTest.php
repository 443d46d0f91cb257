<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\FactoryReach;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Outpost\Device\NotWritten;
use Vorhut\Outpost\Device\Readback;
use Vorhut\Outpost\Device\Reader;
use Vorhut\Outpost\Device\Writer;
use Vorhut\Outpost\Probe\Http;
use Vorhut\Outpost\Probe\NetworkAccess;
use Vorhut\Outpost\Probe\SiteAccess;
use Vorhut\Outpost\Probe\VantagePoints;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\LabBench;

/** Settings that are written over the network, into devices as they come and into devices that were set. */
final class WriterTest extends TestCase
{
    private const NET = 151;

    private ?LabBench $bench = null;

    protected function tearDown(): void
    {
        $this->bench?->close();
    }

    /** @param list<string> $steps that were done at the new camera */
    private function bench(array $steps = ['unpack', 'hook-up'], int $net = self::NET): LabBench
    {
        return $this->bench = new LabBench($net, static function (Jobs $jobs) use ($steps, $net): void {
            $jobs->device('new', 'ptz-camera', 'q', ['address' => "10.$net.40.77", 'gateway' => "10.$net.40.1", 'hostName' => 'cam-new'])
                ->done('new', ...$steps);
        });
    }

    /**
     * @param array<string, string> $passwords
     *
     * @return array{change: Change, seen: Readback|null, said: \Vorhut\Core\Text\Message}
     */
    private static function write(NetworkAccess $access, Plan $plan, Device $device, array $passwords): array
    {
        $http = new Http($access);

        return (new Writer($access, $http, new Reader($http), 6.0))->write(new VantagePoints($plan, $access), $device, $passwords);
    }

    public function testADeviceAsItComesGetsItsAddressFirstAndTheRestThere(): void
    {
        $bench = $this->bench();
        $device = $bench->plan->devices['new'];
        $reach = FactoryReach::of($bench->plan, $device);
        self::assertSame((string) $device->factory->address, (string) $reach?->address);
        self::assertSame((string) $device->factory->address, $bench->job->standIn('new')?->state->get('address'));

        $result = self::write($bench->access(), $bench->plan, $device, ['factory' => 'admin']);

        self::assertSame('Written to NEW at 10.151.40.77.', (string) $result['said']);
        self::assertSame('10.151.40.77', $bench->job->standIn('new')->state->get('address'));
        self::assertSame('cam-new', $bench->job->standIn('new')->state->get('hostName'));
        self::assertSame('10.151.40.1', $result['seen']?->seen['lan.gateway'] ?? null);
        $set = array_column(array_map(static fn ($edit): array => [$edit->key, $edit->after], $result['change']->edits), 1, 0);
        self::assertSame('10.151.40.77', $set['nics/new.lan#address']);
        self::assertSame('cam-new', $set['devices/new#hostName']);
        self::assertSame('10.151.40.31', $bench->job->standIn('cam')?->state->get('address'), 'a camera that is set stays as it is');
    }

    public function testWhatStandsInTheWayIsToldApart(): void
    {
        $bench = $this->bench();
        $device = $bench->plan->devices['new'];
        $why = static function (NetworkAccess $access, Plan $plan, array $passwords) use ($device): string {
            try {
                /** @var array<string, string> $passwords */
                return (string) self::write($access, $plan, $device, $passwords)['said'];
            } catch (NotWritten $e) {
                return $e->getMessage();
            }
        };
        $factory = (string) $device->factory->address;
        self::assertStringContainsString(
            "At $factory it refused every password that is known of it.",
            $why($bench->access(), $bench->plan, ['factory' => 'wrong']),
        );
        $none = $why(new SiteAccess(), $bench->plan, ['factory' => 'admin']);
        self::assertStringContainsString("At its factory address $factory: no adapter of this machine is in", $none);
        self::assertMatchesRegularExpression('~Set the laptop to [0-9.]+/[0-9]+, as for stop [0-9]+~', $none);
        self::assertStringContainsString('On its own segment: no adapter of this machine is in', $none);
        $bench->job->standIn('new')?->off();
        $silent = $why($bench->access(), $bench->plan, ['factory' => 'admin']);
        self::assertStringContainsString("At $factory: nothing came back within", $silent);
        self::assertStringContainsString('It may be off, still starting, at another address, or its port in another VLAN.', $silent);
    }
}
