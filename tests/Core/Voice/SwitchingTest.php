<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Voice\CallRouting;
use Vorhut\Core\Voice\Decision;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\DialOutcome;
use Vorhut\Core\Voice\Switching;
use Vorhut\Tests\Support\Jobs;

/** Who, what, when: each rule that was taken and each that was not. */
final class SwitchingTest extends TestCase
{
    public static function job(): Jobs
    {
        $jobs = (new Jobs())
            ->segment('v', '10.64.20.0/24', '10.64.20.1')
            ->segment('up', '203.0.113.0/29', '203.0.113.1')
            ->router('r', ['v' => '10.64.20.1/24', 'up' => '203.0.113.2/29'])
            ->row('routes', ['key' => 'out', 'router' => 'r', 'destination' => '0.0.0.0/0', 'via' => '203.0.113.1'])
            ->row(
                'translations',
                ['key' => 'nat', 'router' => 'r', 'outside' => 'up', 'what' => 'source', 'position' => 1, 'transport' => 'any'],
            )
            ->device('pbx', 'on-site-pbx', 'v', ['address' => '10.64.20.10'])
            ->device('fx', 'fax-server', 'v', ['address' => '10.64.20.11']);
        $jobs->job += [
            'country' => 'NO',
            'outsideDigit' => '0',
            'emergencyNumbers' => ['112'],
            'featureCodes' => ['*97'],
            'timeZone' => 'Europe/Oslo',
        ];
        foreach (['2101', '2102', '2103'] as $i => $number) {
            $mac = '00-00-5E-00-53-0'.$i;
            $jobs->device('p'.$number, 'desk-phone-poe', 'v', ['address' => '10.64.20.3'.$i], ['mac' => $mac])
                ->number($number, 'p'.$number, $mac);
        }
        $at = ['pbx' => 'pbx'];

        return $jobs
            ->row('timeFrames', ['key' => 'day', 'name' => 'Office hours', 'when' => 'mon-fri 8:00-17:00; not 2026-12-24'])
            ->row('trunks', $at + ['key' => 't1', 'name' => 'Provider', 'address' => '198.51.100.20', 'registers' => true,
                'emergency' => true,
                'callerId' => '+4721000000'])
            ->row('trunks', $at + ['key' => 't2', 'name' => 'Spare', 'address' => '198.51.100.40', 'registers' => true])
            ->row('trunks', $at + ['key' => 'tf', 'name' => 'Fax', 'far' => 'fx'])
            ->row('callRoutes', $at + ['key' => 'emergency', 'name' => 'Emergency', 'position' => 10, 'map' => '11[0-3]', 'trunk' => 't1'])
            ->row(
                'callRoutes',
                $at + ['key' => 'emergency0', 'name' => 'Emergency', 'position' => 20, 'map' => '011[0-3]', 'strip' => 1, 'trunk' => 't1'],
            )
            ->row('callRoutes', $at + ['key' => 'abroad', 'name' => 'Abroad', 'position' => 30, 'map' => '000x.T', 'strip' => 1,
                'needs' => 'international', 'trunk' => 't1', 'trunk2' => 't2'])
            ->row('callRoutes', $at + ['key' => 'home', 'name' => 'Home', 'position' => 40, 'map' => '0[2-9]xxxxxxx', 'strip' => 1,
                'prepend' => '0047', 'trunk' => 't1', 'trunk2' => 't2', 'timeFrame' => 'day'])
            ->row('callRoutes', $at + ['key' => 'fax', 'name' => 'To the fax server', 'position' => 50, 'map' => '29xx',
                'callers' => '210[12]',
                'trunk' => 'tf'])
            ->row(
                'inboundRoutes',
                ['key' => 'open', 'trunk' => 't1', 'position' => 10, 'map' => '4721000000', 'timeFrame' => 'day', 'to' => '2200'],
            )
            ->row('inboundRoutes', ['key' => 'shut', 'trunk' => 't1', 'position' => 20, 'map' => '4721000000', 'to' => '2103'])
            ->row(
                'menus',
                $at + ['key' => 'm', 'number' => '2200', 'name' => 'Welcome', 'choices' => ['1 2101', '2 2300'], 'otherwise' => '2103'],
            )
            ->row('ringGroups', $at + ['key' => 'g', 'number' => '2300', 'name' => 'Desk', 'order' => 'all',
                'members' => ['2101', '2102', '2777'],
                'otherwise' => '2103']);
    }

    private static function course(Plan $plan, string $digits, string $at = '', string $from = '2101'): CallRouting
    {
        return Switching::of($plan)->dial($plan->extensionNumbered($from) ?? throw new \LogicException(), $digits, $at);
    }

    private static function said(CallRouting $routing): string
    {
        return implode(' / ', array_map(static fn (Decision $one): string => ($one->taken ? '' : '- ').$one->text, $routing->decisions));
    }

    /** @return iterable<string, array{string, string, string, string, string, string}> digits, hour, caller, end, sent, said */
    public static function calls(): iterable
    {
        yield 'a number' => ['2102', '', '2101', 'extension', '', '2102 is '];
        yield 'a group, with a member that is nobody' => [
            '2300',
            '',
            '2103',
            'group',
            '',
            '- Desk lists 2777, and no phone has that number.',
        ];
        yield 'a menu' => ['2200', '', '2101', 'menu', '', 'it says what to press'];
        yield 'a feature code' => ['*97', '', '2101', 'feature', '', 'feature code'];
        yield 'home, by day' => ['021234567', '2026-03-02 09:30', '2101', 'outside', '004721234567', 'with the caller id +4721000000'];
        yield 'home, by night' => ['021234567', '2026-03-02 17:00', '2101', 'denied', '', '- Home holds at Office hours only.'];
        yield 'home, on a day that is excepted' => [
            '021234567',
            '2026-12-24 09:30',
            '2101',
            'denied',
            '',
            '- Home holds at Office hours only.',
        ];
        yield 'abroad' => ['000493012345', '', '2101', 'outside', '00493012345', 'the timer decides'];
        yield 'the map wants more' => ['0212', '', '2101', 'incomplete', '', '- Home: 0[2-9]xxxxxxx wants more digits than 0212.'];
        yield 'a whole number is not there yet' => ['21', '', '2101', 'incomplete', '', '(484)'];
        yield 'nobody has it' => ['77', '', '2101', 'unknown', '', '(404)'];
        yield 'for some callers only' => ['2901', '', '2101', 'outside', '2901', 'To the fax server: 29xx takes 2901.'];
        yield 'not for this caller' => ['2901', '', '2103', 'denied', '', '- To the fax server is not for 2103.'];
        yield 'emergency, as it is' => ['112', '', '2101', 'outside', '112', 'Emergency: 11[0-3] takes 112.'];
        yield 'emergency, behind the outside digit' => ['0112', '', '2101', 'outside', '112', 'goes out by Provider'];
        yield 'its own number by way of outside comes in again' => ['021000000', '2026-03-02 20:00', '2101', 'denied', '', '(403)'];
        yield 'and by day' => ['021000000', '2026-03-02 10:00', '2101', 'menu', '', '004721000000 is a number of this very site'];
    }

    #[DataProvider('calls')]
    public function testEachDecisionIsToldWithItsReason(
        string $digits,
        string $at,
        string $from,
        string $end,
        string $sent,
        string $said,
    ): void {
        $routing = self::course(self::job()->plan(), $digits, $at, $from);
        self::assertSame([$end, $sent], [$routing->end->value, $routing->sent], self::said($routing));
        self::assertStringContainsString($said, self::said($routing));
    }

    public function testPermissionsAreAskedButNotForAnEmergency(): void
    {
        $plan = self::job()->change(
            'extensions',
            'x2101',
            'permission',
            'national',
        )->change('extensions', 'x2102', 'permission', 'inside')->plan();
        self::assertSame('outside', self::course($plan, '021234567')->end->value);
        self::assertStringContainsString('- Abroad: 2101 may not call international.', self::said(self::course($plan, '000493012345')));
        self::assertStringContainsString('- Home: 2102 may call inside only.', self::said(self::course($plan, '021234567', '', '2102')));
        self::assertSame('outside', self::course($plan, '112', '', '2102')->end->value);
        $barred = self::job()->change('trunks', 't1', 'emergency', false)->plan();
        self::assertStringContainsString(
            '- Emergency: none of its trunks takes emergency calls.',
            self::said(self::course($barred, '112')),
        );
        self::assertSame('denied', self::course($barred, '112')->end->value);
    }

    public function testOfTwoThatTakeItTheFirstHasIt(): void
    {
        // The worked example: A 0x.T, B 00x.T, C 11x; order decides, and B is never reached.
        $jobs = (new Jobs())->segment('v', '10.64.20.0/24')->device('pbx', 'on-site-pbx', 'v', ['address' => '10.64.20.10'])
            ->row('extensions', ['key' => 'x', 'number' => '21', 'pbx' => 'pbx', 'terminal' => 'none'])
            ->row('trunks', ['key' => 't', 'name' => 'T', 'pbx' => 'pbx']);
        foreach (['A' => '0x.T', 'B' => '00x.T', 'C' => '11x'] as $name => $map) {
            $jobs->row(
                'callRoutes',
                ['key' => strtolower($name), 'name' => $name, 'pbx' => 'pbx', 'position' => \ord($name), 'map' => $map, 'trunk' => 't'],
            );
        }
        $said = self::said(self::course($jobs->plan(), '00493012345', '', '21'));
        self::assertStringStartsWith(
            'A: 0x.T takes 00493012345. / - B: 00x.T matches too, but comes after A. / - C: 11x does not take',
            $said,
        );
    }

    public function testForwardsLeadOnAtTheCostOfTheOneWhoForwardsAndACircleIsSeen(): void
    {
        $plan = self::job()->change('extensions', 'x2102', 'forwardAlways', '021234567')
            ->change('extensions', 'x2102', 'permission', 'inside')->plan();
        self::assertSame('denied', self::course($plan, '2102')->end->value);
        $round = self::job()->change(
            'extensions',
            'x2102',
            'forwardAlways',
            '2103',
        )->change('extensions', 'x2103', 'forwardAlways', '2102')->plan();
        self::assertSame('loop', self::course($round, '2102')->end->value);
        $out = self::job()->change('inboundRoutes', 'shut', 'to', '2103')->change(
            'extensions',
            'x2103',
            'forwardAlways',
            '021000000',
        )->plan();
        self::assertSame('menu', self::course($out, '2103', '2026-03-02 10:00')->end->value);
        $plan = $out->with(new \Vorhut\Core\Plan\Change(new \Vorhut\Core\Text\Message('x'), [
            \Vorhut\Core\Plan\Edit::put('callRoutes', 'home', 'timeFrame', 'day', null),
        ]));
        self::assertSame('loop', self::course($plan, '2103', '2026-03-02 20:00')->end->value, 'out by the trunk, in again, and led on');
    }

    public function testWhatComesInIsLedByTheHour(): void
    {
        $plan = self::job()->plan();
        $in = static fn (string $number, string $at): CallRouting => Switching::of($plan)->inbound($plan->trunks['t1'], $number, $at);
        self::assertSame('menu', $in('4721000000', '2026-03-02 10:00')->end->value);
        self::assertSame('2103', $in('4721000000', '2026-03-01 10:00')->ring[0]->number);
        self::assertSame('unknown', $in('4721000099', '2026-03-02 10:00')->end->value);
    }

    public function testTheNetworkHasItsSay(): void
    {
        $dial = static fn (Jobs $jobs, string $digits): Dial => Dial::of(
            NetworkModel::of($jobs->plan(), Face::Set),
            $jobs->plan()->extensionNumbered('2101') ?? throw new \LogicException(),
            $digits,
        );
        $out = $dial(self::job(), '021234567');
        self::assertSame([DialOutcome::Outside, false], [$out->outcome, $out->sound]);
        self::assertStringContainsString('announces 10.64.20.10 for sound, and outside it is 203.0.113.2', implode(' ', $out->steps));
        $forward = [
            'router' => 'r',
            'outside' => 'up',
            'what' => 'forward',
            'position' => 2,
            'inside' => '10.64.20.10',
            'transport' => 'udp',
        ];
        $sound = self::job()->row('settings', ['key' => 'devices/pbx#announcedAddress', 'planned' => '203.0.113.2'])
            ->row('translations', $forward + ['key' => 'm', 'portFirst' => 40000, 'portLast' => 40099]);
        self::assertTrue($dial($sound, '021234567')->sound);
        $untranslated = self::job()->change('translations', 'nat', 'inside', '10.64.20.99');
        self::assertStringContainsString('which no provider can answer', implode(' ', $dial($untranslated, '021234567')->steps));
        // The first trunk has no far end, the second has: it takes over.
        $spare = $dial(self::job()->change('trunks', 't1', 'address', null), '021234567');
        self::assertSame(DialOutcome::Outside, $spare->outcome);
        self::assertStringContainsString('goes out by Spare', implode(' ', $spare->steps));

        $group = $dial(self::job(), '2300');
        self::assertSame([DialOutcome::Group, 'p2101', false], [$group->outcome, $group->rings, false]);
        self::assertSame(DialOutcome::Barred, $dial(self::job(), '112')->outcome, 'never dialled, and yet');
        self::assertSame('callRoutes/emergency', ($dial(self::job(), '112')->routing?->way()[0] ?? null)?->record);
        $led = $dial(
            self::job()->change('accounts', 'a2102', 'macEntered', null)->change('extensions', 'x2102', 'forwardUnanswered', '2103'),
            '2102',
        );
        self::assertSame([DialOutcome::Device, 'p2103'], [$led->outcome, $led->rings]);
    }

    public function testWhatComesInFromOutsideNeedsAWayIn(): void
    {
        $in = static function (Jobs $jobs): Dial {
            $plan = $jobs->plan();

            return Dial::arriving(NetworkModel::of($plan, Face::Set), $plan->trunks['t1'], '4721000000', '2026-03-01 10:00');
        };
        $call = $in(self::job());
        self::assertSame([DialOutcome::Device, 'p2103'], [$call->outcome, $call->rings], 'registered: by the way that it asked');
        $known = self::job()->change('trunks', 't1', 'registers', false);
        self::assertStringContainsString('no rule there leads 5060/udp on to PBX', implode(' ', $in($known)->steps));
        $led = $known->row('translations', ['key' => 's', 'router' => 'r', 'outside' => 'up', 'what' => 'forward', 'position' => 2,
            'inside' => '10.64.20.10', 'transport' => 'udp', 'portFirst' => 5060, 'portLast' => 5060]);
        self::assertSame(DialOutcome::Device, $in($led)->outcome);
    }

    public function testWhatAProofStandsOnIsTheSameHoweverTheRuleIsKept(): void
    {
        $facts = static fn (Jobs $jobs): array => Dial::of(
            NetworkModel::of($jobs->plan(), Face::Set),
            $jobs->plan()->extensionNumbered('2101') ?? throw new \LogicException(),
            '021234567',
        )->facts->texts();
        $kept = $facts(self::job());
        self::assertSame(
            $kept,
            $facts(self::job()->change('callRoutes', 'home', 'note', 'Ask Jo')->change('callRoutes', 'home', 'callers', null)),
        );
        self::assertNotSame($kept, $facts(self::job()->change('callRoutes', 'home', 'strip', 2)));
        $seen = self::job()->row('settings', ['key' => 'devices/pbx#transport', 'seen' => 'udp', 'seenAt' => '2026-03-01T09:00:00Z']);
        self::assertSame($kept, $facts($seen), 'what is seen to be as it comes changes nothing of what was set');
        $set = self::job()->row('settings', ['key' => 'devices/pbx#transport', 'set' => 'udp', 'setAt' => '2026-03-01T09:00:00Z']);
        self::assertSame($kept, $facts($set), 'nor does what is put in as it comes');
    }
}
