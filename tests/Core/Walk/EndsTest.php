<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Walk;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Walk\Fabric;
use Vorhut\Core\Walk\Fault;
use Vorhut\Core\Walk\Walk;
use Vorhut\Core\Walk\Walker;
use Vorhut\Tests\Support\Jobs;

/** What may stand at the ends of a walk: two interfaces, routers, outposts, link-local hosts. */
final class EndsTest extends TestCase
{
    private static function job(): Jobs
    {
        return (new Jobs())
            ->segment('s1', '10.40.12.0/24', '10.40.12.1', ['outpost' => '10.40.12.250'])->segment('s2', '10.40.13.0/24', '10.40.13.1')->segment('s3', '10.40.14.0/24', '10.40.14.1')
            ->router('r', ['s1' => '10.40.12.1/24', 's2' => '10.40.13.1/24'])
            ->device('a', 'streaming-encoder', 's1', ['address' => '10.40.12.20']);
    }

    /** @param array<string, string> $second values of its second interface, on s3 */
    private static function withServer(array $second): Plan
    {
        $jobs = self::job()->device('srv', 'room-codec', 's2', ['address' => '10.40.13.20', 'gateway' => '10.40.13.1'])
            ->device('n', 'ptz-camera', 's3', ['address' => '10.40.14.9', 'gateway' => ''])
            ->row('nics', ['key' => 'srv.two', 'device' => 'srv', 'name' => 'two', 'segment' => 's3', 'mode' => 'static']);
        foreach ($second as $field => $value) {
            $jobs->row('values', ['key' => 'nics/srv.two#'.$field, 'owner' => 'nics/srv.two', 'field' => $field, 'planned' => $value]);
        }

        return $jobs->plan();
    }

    private static function walk(Plan $plan, string $from, string $to, ?string $port = '80/tcp'): Walk
    {
        return Walker::between(Fabric::of($plan, Face::Planned), $from, $to, null === $port ? null : Port::fromString($port));
    }

    public function testTwoInterfacesTakeTheConnectedNetworkElseTheOneGateway(): void
    {
        $plan = self::withServer(['address' => '10.40.14.20', 'gateway' => '']);

        self::assertTrue(self::walk($plan, 'srv', 'n')->holds(), 'out of the second interface, without a gateway');
        self::assertSame('s3', self::walk($plan, 'srv', 'n')->hops[0]->segment);
        self::assertTrue(self::walk($plan, 'a', 'srv')->holds(), 'in and out by the first');
        self::assertTrue(self::walk($plan, 'srv', 'a')->holds());
    }

    public function testAPeerBehindTheIsolatedInterfaceIsNotReachedThroughTheServer(): void
    {
        $walk = self::walk(self::withServer(['address' => '10.40.14.20', 'gateway' => '']), 'a', 'n');

        self::assertSame(Fault::NoRoute, $walk->broken()?->fault, 'a server forwards nothing');
    }

    public function testARouterIsReachedAtItsInterfaceAndAsksByItsOwnTable(): void
    {
        $plan = self::job()->device('b', 'ptz-camera', 's2', ['address' => '10.40.13.20'])->plan();

        self::assertTrue(self::walk($plan, 'a', 'r', null)->holds());
        self::assertTrue(self::walk($plan, 'r', 'b')->holds());
        self::assertSame('R', self::walk($plan, 'r', 'b')->hops[0]->label);
    }

    public function testAnOutpostStandsWhereTheSegmentSaysElseAtTheUpperEnd(): void
    {
        $fabric = Fabric::of(self::job()->plan(), Face::Planned);

        self::assertSame('10.40.12.250', (string) $fabric->outpost('s1')?->address);
        self::assertSame('10.40.13.254', (string) $fabric->outpost('s2')?->address);
        self::assertTrue(self::walk(self::job()->plan(), 'outposts/s2', 'a')->holds());
        self::assertSame('Outpost on S2', self::walk(self::job()->plan(), 'outposts/s2', 'a')->from);
    }

    public function testLinkLocalHostsMeetOnOneWireAndNowhereElse(): void
    {
        $plan = self::job()
            ->device('x', 'ptz-camera', 's1', ['address' => '169.254.7.1', 'mask' => '/16'])
            ->device('y', 'ptz-camera', 's1', ['address' => '169.254.9.9', 'mask' => '/16'])
            ->device('z', 'ptz-camera', 's2', ['address' => '169.254.3.3', 'mask' => '/16'])->plan();

        self::assertTrue(self::walk($plan, 'x', 'y')->holds());
        self::assertSame(Fault::NextDoor, self::walk($plan, 'x', 'z')->broken()?->fault);
        self::assertSame(Fault::LinkLocalOnly, self::walk($plan, 'x', 'a')->broken()?->fault);
    }

    public function testTwoThatHoldOneAddressTalkToThemselves(): void
    {
        $plan = self::job()->device('t', 'ptz-camera', 's1', ['address' => '10.40.12.20'])->plan();

        self::assertSame(Fault::SameAddress, self::walk($plan, 'a', 't')->broken()?->fault);
    }

    public function testSomebodyElseAnsweringInItsPlaceIsNoArrival(): void
    {
        // Plugged into s1 by mistake; another camera on s2 holds the address that is asked for.
        $plan = self::job()->device('b', 'ptz-camera', 's3', ['address' => '10.40.13.20'])->device('c', 'ptz-camera', 's2', ['address' => '10.40.13.20'])->plan();
        $walk = self::walk($plan, 'a', 'b');

        self::assertSame(Fault::AnotherHolds, $walk->broken()?->fault);
        self::assertStringContainsString('On this wire C holds 10.40.13.20, not B', (string) $walk->broken()->text);
    }

    public function testTheGatewayHeldTwiceIsUnstable(): void
    {
        $plan = self::job()->device('b', 'ptz-camera', 's2', ['address' => '10.40.13.20'])->device('thief', 'ptz-camera', 's1', ['address' => '10.40.12.1'])->plan();

        self::assertSame(Fault::GatewayDuplicate, self::walk($plan, 'a', 'b')->broken()?->fault);
    }

    public function testOneWayAsksOnlyForTheRequest(): void
    {
        $plan = self::job()->device('b', 'ptz-camera', 's2', ['address' => '10.40.13.20', 'gateway' => ''])->plan();
        $fabric = Fabric::of($plan, Face::Planned);

        self::assertTrue(Walker::oneWay($fabric, 'a', 'b', Port::tcp(80), 50000)->holds());
        self::assertFalse(Walker::between($fabric, 'a', 'b', Port::tcp(80))->holds());
        self::assertFalse(Walker::oneWay($fabric, 'b', 'a', Port::tcp(80), 50000)->holds());
    }

    public function testTheMoreSpecificRouteWinsOverTheDefault(): void
    {
        $plan = (new Jobs())
            ->segment('s1', '10.40.12.0/24', '10.40.12.1')->segment('mid', '10.40.99.0/29')->segment('s2', '10.40.13.0/24', '10.40.13.1')
            ->router('r1', ['s1' => '10.40.12.1/24', 'mid' => '10.40.99.1/29'])->router('r2', ['s2' => '10.40.13.1/24', 'mid' => '10.40.99.2/29'])
            ->row('routes', ['key' => 'd', 'router' => 'r1', 'destination' => '0.0.0.0/0', 'via' => '10.40.99.6'])
            ->row('routes', ['key' => 's', 'router' => 'r1', 'destination' => '10.40.13.0/25', 'via' => '10.40.99.2'])
            ->row('routes', ['key' => 'b', 'router' => 'r2', 'destination' => '10.40.0.0/16', 'via' => '10.40.99.1'])
            ->device('a', 'streaming-encoder', 's1', ['address' => '10.40.12.20'])
            ->device('low', 'ptz-camera', 's2', ['address' => '10.40.13.20'])->device('high', 'ptz-camera', 's2', ['address' => '10.40.13.200'])->plan();

        self::assertTrue(self::walk($plan, 'a', 'low')->holds());
        self::assertSame(Fault::NextHopMissing, self::walk($plan, 'a', 'high')->broken()?->fault, 'by the default, where nobody answers');
    }
}
