<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Walk;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\Cure;
use Vorhut\Core\Network\Walk\Fault;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

final class WalkTest extends TestCase
{
    /**
     * Two segments behind one router, an encoder A and a camera B: the ground of the handbook's worked examples.
     *
     * @param array<string, string> $a
     * @param array<string, string> $b
     */
    private static function job(array $a = [], array $b = [], bool $allow = true, bool $stateful = true): Jobs
    {
        return (new Jobs())
            ->segment('s1', '10.40.12.0/24', '10.40.12.1')
            ->segment('s2', '10.40.13.0/24', '10.40.13.1')
            ->router('r1', ['s1' => '10.40.12.1/24', 's2' => '10.40.13.1/24'], $allow, $stateful)
            ->device('a', 'streaming-encoder', 's1', $a + ['address' => '10.40.12.20'])
            ->device('b', 'ptz-camera', 's2', $b + ['address' => '10.40.13.20']);
    }

    private static function walk(
        Plan $plan,
        string $port = '80/tcp',
        Face $face = Face::Planned,
        string $from = 'a',
        string $to = 'b',
    ): Walk {
        return Walker::between(NetworkModel::of($plan, $face), $from, $to, Port::fromString($port));
    }

    private static function assertCured(
        Plan $plan,
        string $expected,
        string $port = '80/tcp',
        Face $face = Face::Planned,
        string $from = 'a',
        string $to = 'b',
    ): void {
        $cure = Cure::of($plan, $face, $from, $to, Port::fromString($port));
        self::assertNotNull($cure);
        self::assertSame($expected, (string) $cure->why);
        self::assertTrue(self::walk($plan->with($cure), $port, $face, $from, $to)->holds());
    }

    public function testTheRightJobHoldsBothWays(): void
    {
        $walk = self::walk(self::job()->plan());

        self::assertSame('holds', $walk->verdict());
        self::assertSame(['A', 'R1', 'B', 'B', 'B', 'R1', 'A'], array_map(static fn ($hop): string => (string) $hop->label, $walk->hops));
    }

    public function testAMaskTooWideAtTheFarEndLosesTheAnswer(): void
    {
        $plan = self::job(b: ['mask' => '/22'])->plan();
        $walk = self::walk($plan);

        self::assertTrue($walk->isOneWay());
        self::assertSame(Fault::NextDoor, $walk->brokenHop()?->fault);
        self::assertSame('B', $walk->brokenHop()->label);
        self::assertStringContainsString('treats A as local', (string) $walk->brokenHop()->text);
        self::assertCured($plan, 'Give B the mask /24 of its segment.');
    }

    public function testABlankGatewayAtTheFarEndIsTheClassicFault(): void
    {
        $plan = self::job(b: ['gateway' => ''])->plan();
        $walk = self::walk($plan);

        self::assertSame('one-way', $walk->verdict());
        self::assertSame(
            'The request arrives, the answer cannot leave: B has no gateway, and 10.40.12.20 is not in its 10.40.13.0/24.',
            (string) $walk->brokenHop()?->text,
        );
        self::assertCured($plan, 'Give B the gateway 10.40.13.1.');
    }

    public function testAMaskTooNarrowPutsThePeerAtTheEdge(): void
    {
        $plan = self::job()->device('c', 'ptz-camera', 's1', ['address' => '10.40.12.23', 'mask' => '/24'])->plan();
        $narrow = self::job(['mask' => '/29', 'address' => '10.40.12.20'])
            ->device('c', 'ptz-camera', 's1', ['address' => '10.40.12.23'])
            ->plan();

        self::assertTrue(self::walk($plan, to: 'c')->holds());
        self::assertSame(Fault::EdgeOfOwnMask, self::walk($narrow, to: 'c')->brokenHop()?->fault);
        self::assertCured($narrow, 'Give A the mask /24 of its segment.', to: 'c');
    }

    public function testEveryWayAGatewayCanBeWrong(): void
    {
        $wrong = [
            '10.40.13.1' => Fault::GatewayOutside,
            '10.40.12.9' => Fault::NoSuchGateway,
            '10.40.12.20' => Fault::GatewayIsSelf,
            '' => Fault::NoGateway,
            '10.40.12.30' => Fault::GatewayIsHost,
        ];
        foreach ($wrong as $gateway => $fault) {
            $plan = self::job(['gateway' => (string) $gateway])->device('h', 'ptz-camera', 's1', ['address' => '10.40.12.30'])->plan();
            self::assertSame($fault, self::walk($plan)->brokenHop()?->fault, (string) $gateway);
            self::assertCured($plan, 'Give A the gateway 10.40.12.1.');
        }
    }

    public function testItsOwnGatewayReachesEverythingOnItsWireEvenForeignAddresses(): void
    {
        $plan = self::job(['gateway' => '10.40.12.20'])->device('f', 'ptz-camera', 's1', [
            'address' => '192.0.2.9',
            'mask' => '/24',
            'gateway' => '192.0.2.9',
        ])->plan();

        self::assertTrue(self::walk($plan, to: 'f')->holds());
    }

    public function testTwoHoldersOfOneAddressAreUnstableAndTheMisplacedOneMoves(): void
    {
        $plan = self::job()->device('c', 'ptz-camera', 's2', ['address' => '10.40.13.21', 'address.set' => '10.40.13.20'])->plan();

        self::assertTrue(self::walk($plan)->holds(), 'in the plan they differ');
        self::assertSame(Fault::Duplicate, self::walk($plan, face: Face::Set)->brokenHop()?->fault);
        self::assertCured($plan, 'Give C the address 10.40.13.21.', face: Face::Set);
    }

    public function testTheFilterAsksForTheOnePairAndPort(): void
    {
        $plan = self::job(allow: false)->plan();
        $cure = Cure::of($plan, Face::Planned, 'a', 'b', Port::fromString('554/tcp'));

        self::assertSame(Fault::Filtered, self::walk($plan, '554/tcp')->brokenHop()?->fault);
        self::assertSame('Ask for a rule at R1: allow 554/tcp from S1 to S2.', (string) $cure?->why);
        self::assertTrue(self::walk($plan->with($cure ?? throw new \LogicException()), '554/tcp')->holds());
        self::assertFalse(self::walk($plan->with($cure), '80/tcp')->holds(), 'no more than was asked for');
    }

    public function testAnswersPassOnlyWhereTheFilterKeepsState(): void
    {
        $rule = [
            'key' => 'f1',
            'router' => 'r1',
            'position' => 1,
            'from' => 's1',
            'to' => 's2',
            'transport' => 'tcp',
            'portFirst' => 80,
            'portLast' => 80,
            'action' => 'allow',
        ];
        self::assertTrue(self::walk(self::job(allow: false)->row('filters', $rule)->plan())->holds());

        $stateless = self::job(allow: false, stateful: false)->row('filters', $rule)->plan();
        self::assertTrue(self::walk($stateless)->isOneWay());
        self::assertCured($stateless, 'Let R1 keep state, so that answers of a flow it let out come back.');
    }

    public function testTheFirstMatchingRuleDecides(): void
    {
        $rules = self::job(allow: true)
            ->row('filters', [
                'key' => 'late',
                'router' => 'r1',
                'position' => 9,
                'from' => 's1',
                'to' => 's2',
                'transport' => 'any',
                'action' => 'deny',
            ])
            ->row('filters', [
                'key' => 'early',
                'router' => 'r1',
                'position' => 2,
                'from' => null,
                'to' => 's2',
                'transport' => 'tcp',
                'portFirst' => 80,
                'portLast' => 90,
                'action' => 'allow',
            ])
            ->plan();

        self::assertTrue(self::walk($rules, '80/tcp')->holds());
        self::assertFalse(self::walk($rules, '554/tcp')->holds());
    }

    public function testUdpIsNotTcpAndALocalServiceStaysLocal(): void
    {
        $walk = self::walk(self::job()->plan(), '80/udp');
        self::assertSame('B serves 80/tcp, not 80/udp: UDP is not TCP.', (string) $walk->brokenHop()?->text);
        self::assertNull(Cure::of(self::job()->plan(), Face::Planned, 'a', 'b', Port::fromString('80/udp')));

        $local = self::job()->device('n', 'lighting-node', 's2', ['address' => '10.40.13.30'])->plan();
        self::assertSame(Fault::OwnSubnetOnly, self::walk($local, to: 'n')->brokenHop()?->fault);
        self::assertTrue(self::walk($local, from: 'b', to: 'n')->holds());
    }

    public function testTwoRoutersNeedRoutesBothWays(): void
    {
        $plan = (new Jobs())
            ->segment('s1', '10.40.12.0/24', '10.40.12.1')->segment('mid', '10.40.99.0/30')->segment('s2', '10.40.13.0/24', '10.40.13.1')
            ->router('r1', ['s1' => '10.40.12.1/24', 'mid' => '10.40.99.1/30'])
            ->router('r2', ['s2' => '10.40.13.1/24', 'mid' => '10.40.99.2/30'])
            ->device('a', 'streaming-encoder', 's1', ['address' => '10.40.12.20'])
            ->device('b', 'ptz-camera', 's2', ['address' => '10.40.13.20'])
            ->row('routes', ['key' => 'd1', 'router' => 'r1', 'destination' => '0.0.0.0/0', 'via' => '10.40.99.2'])
            ->row('routes', ['key' => 'd2', 'router' => 'r2', 'destination' => '0.0.0.0/0', 'via' => '10.40.99.1'])
            ->plan();
        self::assertTrue(self::walk($plan)->holds());

        $holes = $plan->with(new \Vorhut\Core\Plan\Change(
            new \Vorhut\Core\Text\Message(''),
            array_map(
                static fn (array $row): \Vorhut\Core\Plan\Edit => \Vorhut\Core\Plan\Edit::remove('routes', $row),
                $plan->rows('routes'),
            ),
        ));
        self::assertSame(Fault::NoRoute, self::walk($holes)->brokenHop()?->fault);
        self::assertCured(
            $holes,
            'Tell R1 the route to 10.40.13.0/24 by 10.40.99.2. Tell R2 the route to 10.40.12.0/24 by 10.40.99.1.',
        );

        $loop = $holes->with(new \Vorhut\Core\Plan\Change(new \Vorhut\Core\Text\Message(''), [
            \Vorhut\Core\Plan\Edit::add('routes', [
                'key' => 'l1',
                'router' => 'r1',
                'destination' => '198.51.100.0/24',
                'via' => '10.40.99.2',
            ]),
            \Vorhut\Core\Plan\Edit::add('routes', [
                'key' => 'l2',
                'router' => 'r2',
                'destination' => '198.51.100.0/24',
                'via' => '10.40.99.1',
            ]),
            \Vorhut\Core\Plan\Edit::setting('nics/b.lan#address', Face::Planned, '10.40.13.20', '198.51.100.7'),
        ]));
        self::assertSame(Fault::RoutingLoop, self::walk($loop)->brokenHop()?->fault);
    }

    public function testAVerdictStandsOnWhatItReadAndOnNothingElse(): void
    {
        $basis = self::walk(self::job()->plan())->facts->texts();

        self::assertSame(
            $basis,
            self::walk(self::job()->device('x', 'ptz-camera', 's2', ['address' => '10.40.13.77'])->plan())->facts->texts(),
            'a stranger on the wire changes nothing',
        );
        self::assertNotSame(
            $basis,
            self::walk(self::job()->device('x', 'ptz-camera', 's2', ['address' => '10.40.13.20'])->plan())->facts->texts(),
            'a second holder does',
        );
        self::assertNotSame($basis, self::walk(self::job(b: ['gateway' => '10.40.13.2'])->plan())->facts->texts());
    }
}
