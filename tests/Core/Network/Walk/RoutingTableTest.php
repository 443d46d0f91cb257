<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Walk;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\RoutingTable;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Tests\Support\Jobs;

final class RoutingTableTest extends TestCase
{
    private static function table(): RoutingTable
    {
        $jobs = (new Jobs())
            ->segment('a', '10.1.1.0/24')->segment('b', '10.1.0.0/16')->segment('c', '10.9.0.0/30')
            ->router('r', ['a' => '10.1.1.1/24', 'b' => '10.1.0.1/16', 'c' => '10.9.0.1/30']);
        foreach ([
            'default' => ['0.0.0.0/0', '10.9.0.2'],
            'again' => ['0.0.0.0/0', '10.1.1.9'],
            'equal' => ['10.1.1.0/24', '10.9.0.2'],
            'host' => ['10.1.1.77/32', '10.9.0.2'],
            'lost' => ['10.1.1.78/32', '172.16.0.1'],
            'wide' => ['192.0.2.0/25', '10.9.0.2'],
        ] as $key => [$destination, $via]) {
            $jobs->row('routes', ['key' => $key, 'router' => 'r', 'destination' => $destination, 'via' => $via]);
        }
        $plan = $jobs->plan();

        return new RoutingTable(array_values($plan->routerPorts), array_values($plan->routes));
    }

    public function testTheLongestPrefixDecidesAndAConnectedNetworkBeforeARouteOfItsLength(): void
    {
        $table = self::table();
        $says = static function (string $address) use ($table): array {
            $line = $table->lookUp(Ipv4::fromString($address));

            return [$line[0]->segment ?? null, $line[1]->key ?? null];
        };
        self::assertSame(['a', null], $says('10.1.1.5'), 'connected, not the route of equal length');
        self::assertSame(['b', null], $says('10.1.2.5'));
        self::assertSame(['c', 'host'], $says('10.1.1.77'), 'a host route is longer');
        self::assertSame(['a', null], $says('10.1.1.78'), 'a next hop on no interface is no route');
        self::assertSame(['c', 'wide'], $says('192.0.2.127'));
        self::assertSame(['c', 'default'], $says('192.0.2.128'), 'the first of two defaults');
        self::assertSame(['b', '10.1.1.1'], [
            $table->ownPort(Ipv4::fromString('10.1.0.1'))?->segment,
            (string) $table->ownPort(Ipv4::fromString('10.1.1.1'))?->address,
        ]);
        self::assertNull((new RoutingTable([], []))->lookUp(Ipv4::fromString('10.1.1.1')));
    }

    public function testAWalkThatWasGoneIsNotGoneAgain(): void
    {
        $plan = (new Jobs())->segment('a', '10.1.1.0/24')
            ->device('x', 'ptz-camera', 'a', ['address' => '10.1.1.5'])
            ->device('y', 'ptz-camera', 'a', ['address' => '10.1.1.6'])->plan();
        $model = NetworkModel::of($plan, Face::Planned);
        $walk = Walker::between($model, 'x', 'y', Port::tcp(80));
        self::assertSame($walk, Walker::between($model, 'x', 'y', Port::tcp(80)));
        Walker::between($model, 'y', 'x', Port::tcp(80));
        Walker::between($model, 'x', 'y', Port::udp(80));
        Walker::between($model, 'x', 'y', null);
        self::assertSame(4, $model->walked);
    }
}
