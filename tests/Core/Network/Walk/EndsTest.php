<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Walk;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\Fault;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

/** What may stand at the ends of a walk: two interfaces, routers, outposts, link-local hosts. */
final class EndsTest extends TestCase
{
    private static function job(): Jobs
    {
        return (new Jobs())
            ->segment('s1', '10.40.12.0/24', '10.40.12.1', ['outpost' => '10.40.12.250'])
            ->segment('s2', '10.40.13.0/24', '10.40.13.1')
            ->segment('s3', '10.40.14.0/24', '10.40.14.1')
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
            $jobs->row('settings', ['key' => 'nics/srv.two#'.$field, 'planned' => $value]);
        }

        return $jobs->plan();
    }

    private static function walk(Plan $plan, string $from, string $to, ?string $port = '80/tcp'): Walk
    {
        return Walker::between(NetworkModel::of($plan, Face::Planned), $from, $to, null === $port ? null : Port::fromString($port));
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

        self::assertSame(Fault::NoRoute, $walk->brokenHop()?->fault, 'a server forwards nothing');
    }

    public function testARouterIsReachedAtItsInterfaceAndAsksByItsOwnTable(): void
    {
        $plan = self::job()->device('b', 'ptz-camera', 's2', ['address' => '10.40.13.20'])->plan();

        self::assertTrue(self::walk($plan, 'a', 'r', null)->holds());
        self::assertTrue(self::walk($plan, 'r', 'b')->holds());
        self::assertSame('R', self::walk($plan, 'r', 'b')->hops[0]->label);
    }

    public function testInTheirBoxesDevicesStandAtTheirFactoryAddressAndTheLaptopWhereItWasPut(): void
    {
        $plan = self::job()
            ->device('c', 'ptz-camera', 's1', ['address' => '10.40.12.31'])
            ->device('d', 'ptz-camera', 's1', ['address' => '10.40.12.32'], ['labelAddress' => '192.168.77.9'])
            ->device('l', 'laptop', 's1', ['address' => '192.168.1.254', 'mask' => '/24', 'gateway' => ''])
            ->plan();
        $model = NetworkModel::outOfTheBox($plan);
        $at = static fn (string $device): string => $model->hostsOf($device)[0]->address.' '.$model->hostsOf($device)[0]->mask;
        self::assertSame(['192.168.1.100 /24', '192.168.77.9 /24', '192.168.1.254 /24'], [$at('c'), $at('d'), $at('l')]);
        self::assertTrue(Walker::between($model, 'l', 'c', Port::tcp(80))->holds());
        self::assertFalse(Walker::between($model, 'l', 'd', Port::tcp(80))->holds());
        self::assertSame('10.40.12.31', (string) NetworkModel::of($plan, Face::Planned)->hostsOf('c')[0]->address);
    }

    public function testAnOutpostStandsWhereTheSegmentSaysElseAtTheUpperEnd(): void
    {
        $model = NetworkModel::of(self::job()->plan(), Face::Planned);

        self::assertSame('10.40.12.250', (string) $model->outpost('s1')?->address);
        self::assertSame('10.40.13.254', (string) $model->outpost('s2')?->address);
        self::assertTrue(self::walk(self::job()->plan(), 'outposts/s2', 'a')->holds());
        self::assertSame('Outpost on S2', (string) self::walk(self::job()->plan(), 'outposts/s2', 'a')->from);
    }

    public function testLinkLocalHostsMeetOnOneWireAndNowhereElse(): void
    {
        $plan = self::job()
            ->device('x', 'ptz-camera', 's1', ['address' => '169.254.7.1', 'mask' => '/16'])
            ->device('y', 'ptz-camera', 's1', ['address' => '169.254.9.9', 'mask' => '/16'])
            ->device('z', 'ptz-camera', 's2', ['address' => '169.254.3.3', 'mask' => '/16'])->plan();

        self::assertTrue(self::walk($plan, 'x', 'y')->holds());
        self::assertSame(Fault::NextDoor, self::walk($plan, 'x', 'z')->brokenHop()?->fault);
        self::assertSame(Fault::LinkLocalOnly, self::walk($plan, 'x', 'a')->brokenHop()?->fault);
    }

    public function testTwoThatHoldOneAddressTalkToThemselves(): void
    {
        $plan = self::job()->device('t', 'ptz-camera', 's1', ['address' => '10.40.12.20'])->plan();

        self::assertSame(Fault::SameAddress, self::walk($plan, 'a', 't')->brokenHop()?->fault);
    }

    public function testSomebodyElseAnsweringInItsPlaceIsNoArrival(): void
    {
        // Plugged into s1 by mistake; another camera on s2 holds the address that is asked for.
        $plan = self::job()
            ->device('b', 'ptz-camera', 's3', ['address' => '10.40.13.20'])
            ->device('c', 'ptz-camera', 's2', ['address' => '10.40.13.20'])
            ->plan();
        $walk = self::walk($plan, 'a', 'b');

        self::assertSame(Fault::AnotherHolds, $walk->brokenHop()?->fault);
        self::assertStringContainsString('On this wire C holds 10.40.13.20, not B', (string) $walk->brokenHop()->text);
    }

    public function testTheGatewayHeldTwiceIsUnstable(): void
    {
        $plan = self::job()
            ->device('b', 'ptz-camera', 's2', ['address' => '10.40.13.20'])
            ->device('thief', 'ptz-camera', 's1', ['address' => '10.40.12.1'])
            ->plan();

        self::assertSame(Fault::GatewayDuplicate, self::walk($plan, 'a', 'b')->brokenHop()?->fault);
    }

    public function testOneWayAsksOnlyForTheRequest(): void
    {
        $plan = self::job()->device('b', 'ptz-camera', 's2', ['address' => '10.40.13.20', 'gateway' => ''])->plan();
        $model = NetworkModel::of($plan, Face::Planned);

        self::assertTrue(Walker::oneWay($model, 'a', 'b', Port::tcp(80))->holds());
        self::assertFalse(Walker::between($model, 'a', 'b', Port::tcp(80))->holds());
        self::assertFalse(Walker::oneWay($model, 'b', 'a', Port::tcp(80))->holds());
    }

    public function testTheMoreSpecificRouteWinsOverTheDefault(): void
    {
        $plan = (new Jobs())
            ->segment('s1', '10.40.12.0/24', '10.40.12.1')->segment('mid', '10.40.99.0/29')->segment('s2', '10.40.13.0/24', '10.40.13.1')
            ->router('r1', ['s1' => '10.40.12.1/24', 'mid' => '10.40.99.1/29'])
            ->router('r2', ['s2' => '10.40.13.1/24', 'mid' => '10.40.99.2/29'])
            ->row('routes', ['key' => 'd', 'router' => 'r1', 'destination' => '0.0.0.0/0', 'via' => '10.40.99.6'])
            ->row('routes', ['key' => 's', 'router' => 'r1', 'destination' => '10.40.13.0/25', 'via' => '10.40.99.2'])
            ->row('routes', ['key' => 'b', 'router' => 'r2', 'destination' => '10.40.0.0/16', 'via' => '10.40.99.1'])
            ->device('a', 'streaming-encoder', 's1', ['address' => '10.40.12.20'])
            ->device('low', 'ptz-camera', 's2', ['address' => '10.40.13.20'])
            ->device('high', 'ptz-camera', 's2', ['address' => '10.40.13.200'])
            ->plan();

        self::assertTrue(self::walk($plan, 'a', 'low')->holds());
        self::assertSame(Fault::LeftTheSite, self::walk($plan, 'a', 'high')->brokenHop()?->fault, 'by the default route');
    }
}
