<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Walk;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\Cure;
use Vorhut\Core\Network\Walk\Fault;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

/** What is proposed, for which fault, on which face: exactly the edits that are needed and no other. */
final class CureTest extends TestCase
{
    /** @param array<string, string> $values of the camera B on S2, asked by the encoder A on S1 */
    private static function job(array $values, string $segment = 's2'): Jobs
    {
        return (new Jobs())
            ->segment('s1', '10.40.12.0/24', '10.40.12.1')->segment('s2', '10.40.13.0/24', '10.40.13.1')
            ->router('r', ['s1' => '10.40.12.1/24', 's2' => '10.40.13.1/24'])
            ->device('a', 'streaming-encoder', 's1', ['address' => '10.40.12.20'])
            ->device('b', 'ptz-camera', $segment, $values + ['address' => '10.40.13.20']);
    }

    /** @return iterable<string, array{Face, Fault, Jobs, list<string>}> */
    public static function cases(): iterable
    {
        yield 'planned wrongly' => [Face::Planned, Fault::NoGateway, self::job(['gateway' => '']), ['gateway planned blank>10.40.13.1']];
        yield 'typed wrongly' => [
            Face::Set,
            Fault::NoSuchGateway,
            self::job(['gateway.set' => '10.40.13.9']),
            ['gateway set 10.40.13.9>10.40.13.1'],
        ];
        yield 'typed rightly, seen wrongly' => [
            Face::Seen,
            Fault::NoSuchGateway,
            self::job(['gateway.set' => '10.40.13.1', 'gateway.seen' => '10.40.13.9']),
            ['gateway seen 10.40.13.9>-'],
        ];
        yield 'typed and seen wrongly' => [
            Face::Seen,
            Fault::NoSuchGateway,
            self::job(['gateway.set' => '10.40.13.8', 'gateway.seen' => '10.40.13.9']),
            ['gateway set 10.40.13.8>10.40.13.1', 'gateway seen 10.40.13.9>-'],
        ];
        yield 'never typed, seen wrongly' => [
            Face::Seen,
            Fault::NextDoor,
            self::job(['mask.seen' => '/16']),
            ['mask seen /16>-'],
        ];
        yield 'mask typed too wide' => [Face::Set, Fault::NextDoor, self::job(['mask.set' => '/22']), ['mask set /22>/24']];
        yield 'another address of the same network' => [Face::Set, Fault::NoHolder, self::job(['address.set' => '10.40.13.2']), []];
        yield 'plugged elsewhere' => [Face::Planned, Fault::NoHolder, self::job([], 's1'), ['b.lan segment s1>s2']];
        yield 'edge of its network' => [
            Face::Planned,
            Fault::UnusableAddress,
            self::job(['address' => '10.40.13.255']),
            ['address planned 10.40.13.255>10.40.13.2'],
        ];
        yield 'no address at all' => [
            Face::Planned,
            Fault::NoAddress,
            (new Jobs())
                ->segment('s1', '10.40.12.0/24', '10.40.12.1')
                ->device('a', 'streaming-encoder', 's1', ['address' => '10.40.12.20'])
                ->device('b', 'ptz-camera', 's1'),
            ['address planned ->10.40.12.2'],
        ];
        yield 'the gateway is a host' => [
            Face::Set,
            Fault::GatewayIsHost,
            self::job(['gateway.set' => '10.40.13.50'])->device('h', 'ptz-camera', 's2', ['address' => '10.40.13.50']),
            ['gateway set 10.40.13.50>10.40.13.1'],
        ];
        yield 'somebody took the gateway' => [
            Face::Set,
            Fault::Duplicate,
            self::job([])->device('h', 'ptz-camera', 's2', ['address' => '10.40.13.60', 'address.set' => '10.40.13.20']),
            ['address set 10.40.13.20>10.40.13.60'],
        ];
    }

    public function testAProvidersRouterIsNeverChangedAndNeverToldAPrivateNetwork(): void
    {
        $plan = (new Jobs())->segment('in', '10.44.8.0/24', '10.44.8.1')->segment('out', '203.0.113.0/29', '203.0.113.1')
            ->segment('far', '198.51.100.0/24', '198.51.100.1')
            ->router('r', ['in' => '10.44.8.1/24', 'out' => '203.0.113.2/29'])
            ->router('isp', ['out' => '203.0.113.1/29', 'far' => '198.51.100.1/24'])
            ->row('routes', ['key' => 'default', 'router' => 'r', 'destination' => '0.0.0.0/0', 'via' => '203.0.113.1'])
            ->device('a', 'ptz-camera', 'in', ['address' => '10.44.8.20'])->device('b', 'ptz-camera', 'far', ['address' => '198.51.100.20'])
            ->plan();
        self::assertFalse(Walker::between(NetworkModel::of($plan, Face::Planned), 'a', 'b', Port::tcp(80))->holds(), 'no way back');
        foreach (Cure::some($plan, Face::Planned, 'a', 'b', Port::tcp(80)) as $cure) {
            self::assertStringNotContainsString('ISP', (string) $cure->why);
        }
    }

    public function testNobodyIsToldWhatItsKindDoesNotTake(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->segment('t', '10.64.31.0/24', '10.64.31.1')
            ->router('r', ['s' => '10.64.30.1/24', 't' => '10.64.31.1/24'])
            ->device('cc', 'console-card', 's', ['address' => '10.64.30.31'])->plan();
        $walk = Walker::between(NetworkModel::of($plan, Face::Planned), 'outposts/t', 'cc', Port::tcp(80));
        self::assertSame(Fault::NoGateway, $walk->brokenHop()?->fault);
        self::assertSame([], Cure::some($plan, Face::Planned, 'outposts/t', 'cc', Port::tcp(80)), 'the card has no gateway setting');
    }

    /** @param list<string> $edits */
    #[DataProvider('cases')]
    public function testItProposesWhatIsNeededAndNoMore(Face $face, Fault $fault, Jobs $jobs, array $edits): void
    {
        $plan = $jobs->plan();
        $port = Port::tcp(80);
        $walk = Walker::between(NetworkModel::of($plan, $face), 'a', 'b', $port);
        $cure = Cure::of($plan, $face, 'a', 'b', $port);
        if ([] === $edits) {
            // Nothing is broken from here: no cure is offered.
            self::assertTrue($walk->holds());
            self::assertNull($cure);

            return;
        }
        self::assertSame($fault, $walk->brokenHop()?->fault);
        self::assertNotNull($cure);
        self::assertSame($edits, array_map(self::text(...), $cure->edits));
        self::assertTrue(Walker::between(NetworkModel::of($plan->with($cure), $face), 'a', 'b', $port)->holds());
        self::assertEquals(
            $plan->rows('settings'),
            self::known($plan->with($cure)->with($cure->reverse(new Message('back'))), $plan),
            'and it can be taken back',
        );
    }

    /** @return iterable<string, array{string|null, string}> the kind that the addresses are for, and who gives way */
    public static function twins(): iterable
    {
        yield 'no block says anything: the later in the roster' => [null, 'c'];
        yield 'they are for the later' => ['room-codec', 'b'];
        yield 'they are for the earlier' => ['ptz-camera', 'c'];
        yield 'they are for neither' => ['projector', 'c'];
    }

    #[DataProvider('twins')]
    public function testOfTwoWithOneAddressTheOneGivesWayThatStandsAmongAddressesOfOthers(?string $for, string $gives): void
    {
        $jobs = self::job([])->device('c', 'room-codec', 's2', ['address' => '10.40.13.20']);
        if (null !== $for) {
            $jobs->change('segments', 's2', 'blocks', [['range' => '10.40.13.20-10.40.13.29', 'for' => $for]]);
        }
        $cure = Cure::of($jobs->plan(), Face::Planned, 'a', 'b', Port::tcp(80));
        self::assertSame(['nics/'.$gives.'.lan#address'], array_map(static fn (Edit $one): string => $one->key, $cure->edits ?? []));
    }

    public function testWhatNobodyCanMendFromHereHasNoCure(): void
    {
        $noRouter = (new Jobs())->segment('s1', '10.40.12.0/24')->segment('s2', '10.40.13.0/24')
            ->device('a', 'streaming-encoder', 's1', ['address' => '10.40.12.20'])
            ->device('b', 'ptz-camera', 's2', ['address' => '10.40.13.20'])
            ->plan();
        $unplugged = self::job([])->device('c', 'ptz-camera', null, ['address' => '10.99.13.21'])->plan();

        self::assertNull(Cure::of($noRouter, Face::Planned, 'a', 'b', Port::tcp(80)), 'a router is missing');
        self::assertNull(Cure::of($unplugged, Face::Planned, 'a', 'c', Port::tcp(80)), 'a plug is missing');
        self::assertNull(Cure::of(self::job([])->plan(), Face::Planned, 'a', 'b', Port::tcp(81)), 'a service is missing');
    }

    public function testSeveralFaultsOnOneWayAreCuredTogether(): void
    {
        $plan = self::job(['gateway' => '', 'mask' => '/16'])->plan()->with(new Change(new Message(''), [
            Edit::setting('nics/a.lan#gateway', Face::Planned, null, '10.40.12.77'),
            Edit::put('devices', 'r', 'filterDefault', 'allow', 'deny'),
        ]));
        $cure = Cure::of($plan, Face::Planned, 'a', 'b', Port::tcp(80));

        self::assertSame(
            ['gateway planned 10.40.12.77>10.40.12.1', 'add filters', 'mask planned /16>/24', 'gateway planned blank>10.40.13.1'],
            array_map(self::text(...), $cure->edits ?? []),
        );
        $said = (string) $cure?->why;
        foreach (['10.40.12.1', '10.40.13.1', '/24', 'rule'] as $part) {
            self::assertStringContainsString($part, $said, 'every edit has its sentence');
        }
    }

    public function testWithoutAGatewayOfTheSegmentTheRoutersOwnInterfaceThereIsTold(): void
    {
        $plan = (new Jobs())
            ->segment('s1', '10.40.12.0/24')->segment('s2', '10.40.13.0/24')
            ->router('r', ['s1' => '10.40.12.1/24', 's2' => '10.40.13.1/24'])
            ->device('a', 'streaming-encoder', 's1', ['address' => '10.40.12.20', 'gateway' => '10.40.12.1'])
            ->device('b', 'ptz-camera', 's2', ['address' => '10.40.13.20', 'gateway' => ''])
            ->plan();
        $cure = Cure::of($plan, Face::Planned, 'a', 'b', Port::tcp(80));
        self::assertSame('10.40.13.1', $cure?->edits[0]->after);
    }

    public function testAnInterfaceThatDoesNotFitItsSegmentIsNoGateway(): void
    {
        $plan = (new Jobs())
            ->segment('s1', '10.40.12.0/24')->segment('s2', '10.40.13.0/24')
            ->router('r', ['s1' => '10.40.12.1/24', 's2' => '10.99.0.1/24'])
            ->device('a', 'streaming-encoder', 's1', ['address' => '10.40.12.20', 'gateway' => '10.40.12.1'])
            ->device('b', 'ptz-camera', 's2', ['address' => '10.40.13.20', 'gateway' => ''])
            ->plan();
        self::assertNull(Cure::of($plan, Face::Planned, 'a', 'b', Port::tcp(80)));
        self::assertNull(Cure::of($plan, Face::Planned, 'b', 'a', Port::tcp(80)));
    }

    public function testOfTwoThatHoldOneAddressTheOneGoesThatWasNotPlannedThere(): void
    {
        $plan = self::job([])->device('c', 'ptz-camera', 's2', ['address' => '10.40.13.21', 'address.set' => '10.40.13.20'])->plan();
        $cure = Cure::of($plan, Face::Set, 'a', 'b', Port::tcp(80));
        self::assertSame(['nics/c.lan#address', '10.40.13.21'], [$cure?->edits[0]->key, $cure?->edits[0]->after]);
    }

    public function testAnAllowRuleGoesAheadOfTheOneThatDenies(): void
    {
        $plan = self::job([])->row('filters', [
            'key' => 'no',
            'router' => 'r',
            'position' => 1,
            'from' => 's1',
            'to' => 's2',
            'transport' => 'any',
            'action' => 'deny',
        ])->plan();
        $after = $plan->with(Cure::of($plan, Face::Planned, 'a', 'b', Port::tcp(554)) ?? throw new \LogicException());

        self::assertSame([true, false], array_map(static fn ($rule): bool => $rule->allows, $after->filters));
        self::assertLessThan($after->filters[1]->position, $after->filters[0]->position);
        self::assertFalse(Walker::between(NetworkModel::of($after, Face::Planned), 'a', 'b', Port::tcp(80))->holds());
    }

    private static function text(Edit $edit): string
    {
        if (null !== $edit->row) {
            return $edit->kind->value.' '.$edit->section;
        }
        $show = static fn (mixed $value): string => match (true) {
            null === $value => '-',
            '' === $value => 'blank',
            default => \is_scalar($value) ? (string) $value : '?',
        };

        return (explode('#', $edit->key)[1] ?? $edit->key).' '.$edit->field.' '.$show($edit->before).'>'.$show($edit->after);
    }

    /** @return list<array<string, mixed>> the values that were there before, as they are now */
    private static function known(Plan $plan, Plan $before): array
    {
        $keys = array_column($before->rows('settings'), 'key');

        return array_values(array_filter(
            array_map(
                static fn (array $row): array => array_filter($row, static fn (mixed $value): bool => null !== $value),
                $plan->rows('settings'),
            ),
            static fn (array $row): bool => \in_array($row['key'] ?? '', $keys, true),
        ));
    }
}
