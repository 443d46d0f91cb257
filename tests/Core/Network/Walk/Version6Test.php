<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Walk;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Rule\Version6OffItsNetwork;
use Vorhut\Core\Network\Walk\Fault;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Tests\Support\Jobs;

/** The walk by IPv6: the same code, held against a kernel in tests/Contract. */
final class Version6Test extends TestCase
{
    /** A and D on one wire, B behind the router, C behind a second one. */
    private static function jobs(): Jobs
    {
        $jobs = new Jobs();
        foreach (['s0', 's1', 's2', 'mid'] as $n => $key) {
            $jobs->segment($key, "10.40.$n.0/24", null, ['network6' => "2001:db8:40:$n::/64", 'gateway6' => 'fe80::1']);
        }
        $jobs->router('r0', ['s0' => '10.40.0.1/24', 's1' => '10.40.1.1/24', 'mid' => '10.40.3.1/24'])
            ->router('r1', ['s2' => '10.40.2.1/24', 'mid' => '10.40.3.2/24'], true, true);
        foreach (['r0-s0' => '0::1', 'r0-s1' => '1::1', 'r0-mid' => '3::1', 'r1-s2' => '2::1', 'r1-mid' => '3::2'] as $port => $at) {
            $jobs->change(
                'routerPorts',
                $port,
                'address6',
                "2001:db8:40:$at/64",
            )->change('routerPorts', $port, 'local6', 'r1-mid' === $port ? 'fe80::2' : 'fe80::1');
        }
        $jobs->row('routes6', ['key' => 'to', 'router' => 'r0', 'destination' => '2001:db8:40:2::/64', 'via' => '2001:db8:40:3::2'])
            ->row('routes6', ['key' => 'from', 'router' => 'r1', 'destination' => '::/0', 'via' => '2001:db8:40:3::1']);
        foreach ([
            'a' => ['s0', '0::11'],
            'd' => ['s0', '0::14'],
            'b' => ['s1', '1::12'],
            'c' => ['s2', '2::13'],
        ] as $host => [$wire, $at]) {
            $jobs->device($host, 'ptz-camera', $wire)->change('nics', $host.'.lan', 'address6', "2001:db8:40:$at/64");
        }

        return $jobs;
    }

    private static function walk(Jobs $jobs, string $from, string $to): Walk
    {
        return Walker::between(NetworkModel::ofVersion6($jobs->plan(), Face::Planned), $from, $to, Port::tcp(80));
    }

    public function testItGoesByItsOwnWireByAGatewayOnTheWireAndByRoutes(): void
    {
        foreach (['a>d', 'a>b', 'b>a', 'a>c', 'c>b'] as $pair) {
            [$from, $to] = explode('>', $pair);
            $walk = self::walk(self::jobs(), $from, $to);
            self::assertTrue($walk->holds(), $pair.': '.$walk->brokenHop()?->text);
        }
        $walk = self::walk(self::jobs(), 'a', 'c');
        self::assertSame('2001:db8:40::11', (string) $walk->destination, 'the answer goes back to it');
        self::assertStringContainsString('A hands it to its gateway fe80::1.', implode(' ', array_map(
            static fn ($hop): string => (string) $hop->text,
            $walk->hops,
        )));
        self::assertContains('nics/a.lan:address6=2001:db8:40::11', array_map(strval(...), $walk->facts->texts()));
    }

    public function testTheFirstAddressOfANetworkIsThatOfItsRouters(): void
    {
        // RFC 4291 §2.6.1: whoever sends to the subnet-router anycast address reaches a router on it.
        $walk = self::walk(self::jobs()->change('nics', 'a.lan', 'gateway6', '2001:db8:40::'), 'a', 'b');
        self::assertTrue($walk->holds(), (string) $walk->brokenHop()?->text);
        $model = NetworkModel::ofVersion6(self::jobs()->plan(), Face::Planned);
        self::assertSame('routerPorts/r0-s0', $model->holders('s0', Ipv6::fromString('2001:db8:40::'))[0]->ref ?? null);
        self::assertSame([], $model->holders('s1', Ipv6::fromString('2001:db8:40::')), 'not on another segment');
        self::assertSame('r0-s1', $model->routingTable('r0')->ownPort(Ipv6::fromString('2001:db8:40:1::'))?->key);
    }

    /** @return iterable<string, array{string, string, mixed, string, Fault}> record, field, value, pair, fault */
    public static function slips(): iterable
    {
        yield 'gateway of another network' => ['nics/a.lan', 'gateway6', '2001:db8:40:7::1', 'a>b', Fault::GatewayOutside];
        yield 'gateway that nobody holds' => ['nics/a.lan', 'gateway6', '2001:db8:40::9', 'a>b', Fault::NoSuchGateway];
        yield 'one on its own wire that nobody holds' => ['nics/a.lan', 'gateway6', 'fe80::9', 'a>b', Fault::NoSuchGateway];
        yield 'gateway that is a host' => ['nics/a.lan', 'gateway6', '2001:db8:40::14', 'a>b', Fault::GatewayIsHost];
        yield 'no gateway' => ['segments/s0', 'gateway6', null, 'a>b', Fault::NoGateway];
        yield 'too wide a network' => ['nics/a.lan', 'address6', '2001:db8:40::11/48', 'a>b', Fault::NextDoor];
        yield 'the same for the answer' => ['nics/b.lan', 'address6', '2001:db8:40:1::12/48', 'a>b', Fault::NextDoor];
        yield 'one address twice' => ['nics/d.lan', 'address6', '2001:db8:40::11/64', 'b>a', Fault::Duplicate];
        yield 'plugged in elsewhere' => ['nics/b.lan', 'segment', 's0', 'c>b', Fault::NoHolder];
        yield 'none on record' => ['nics/b.lan', 'address6', null, 'a>b', Fault::NotPlugged];
        yield 'only one for its own wire' => ['nics/a.lan', 'address6', 'fe80::11/64', 'a>b', Fault::LinkLocalOnly];
        yield 'a router without one there' => ['routerPorts/r0-s1', 'address6', null, 'a>b', Fault::NoRoute];
        yield 'a route by nobody' => ['routes6/to', 'via', '2001:db8:40:3::9', 'a>c', Fault::NextHopMissing];
        yield 'a route for another' => ['routes6/to', 'destination', '2001:db8:40:4::/64', 'a>c', Fault::NoRoute];
    }

    #[DataProvider('slips')]
    public function testASlipBreaksItWhereItIs(string $record, string $field, mixed $value, string $pair, Fault $fault): void
    {
        [$section, $key] = explode('/', $record);
        [$from, $to] = explode('>', $pair);
        $jobs = self::jobs();
        $jobs->change($section, $key, $field, \is_string($value) ? $value : null);
        self::assertSame($fault, self::walk($jobs, $from, $to)->brokenHop()?->fault);
    }

    public function testFiltersBySegmentAndPortHoldForBothThoseByAddressForTheirOwn(): void
    {
        $rule = ['key' => 'f', 'router' => 'r0', 'position' => 1, 'from' => 's0', 'to' => 's1', 'transport' => 'tcp', 'action' => 'deny'];
        self::assertSame(Fault::Filtered, self::walk(self::jobs()->row('filters', $rule), 'a', 'b')->brokenHop()?->fault);
        $jobs = self::jobs()->row('filters', $rule + ['fromAddresses' => ['10.40.0.0-10.40.0.255']]);
        self::assertTrue(self::walk($jobs, 'a', 'b')->holds());
    }

    /** @return list<string> */
    private static function found(Jobs $jobs): array
    {
        return array_map(
            static fn (Finding $one): string => $one->code,
            Findings::of($jobs->plan(), [new Version6OffItsNetwork()])->all,
        );
    }

    public function testWhatContradictsItselfIsFound(): void
    {
        self::assertSame([], self::found(self::jobs()));
        $change = static fn (string $section, string $key, string $field, ?string $value): Jobs => self::jobs()
            ->change($section, $key, $field, $value);
        self::assertSame(['ipv6-off-its-network'], self::found($change('nics', 'a.lan', 'address6', '2001:db8:40:7::11/64')));
        self::assertSame(['ipv6-off-its-network'], self::found($change('nics', 'a.lan', 'address6', '2001:db8:40::11/48')));
        self::assertSame(['ipv6-off-its-network'], self::found($change('routerPorts', 'r0-s0', 'address6', '2001:db8:40:7::1/64')));
        self::assertSame(['ipv6-held-twice'], self::found($change('nics', 'a.lan', 'address6', '2001:db8:40::14/64')));
        self::assertSame(['ipv6-gateway-not-found'], self::found($change('nics', 'a.lan', 'gateway6', 'fe80::2')));
        self::assertSame([], self::found(
            $change('nics', 'a.lan', 'gateway6', 'fe80::2')->change('routerPorts', 'r0-s0', 'address6', null),
        ), 'where no router of ours is, the administrator\'s may be');
        self::assertSame([], self::found($change('segments', 's0', 'network6', null)));
    }
}
