<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Proof;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Board;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Document\Schedules;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\Verdict;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

/** How far a phone is, by evidence; and the tables that are left behind. */
final class BoardTest extends TestCase
{
    private const LINE = 'call:2102>2101';

    private static function plan(): Plan
    {
        $jobs = (new Jobs())
            ->segment('v', '10.64.20.0/24', '10.64.20.1', ['vlan' => 20])
            ->device('pbx', 'on-site-pbx', 'v', ['address' => '10.64.20.10', 'address.set' => '10.64.20.10', 'firmware.seen' => '4.2.10']);
        foreach (['a' => '2101', 'b' => '2102'] as $key => $number) {
            $mac = '00-00-5E-00-53-'.substr($number, 2);
            $jobs->device($key, 'desk-phone-poe', 'v', ['address' => '10.64.20.'.substr($number, 2)], ['mac' => $mac, 'room' => 'Gate'])
                ->number($number, $key, $mac, ['location' => 'Gate', 'voicemail' => '2102' === $number]);
        }

        return $jobs->plan();
    }

    /** @param array<string, scalar|list<mixed>|null> $row */
    private static function with(Plan $plan, string $section, array $row): Plan
    {
        return $plan->with(new Change(new Message('x'), [Edit::add($section, $row)]));
    }

    /** @param list<string>|null $basis */
    private static function observed(
        Plan $plan,
        Outcome $outcome,
        string $key = 'o1',
        string $at = '2026-03-01T10:00:00Z',
        ?array $basis = null,
        string $test = self::LINE,
    ): Plan {
        return self::with($plan, 'observations', [
            'key' => $key,
            'test' => $test,
            'at' => $at,
            'by' => 'Jo',
            'onSite' => true,
            'outcome' => $outcome->value,
            'basis' => $basis ?? TestPlan::of($plan)->test($test)?->facts()->texts() ?? [],
        ]);
    }

    private static function state(Plan $plan): string
    {
        return array_column(
            array_map(static fn (array $one): array => [$one['phone']->key, $one['state']], Board::of($plan)->phones),
            1,
            0,
        )['a'];
    }

    public function testTheTableOfSettingsTellsBlankFromNotKnown(): void
    {
        $plan = self::plan()->with(new Change(new Message('x'), [
            Edit::setting('nics/a.lan#gateway', \Vorhut\Core\Plan\Face::Set, null, ''),
        ]));
        $rows = array_values(array_filter(
            Schedules::settings($plan),
            static fn (array $row): bool => 'A' === $row['tag'] && 'gateway' === $row['setting'],
        ));
        self::assertSame(['10.64.20.1', '-', ''], [$rows[0]['planned'], $rows[0]['set'], $rows[0]['seen']]);
    }

    public function testAPhoneMovesOnlyByEvidence(): void
    {
        $plan = self::plan();
        self::assertSame('waiting', self::state($plan));
        $refused = self::with($plan, 'fetches', [
            'key' => 'f1',
            'device' => 'a',
            'mac' => '00-00-5E-00-53-01',
            'at' => '2026-03-01T09:02:00Z',
            'arrived' => 1,
            'onSite' => true,
            'status' => 404,
        ]);
        self::assertSame('waiting', self::state($refused), 'asked, and got nothing');
        $fetched = self::with($refused, 'fetches', [
            'key' => 'f0',
            'device' => 'a',
            'mac' => '00-00-5E-00-53-01',
            'at' => '2026-03-01T09:01:00Z',
            'arrived' => 2,
            'onSite' => true,
            'status' => 200,
            'file' => 'abc',
        ]);
        self::assertSame('fetched', self::state($fetched), 'what came last counts, whatever its key and whatever a clock said');
        self::assertSame('fetched', self::state(self::observed($fetched, Outcome::Voicemail)), 'voicemail is no phone');
        self::assertSame('registered', self::state(self::observed($fetched, Outcome::OneWaySound)), 'it rang, and that is all');
        self::assertSame('called', self::state(self::observed($fetched, Outcome::DeviceAnswers)));
        self::assertSame(
            ['a' => 'called', 'b' => 'waiting'],
            array_column(
                array_map(
                    static fn (array $one): array => [$one['phone']->key, $one['state']],
                    Board::of(self::observed($fetched, Outcome::DeviceAnswers))->phones,
                ),
                1,
                0,
            ),
            'a call moves the phone that it rang, and no other',
        );
        $board = Board::of(self::observed($fetched, Outcome::DeviceAnswers));
        self::assertSame([1, 1, 0], [$board->count('called'), $board->count('waiting'), $board->count('registered')]);
        self::assertSame(['called', null], [$board->stateOf('a'), $board->stateOf('pbx')]);
        self::assertSame(
            'fetched',
            self::state(self::observed($fetched, Outcome::DeviceAnswers, basis: ['old=ground'])),
            'an outdated call does not count',
        );
    }

    public function testWhatWasCalledIsNoPhoneOfOursWhileItHasNotAskedForItsFile(): void
    {
        $plan = self::observed(self::plan(), Outcome::DeviceAnswers);
        self::assertSame('waiting', self::state($plan));
        self::assertSame('waiting', self::state(self::with($plan, 'fetches', [
            'key' => 'f', 'device' => 'a', 'mac' => '00-00-5E-00-53-01', 'at' => '2026-03-01T09:00:00Z', 'status' => 200,
        ])), 'a phone of the lab took it');
    }

    public function testAPhoneIsRegisteredByItsOwnWordAndCalledBySomebodysAndNotByItsAccount(): void
    {
        $fetched = self::with(self::plan(), 'fetches', [
            'key' => 'f', 'device' => 'a', 'mac' => '00-00-5E-00-53-01', 'at' => '2026-03-01T09:00:00Z', 'status' => 200, 'onSite' => true,
        ]);
        $account = self::observed($fetched, Outcome::Registered, test: 'register:2101');
        self::assertSame(Verdict::Passed, Proof::of($account)->find('register:2101')?->verdict);
        self::assertSame('fetched', self::state($account), 'the outpost asked, not the phone');
        $says = static fn (string $word): Plan => $fetched->with(new Change(new Message('x'), [
            Edit::setting('devices/a#registration', \Vorhut\Core\Plan\Face::Seen, null, $word),
        ]));
        self::assertSame('registered', self::state($says('registered')));
        $by = static fn (Plan $plan): string => (string) Board::of($plan)->phones[0]['registeredBy'];
        self::assertSame(
            ['', 'it says so itself, ', 'a call rang it'],
            [$by($fetched), $by($says('registered')), $by(self::observed($fetched, Outcome::OneWaySound))],
        );
        self::assertSame('fetched', self::state($says('not registered')));
        self::assertSame('called', self::state(self::observed($fetched, Outcome::Affirmed, test: 'hand:a:rang-and-spoke')));
        self::assertSame('fetched', self::state(self::observed($fetched, Outcome::Denied, test: 'hand:a:rang-and-spoke')));
        $shares = array_column((new \Vorhut\Core\Analysis\Analysis($says('registered')))->progress(), 'share', null);
        self::assertSame(0.5, $shares[4], 'one of two numbers has a phone that registered');
    }

    public function testStrangersAreShownOnceEachWithTheirLastTry(): void
    {
        $plan = self::plan();
        foreach (['09:00', '09:05'] as $i => $at) {
            $plan = self::with($plan, 'fetches', [
                'key' => 's'.$i,
                'mac' => '00-00-5E-00-53-EE',
                'at' => "2026-03-01T$at:00Z",
                'onSite' => true,
                'status' => 404,
            ]);
        }
        self::assertSame(['2026-03-01T09:05:00Z'], array_map(static fn ($row): string => $row->text('at'), Board::of($plan)->strangers));
    }

    public function testTheNewestObservationDecidesNotTheBest(): void
    {
        $plan = self::observed(self::observed(self::plan(), Outcome::DeviceAnswers), Outcome::NotAnswered, 'o0', '2026-03-01T11:00:00Z');

        self::assertSame([Verdict::Failed, Outcome::NotAnswered], [
            Proof::of($plan)->find(self::LINE)?->verdict,
            Proof::of($plan)->find(self::LINE)?->observedOutcome(),
        ]);
    }

    public function testSchedulesHoldWhatIsInTheDevicesSortedAsPeopleLook(): void
    {
        $plan = self::plan();
        $rows = Schedules::addresses($plan);
        self::assertSame(['A', 'B', 'PBX'], array_column($rows, 'tag'));
        self::assertSame(['10.64.20.10', '255.255.255.0', '10.64.20.1', 'static', '4.2.10', '20'], [
            $rows[2]['address'],
            $rows[2]['mask'],
            $rows[2]['gateway'],
            $rows[2]['how'],
            $rows[2]['firmware'],
            $rows[2]['vlan'],
        ]);
        self::assertSame('DHCP reservation', $rows[0]['how']);
        self::assertSame(
            [['2101', 'A', 'no'], ['2102', 'B', 'yes']],
            array_map(static fn (array $row): array => [$row['number'], $row['phone'], $row['voicemail']], Schedules::numbers($plan)),
        );
        $proof = Schedules::proof(Proof::of(self::observed($plan, Outcome::DeviceAnswers)));
        self::assertContains(
            ['device answers, sound both ways', 'passed', 'Jo'],
            array_map(static fn (array $row): array => [$row['observed'], $row['verdict'], $row['by']], $proof),
        );
    }
}
