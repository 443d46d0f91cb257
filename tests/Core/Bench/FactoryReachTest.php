<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\BenchSegment;
use Vorhut\Core\Bench\FactoryReach;
use Vorhut\Tests\Support\Jobs;

/** Where a device answers before anything was typed into it, and what the laptop has to be set to. */
final class FactoryReachTest extends TestCase
{
    public function testTheLaptopIsInTheNetworkOfTheFactoryAddress(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('cam', 'ptz-camera', 's', ['address' => '10.64.30.31'])
            ->device('phone', 'desk-phone-poe', 's', ['address' => '10.64.30.41'])
            ->plan();
        $reach = FactoryReach::of($plan, $plan->devices['cam']);
        self::assertNotNull($reach);
        self::assertSame(['192.168.1.100', 2], [(string) $reach->address, $reach->stop]);
        self::assertSame('192.168.1.0/24', (string) $reach->bench->network);
        self::assertTrue($reach->bench->network->contains($reach->bench->laptop));
        self::assertFalse($reach->bench->laptop->equals($reach->address));
        self::assertNull(FactoryReach::of($plan, $plan->devices['phone']), 'a DHCP client has no address of its own');

        $bench = $reach->bench->in($plan)->segments[BenchSegment::KEY];
        self::assertSame((string) $reach->bench->laptop, (string) $bench->outpost, 'the outpost of the bench is the laptop');
    }
}
