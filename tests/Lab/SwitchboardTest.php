<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Lab\InjectedFault;
use Vorhut\Lab\Switchboard\Provider;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\LabBench;

/** Calls beyond one phone, really made: out by a trunk, in by a number, through a menu, past a router that translates. */
final class SwitchboardTest extends TestCase
{
    private const NET = 145;

    private ?LabBench $bench = null;

    protected function tearDown(): void
    {
        $this->bench?->close();
    }

    /** @param (\Closure(Jobs): mixed)|null $more */
    private function open(string $announced = '203.0.113.2', ?\Closure $more = null): LabBench
    {
        $net = self::NET;

        return $this->bench = new LabBench($net, static function (Jobs $jobs) use ($announced, $more): void {
            $at = ['pbx' => 'pbx'];
            $jobs->segment('up', '203.0.113.0/29', '203.0.113.1')
                ->row('routerPorts', ['key' => 'r-up', 'router' => 'r', 'segment' => 'up', 'address' => '203.0.113.2', 'mask' => '/29'])
                ->row('routes', ['key' => 'out', 'router' => 'r', 'destination' => '0.0.0.0/0', 'via' => '203.0.113.1'])
                ->row('translations', ['key' => 'nat', 'router' => 'r', 'outside' => 'up', 'what' => 'source', 'position' => 1,
                    'transport' => 'any'])
                ->row('settings', ['key' => 'devices/pbx#announcedAddress', 'planned' => $announced, 'set' => $announced, 'setBy' => 'Jo',
                    'setAt' => '2026-03-01T09:00:00Z'])
                ->row('trunks', $at + ['key' => 't1', 'name' => 'Provider', 'address' => '198.51.100.20', 'registers' => true,
                    'user' => 'one',
                    'callerId' => '+4721000000'])
                ->row(
                    'trunks',
                    $at + ['key' => 't2', 'name' => 'Spare', 'address' => '198.51.100.40', 'registers' => true, 'user' => 'two'],
                )
                ->row('callRoutes', $at + ['key' => 'home', 'name' => 'Home', 'position' => 40, 'map' => '0[2-9]xxxxxxx', 'strip' => 1,
                    'prepend' => '0047', 'trunk' => 't1', 'trunk2' => 't2'])
                ->row('timeFrames', ['key' => 'day', 'name' => 'Office hours', 'when' => 'mon-fri 8:00-17:00'])
                ->row('inboundRoutes', ['key' => 'open', 'trunk' => 't1', 'position' => 10, 'map' => '4721000000', 'timeFrame' => 'day',
                    'to' => '2200'])
                ->row('inboundRoutes', ['key' => 'shut', 'trunk' => 't1', 'position' => 20, 'map' => '4721000000', 'to' => '2102'])
                ->row('menus', $at + ['key' => 'm', 'number' => '2200', 'name' => 'Welcome', 'choices' => ['1 2102', '2 2300'],
                    'otherwise' => '2102', 'seconds' => 3])
                ->row('ringGroups', $at + ['key' => 'g', 'number' => '2300', 'name' => 'Desk', 'order' => 'all',
                    'members' => ['2101', '2102'],
                    'otherwise' => '2102', 'seconds' => 3]);
            if (null !== $more) {
                $more($jobs);
            }
        });
    }

    private static function led(Jobs $jobs): void
    {
        $jobs->row('translations', ['key' => 'm', 'router' => 'r', 'outside' => 'up', 'what' => 'forward', 'position' => 2,
            'inside' => '10.'.self::NET.'.20.10', 'transport' => 'udp', 'portFirst' => 40000, 'portLast' => 40099]);
    }

    private function provider(string $key = '198.51.100.20:5060'): Provider
    {
        return $this->bench?->job->providers()[$key] ?? throw new \LogicException($key);
    }

    public function testOutByATrunkWithTheDigitsAndTheCallerIdOfThePlan(): void
    {
        $bench = $this->open(more: self::led(...));
        self::assertSame(['one'], $this->provider()->registeredUsers());
        $found = $bench->prove('hand:pbx:route-home');
        self::assertSame(Outcome::Affirmed, $found->outcome, implode("\n", [(string) $found->detail, ...$found->lines]));
        self::assertSame([['digits' => '004720000000', 'callerId' => '+4721000000']], $this->provider()->receivedCalls());
        self::assertSame('004720000000 speaks, sound both ways', (string) $found->detail);
    }

    public function testTheSpareTrunkTakesOverWhereNothingComesFromTheFirst(): void
    {
        $bench = $this->open(more: self::led(...));
        $this->provider()->end();
        $found = $bench->prove('hand:pbx:route-home');
        self::assertSame(Outcome::Affirmed, $found->outcome, implode("\n", [(string) $found->detail, ...$found->lines]));
        self::assertCount(1, $this->provider('198.51.100.40:5060')->receivedCalls());
    }

    /** @return iterable<string, array{string, Outcome, string}> how the fax server was told to carry it */
    public static function faxes(): iterable
    {
        yield 'changed to T.38' => ['T.38', Outcome::Affirmed, '2905 takes the fax over T.38'];
        yield 'left as sound' => ['audio', Outcome::Denied, '2905 stays with sound, and T.38 was planned'];
    }

    #[DataProvider('faxes')]
    public function testAFaxIsChangedToT38EachWay(string $told, Outcome $outcome, string $said): void
    {
        $bench = $this->open(more: static function (Jobs $jobs): void {
            self::led($jobs);
            $net = self::NET;
            $held = static fn (string $key, string $value): array => ['key' => $key, 'planned' => $value, 'set' => $value, 'setBy' => 'Jo',
                'setAt' => '2026-03-01T09:00:00Z'];
            $jobs->device('fx', 'fax-server', 'v', ['address' => "10.$net.20.40"])
                ->change('settings', 'nics/fx.lan#address', 'set', "10.$net.20.40")
                ->row('settings', $held('nics/fx.lan#mask', '/24'))
                ->row('settings', $held('nics/fx.lan#gateway', "10.$net.20.1"))
                ->row('settings', $held('devices/fx#faxTransport', 'T.38'))
                ->row('trunks', ['pbx' => 'pbx', 'key' => 'fax', 'name' => 'Fax', 'far' => 'fx', 'transport' => 'udp'])
                ->row('callRoutes', ['pbx' => 'pbx', 'key' => 'fax', 'name' => 'Fax', 'position' => 60, 'map' => '29xx', 'trunk' => 'fax'])
                ->row('inboundRoutes', ['key' => 'fax', 'trunk' => 't1', 'position' => 30, 'map' => '4721000009', 'to' => '2905']);
        });
        $bench->job->standIn('fx')?->configure('faxTransport', $told);
        foreach (['hand:pbx:route-fax', 'hand:pbx:inbound-fax'] as $test) {
            $found = $bench->prove($test);
            $words = preg_replace('/^29\d\d/', '2905', (string) $found->detail);
            self::assertSame([$test, $outcome, $said], [$test, $found->outcome, $words], implode("\n", $found->lines));
            self::assertSame('T.38' === $told ? 1 : 0, \count(preg_grep('/fax here: [1-9]/', $found->lines) ?: []));
        }
    }

    /** A fax server, joined to the PBX by a trunk. */
    private static function joined(Jobs $jobs): void
    {
        $net = self::NET;
        $jobs->device('fx', 'fax-server', 'v', ['address' => "10.$net.20.40", 'address.set' => "10.$net.20.40", 'mask.set' => '/24',
            'gateway.set' => "10.$net.20.1"])
            ->row('trunks', ['pbx' => 'pbx', 'key' => 'fax', 'name' => 'Fax', 'far' => 'fx', 'transport' => 'udp'])
            ->row('callRoutes', ['pbx' => 'pbx', 'key' => 'fax', 'name' => 'Fax', 'position' => 60, 'map' => '29xx', 'trunk' => 'fax']);
    }

    public function testChannelsThatAreKeptForSendingNoCallThatComesInGets(): void
    {
        $bench = $this->open(more: static function (Jobs $jobs): void {
            self::led($jobs);
            self::joined($jobs);
        });
        foreach (['1' => false, '2' => true] as $kept => $isBusy) {
            $bench->job->standIn('fx')?->configure('keptForSending', (string) $kept);
            $bench->job->standIn('fx')?->restart();
            $bench->settle();
            $found = $bench->prove('hand:pbx:route-fax');
            self::assertSame($isBusy, Outcome::NotAnswered === $found->outcome, implode("\n", $found->lines));
        }
    }

    public function testAFaxGoesToWhomItsNumberStandsForWhereBothEndsSayItOneWay(): void
    {
        $bench = $this->open(more: static function (Jobs $jobs): void {
            self::led($jobs);
            self::joined($jobs);
        });
        $fax = $bench->job->standIn('fx');
        $pbx = $bench->job->standIn('pbx');
        $fax?->configure('inboundRecipients', '2900 → hall@nordmole.example, 2999 → yard@nordmole.example');
        $fax?->configure('defaultRecipient', 'desk@nordmole.example');
        $last = static function () use ($bench, $fax): string {
            $bench->prove('hand:pbx:route-fax');

            return (string) $fax?->state->get('lastFax');
        };
        self::assertMatchesRegularExpression('/^for 29[0-9]{2} to (hall|yard|desk)@/', $first = $last());
        $number = substr($first, 4, 4);
        $fax?->configure('inboundRecipients', "55$number = hall@nordmole.example");
        self::assertSame("for $number to desk@nordmole.example", $last());
        $fax?->configure('calledDigits', '4');
        self::assertSame("for $number to hall@nordmole.example", $last(), 'by its last four digits');
        $pbx?->configure('faxCalledIn', 'Diversion');
        $fax?->state->put('lastFax', '');
        self::assertSame('', $last(), 'written where nobody reads it: no call is taken');
        $fax?->configure('calledFrom', 'Diversion');
        self::assertSame("for $number to hall@nordmole.example", $last());
        $fax?->configure('gatewayHost', '10.'.self::NET.'.20.99');
        self::assertSame(Outcome::NotAnswered, $bench->prove('hand:pbx:route-fax')->outcome, 'it takes calls of its gateway only');
        $fax?->configure('gatewayHost', '10.'.self::NET.'.20.10');
        self::assertNotSame(Outcome::NotAnswered, $bench->prove('hand:pbx:route-fax')->outcome);
    }

    public function testComesInByTheHourAndGoesThroughTheMenu(): void
    {
        $bench = $this->open(more: self::led(...));
        foreach ([
            'hand:pbx:inbound-open' => '2200 speaks, sound both ways',
            'hand:pbx:inbound-shut' => '2102 speaks, sound both ways',
            'hand:pbx:menu-m-1' => '2102 speaks, sound both ways',
            'hand:pbx:menu-m-2' => '2102 speaks, sound both ways',
        ] as $test => $said) {
            $bench->settle(0.3);
            if ('hand:pbx:menu-m-2' === $test) {
                $bench->play(InjectedFault::VoicemailAnswers, 'a');
            }
            $found = $bench->prove($test);
            self::assertSame(
                [$test, Outcome::Affirmed, $said],
                [$test, $found->outcome, (string) $found->detail],
                implode("\n", $found->lines),
            );
        }
    }

    public function testNobodyWaitsForAPhoneThatRingsInVain(): void
    {
        $bench = $this->open(more: static function (Jobs $jobs): void {
            self::led($jobs);
            $jobs->job['voicemailAfter'] = 20;
            $jobs->change('ringGroups', 'g', 'seconds', 20);
        });
        $bench->play(InjectedFault::VoicemailAnswers, 'a');
        $begun = microtime(true);
        $found = $bench->prove('hand:pbx:menu-m-2');
        self::assertSame([Outcome::Affirmed, '2102 speaks, sound both ways'], [$found->outcome, (string) $found->detail]);
        self::assertLessThan(10, microtime(true) - $begun, 'the first who answers has the call, whoever else still rings');
    }

    public function testATrunkThatTheLabDoesNotPlayIsNotAsked(): void
    {
        $bench = $this->open(more: static function (Jobs $jobs): void {
            $jobs->change('trunks', 't1', 'transport', 'tcp')->change('trunks', 't2', 'transport', 'tls');
        });
        self::assertSame(
            [Outcome::NotAsked, Outcome::NotAsked],
            [$bench->prove('hand:pbx:route-home')->outcome, $bench->prove('hand:pbx:inbound-shut')->outcome],
        );
    }

    public function testWhoAnnouncesAPrivateAddressIsNotHeardOutside(): void
    {
        $bench = $this->open('', self::led(...));
        $found = $bench->prove('hand:pbx:route-home');
        self::assertSame(Outcome::Denied, $found->outcome, implode("\n", [(string) $found->detail, ...$found->lines]));
        self::assertStringContainsString('nothing heard', (string) $found->detail);
    }

    public function testWithoutARuleForSoundNoneComesIn(): void
    {
        $found = $this->open()->prove('hand:pbx:route-home');
        self::assertSame(Outcome::Denied, $found->outcome, implode("\n", [(string) $found->detail, ...$found->lines]));
    }

    public function testAnEmergencyNumberIsNeverSentOn(): void
    {
        $bench = $this->open(more: static function (Jobs $jobs): void {
            self::led($jobs);
            $jobs->row(
                'callRoutes',
                ['pbx' => 'pbx', 'key' => 'e', 'name' => 'Emergency', 'position' => 1, 'map' => '112', 'trunk' => 't1'],
            );
            // What is sent is none any more: whichever way it is led there, it is what was dialled that counts.
            $jobs->change('callRoutes', 'e', 'prepend', '0047');
            $jobs->row('extensions', ['key' => 'x2190', 'number' => '2190', 'pbx' => 'pbx', 'terminal' => 'sip', 'forwardAlways' => '112']);
            $jobs->change('menus', 'm', 'choices', ['1 2190']);
        });
        self::assertNotSame(Outcome::Affirmed, $bench->prove('hand:pbx:menu-m-1')->outcome);
        self::assertSame([], $this->provider()->receivedCalls());
    }
}
