<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Proof;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Analysis\Seen;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Observation;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Proof\TestResult;
use Vorhut\Core\Proof\Verdict;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

final class VerdictsTest extends TestCase
{
    private static function job(): Jobs
    {
        $jobs = (new Jobs())->segment('v', '10.64.20.0/24', '10.64.20.1')->segment('q', '10.64.40.0/24', '10.64.40.1')
            ->router('r', ['v' => '10.64.20.1/24', 'q' => '10.64.40.1/24'])
            ->device('pbx', 'on-site-pbx', 'v', ['address' => '10.64.20.10'])
            ->device('cam', 'ptz-camera', 'q', ['address' => '10.64.40.31'], ['controlledFrom' => 'v']);
        foreach ([
            'a' => ['v', '10.64.20.31', '2101'],
            'b' => ['v', '10.64.20.32', '2102'],
            'c' => ['q', '10.64.40.51', '2103'],
            'd' => ['q', '10.64.40.52', '2104'],
        ] as $key => [$segment, $address, $number]) {
            $mac = '00-00-5E-00-53-0'.substr($number, -1);
            $jobs->device($key, 'desk-phone-poe', $segment, ['address' => $address], ['mac' => $mac])
                ->number($number, $key, $mac);
        }

        return $jobs;
    }

    public function testEveryPhoneCallsOnceAndIsCalledOnceWithAsManyCallsAsPhones(): void
    {
        $calls = array_values(array_filter(
            TestPlan::of(self::job()->plan())->tests,
            static fn (ProofTest $test): bool => TestKind::Call === $test->kind,
        ));

        self::assertCount(4, $calls, 'n phones need n calls, and both ordered pairs of segments are crossed on the way');
        self::assertEqualsCanonicalizing(
            ['2101', '2102', '2103', '2104'],
            array_map(static fn (ProofTest $test): ?string => $test->caller, $calls),
        );
        self::assertEqualsCanonicalizing(
            ['2101', '2102', '2103', '2104'],
            array_map(static fn (ProofTest $test): ?string => $test->called, $calls),
        );
        $pairs = array_unique(array_map(
            static fn (ProofTest $test): string => $test->caller < '2103'
                ? ($test->called < '2103' ? 'vv' : 'vq')
                : ($test->called < '2103' ? 'qv' : 'qq'),
            $calls,
        ));
        self::assertContains('vq', $pairs);
        self::assertContains('qv', $pairs);
    }

    public function testNotFoundByGroupButFoundByRangeIsAPassingExpectation(): void
    {
        $test = TestPlan::of(self::job()->plan())->test('discover:v>cam');

        self::assertSame([Outcome::FoundByRange, Outcome::FoundByRange], [$test?->wanted, $test?->expectedOutcome()]);
    }

    public function testBetweenTwoSegmentsItIsCountedWhatWasSeenOnSiteAndWhatWasOnlyRehearsed(): void
    {
        $jobs = self::job();
        $there = static fn (Jobs $jobs): Seen => Seen::of(Proof::of($jobs->plan()), $jobs->plan())['v>q'] ?? self::fail('there are tests');
        $look = static fn (string $test, string $outcome): array => ['key' => $test.$outcome]
            + self::look($test, $outcome, self::job()->plan());
        $none = $there($jobs);
        self::assertSame([0, 0, 0, 0], [$none->held, $none->failed, $none->rehearsed, $none->share()]);
        self::assertGreaterThan(2, $none->tests);
        $rehearsed = $there($jobs->row('observations', ['key' => 'l', 'onSite' => false] + $look('reach:v>cam:80/tcp', 'answers')));
        self::assertSame([0, 1, true], [$rehearsed->held, $rehearsed->rehearsed, $rehearsed->isOnlyRehearsed()]);
        $held = $there($jobs->row('observations', ['key' => 's', 'at' => '2099-01-01T00:00:00Z'] + $look('reach:v>cam:80/tcp', 'answers')));
        self::assertSame(
            [1, 0, false, intdiv(100, $none->tests), $none->tests],
            [$held->held, $held->rehearsed, $held->isOnlyRehearsed(), $held->share(), $held->tests],
        );
        $both = $there($jobs->row('observations', ['key' => 'd', 'at' => '2099-01-01T00:00:00Z'] + $look('discover:v>cam', 'refuses')));
        self::assertSame(1, $both->failed);
        self::assertArrayNotHasKey('q>nowhere', Seen::of(Proof::of($jobs->plan()), $jobs->plan()));
    }

    public function testALineThatIsForeseenToFailIsContraryAllTheSame(): void
    {
        $jobs = self::job()->row('settings', ['key' => 'nics/cam.lan#gateway', 'set' => '']);
        $test = TestPlan::of($jobs->plan())->test('reach:v>cam:80/tcp');
        self::assertTrue($test?->isForeseenToFail());
        self::assertSame(Verdict::Failed, self::proved($jobs->plan(), 'reach:v>cam:80/tcp', Outcome::Silent));
    }

    public function testSilenceOfWhatIsNotPluggedInYetIsNoFailure(): void
    {
        $jobs = self::job();
        self::assertSame([Verdict::NotRun, Verdict::NotRun], [
            self::proved($jobs->plan(), 'reach:v>cam:80/tcp', Outcome::Silent),
            self::proved($jobs->plan(), 'register:2101', Outcome::Silent),
        ]);
        self::assertSame(
            Verdict::Failed,
            self::proved($jobs->plan(), 'reach:v>cam:80/tcp', Outcome::Refuses),
            'something is there and answers otherwise',
        );
        $plugged = static fn (string $device, string $at = '2026-03-01T08:00:00Z'): array => [
            'key' => $device.'.hook-up',
            'device' => $device,
            'step' => 'hook-up',
            'state' => 'done',
            'by' => 'Jo',
            'at' => $at,
        ];
        $later = self::job()->row('marks', $plugged('cam', '2026-03-01T10:00:00Z'))->plan();
        self::assertSame(
            Verdict::Outdated,
            self::proved($later, 'reach:v>cam:80/tcp', Outcome::Silent),
            'it was looked for before it was plugged in',
        );
        $jobs->row('marks', $plugged('cam'))->row('marks', $plugged('b'));
        self::assertSame(Verdict::Failed, self::proved($jobs->plan(), 'reach:v>cam:80/tcp', Outcome::Silent));
        self::assertSame(
            Verdict::NotRun,
            self::proved($jobs->plan(), 'call:2103>2102', Outcome::NotAnswered),
            'the phone is, its PBX is not',
        );
        $jobs->row('marks', $plugged('pbx'));
        self::assertSame(Verdict::Failed, self::proved($jobs->plan(), 'call:2103>2102', Outcome::NotAnswered));
    }

    public function testEvidenceIsStaleWhenOneOfItsOwnFactsMovedAndNotWhenAnythingDid(): void
    {
        $plan = self::job()->plan();
        $key = 'reach:v>cam:80/tcp';
        $basis = TestPlan::of($plan)->test($key)?->facts()->texts() ?? [];
        $seen = $plan->with(new Change(new Message(''), [
            Edit::add('observations', [
                'key' => 'o',
                'test' => $key,
                'at' => '2026-03-01T09:00:00Z',
                'by' => 'Jo',
                'onSite' => true,
                'outcome' => 'answers',
                'basis' => $basis,
            ]),
        ]));
        $verdict = static fn (Edit ...$edits): ?Verdict => Proof::of(
            $seen->with(new Change(new Message(''), array_values($edits))),
        )->find($key)?->verdict;

        self::assertSame(Verdict::Passed, $verdict());
        self::assertSame(
            Verdict::Passed,
            $verdict(Edit::setting('nics/a.lan#gateway', Face::Set, null, '10.64.20.9')),
            'another device',
        );
        self::assertSame(Verdict::Passed, $verdict(Edit::put('devices', 'cam', 'room', null, 'Quay')), 'a fact it never read');
        self::assertSame(Verdict::Outdated, $verdict(Edit::setting('nics/cam.lan#gateway', Face::Set, null, '10.64.40.9')));
        self::assertSame(
            Verdict::Outdated,
            $verdict(Edit::add('filters', [
                'key' => 'f',
                'router' => 'r',
                'position' => 1,
                'from' => 'v',
                'to' => 'q',
                'transport' => 'tcp',
                'action' => 'allow',
            ])),
            'a rule that came in before',
        );
        self::assertSame(
            Verdict::Passed,
            $verdict(Edit::setting('nics/cam.lan#gateway', Face::Set, null, '10.64.40.1')),
            'set as it was planned: the same value',
        );
    }

    public function testWhatIsWrittenToIsAskedAnewWhereItsLastLookWasContraryOrIsStale(): void
    {
        $jobs = self::job()->device('second', 'ptz-camera', 'q', ['address' => '10.64.40.33'], ['controlledFrom' => 'v']);
        foreach (['cam', 'second'] as $device) {
            $jobs->done($device, 'hook-up');
            $jobs->row('observations', self::look("reach:v>$device:80/tcp", 'silent', $jobs->plan()));
        }
        self::assertSame(['reach:v>cam:80/tcp'], Proof::of($jobs->plan())->toAskAnewAt('cam'), 'not what was never asked');
        $jobs->row('observations', ['basis' => ['another=fact']] + self::look('discover:v>cam', 'found-by-range', $jobs->plan()));
        self::assertEqualsCanonicalizing(['reach:v>cam:80/tcp', 'discover:v>cam'], Proof::of($jobs->plan())->toAskAnewAt('cam'));
        $jobs->row(
            'observations',
            ['key' => 'later', 'at' => '2026-03-01T10:00:00Z'] + self::look('reach:v>cam:80/tcp', 'answers', $jobs->plan()),
        );
        self::assertSame(['discover:v>cam'], Proof::of($jobs->plan())->toAskAnewAt('cam'), 'nor what is as planned');
    }

    public function testARehearsalProvesNothingOfTheSiteAndStandsBesideIt(): void
    {
        $jobs = self::job();
        $key = 'reach:v>cam:80/tcp';
        $jobs->row('observations', ['key' => 'lab', 'onSite' => false] + self::look($key, 'answers', $jobs->plan()));
        $result = Proof::of($jobs->plan())->find($key);
        self::assertSame([Verdict::NotRun, null, Verdict::Passed, true], [
            $result?->verdict, $result?->observedOutcome(), $result?->rehearsal?->verdict, $result?->isOnlyRehearsed(),
        ]);
        $proof = Proof::of($jobs->plan());
        self::assertSame([1, 0], [$proof->rehearsalCount(), \count($proof->with(Verdict::Passed))]);
        [$onSite, $inTheLab] = array_map(
            static fn (bool $rehearsing): array => array_map(
                static fn (TestResult $one): string => $one->test->key,
                $proof->open($rehearsing),
            ),
            [false, true],
        );
        self::assertContains($key, $onSite, 'the site has still to be asked');
        self::assertNotContains($key, $inTheLab, 'the lab has not');
        self::assertSame([], preg_grep('/^hand:/', $onSite), 'nor can an outpost ask a person');

        $jobs->row('observations', ['key' => 'site', 'at' => '2026-03-01T08:00:00Z'] + self::look($key, 'refuses', $jobs->plan()));
        $result = Proof::of($jobs->plan())->find($key);
        self::assertSame([Verdict::Failed, Verdict::Passed], [$result?->verdict, $result?->rehearsal?->verdict]);
        self::assertFalse($result?->isOnlyRehearsed());
        self::assertFalse(Proof::of(self::job()->plan())->find($key)?->isOnlyRehearsed());

        $practice = self::job();
        $practice->job += ['practice' => true];
        $practice->row('observations', ['key' => 'lab', 'onSite' => false] + self::look($key, 'answers', $practice->plan()));
        $result = Proof::of($practice->plan())->find($key);
        self::assertSame([Verdict::Passed, null], [$result?->verdict, $result?->rehearsal], 'of a practice job the lab is the site');
    }

    public function testAnObservationSaysWhereItStood(): void
    {
        $place = static fn (array $more): string => (string) Observation::fromRow(new Row($more))->place();
        self::assertSame('', $place(['by' => 'Jo']));
        self::assertSame('van, eth1', $place(['outpost' => 'van', 'adapter' => 'eth1']));
        self::assertSame('van, eth1, 10.64.40.9', $place(['outpost' => 'van', 'adapter' => 'eth1', 'address' => '10.64.40.9']));
    }

    public function testWhatArrivedLastCountsWhateverItsClockSaid(): void
    {
        $jobs = self::job();
        $key = 'reach:v>cam:80/tcp';
        $look = static fn (string $outcome): array => self::look($key, $outcome, $jobs->plan());
        $jobs->row('observations', ['key' => 'a', 'arrived' => 1, 'at' => '2099-01-01T00:00:00Z'] + $look('refuses'))
            ->row('observations', ['key' => 'b', 'arrived' => 2] + $look('answers'))
            ->row('observations', ['key' => '0', 'at' => '2098-01-01T00:00:00Z'] + $look('silent'));

        self::assertSame(Verdict::Passed, Proof::of($jobs->plan())->find($key)?->verdict);
    }

    public function testWhatCouldNotBeAskedIsNotContraryAndTakesNothingAway(): void
    {
        $jobs = self::job();
        $key = 'reach:v>cam:80/tcp';
        $jobs->done('cam', 'hook-up')
            ->row('observations', ['key' => 'a', 'arrived' => 1] + self::look($key, 'not-asked', $jobs->plan()));
        $result = Proof::of($jobs->plan())->find($key);
        self::assertSame([Verdict::NotRun, null, 'a'], [$result?->verdict, $result?->observedOutcome(), $result?->unasked?->key]);

        $jobs->row('observations', ['key' => 'b', 'arrived' => 2] + self::look($key, 'answers', $jobs->plan()));
        $result = Proof::of($jobs->plan())->find($key);
        self::assertSame([Verdict::Passed, null], [$result?->verdict, $result?->unasked], 'it was asked since');

        $jobs->row('observations', ['key' => 'c', 'arrived' => 3] + self::look($key, 'not-asked', $jobs->plan()));
        $result = Proof::of($jobs->plan())->find($key);
        self::assertSame([Verdict::Passed, 'c'], [$result?->verdict, $result?->unasked?->key]);
    }

    public function testAPersonsAnswerIsATestThatGoesStaleWithWhatItStandsOn(): void
    {
        $jobs = self::job();
        $jobs->job += ['emergencyNumbers' => ['112', '113']];
        $key = 'hand:pbx:emergency-arranged';
        $test = TestPlan::of($jobs->plan())->test($key);
        self::assertTrue($test?->isByHand());
        self::assertContains('job:emergencyNumbers=112, 113', $test->facts()->texts());
        self::assertSame(Verdict::Passed, self::proved($jobs->plan(), $key, Outcome::Affirmed));
        self::assertSame(Verdict::Failed, self::proved($jobs->plan(), $key, Outcome::Denied));
        $jobs->row('observations', self::look($key, 'affirmed', $jobs->plan()));
        $moved = $jobs->plan()->with(new Change(new Message('x'), [Edit::put('job', '', 'emergencyNumbers', ['112', '113'], ['112'])]));
        self::assertSame(Verdict::Outdated, Proof::of($moved)->find($key)?->verdict);
        $jobs->job['emergencyNumbers'] = [];
        $jobs->job['country'] = '';
        self::assertNotNull(TestPlan::of($jobs->plan())->test($key), 'an open question does not remove the test');
    }

    public function testAResultIsHeldAgainstThePredictionToo(): void
    {
        $plan = (new Jobs())->segment('v', '10.64.20.0/24', '10.64.20.1')->segment('a', '10.64.30.0/24', '10.64.30.1')
            ->router('r', ['v' => '10.64.20.1/24', 'a' => '10.64.30.1/24'])
            ->device('cam', 'ptz-camera', 'a', ['address' => '10.64.30.9'], ['controlledFrom' => 'v'])
            ->row('marks', [
                'key' => 'cam.hook-up', 'device' => 'cam', 'step' => 'hook-up', 'state' => 'done',
                'by' => 'Jo', 'at' => '2026-02-01T09:00:00Z',
            ])
            ->plan();
        $key = 'reach:v>cam:80/tcp';
        $isUnpredicted = static function (Outcome $observed, Outcome $predicted) use ($plan, $key): ?bool {
            $row = self::look($key, $observed->value, $plan);
            $with = $plan->with(new Change(new Message(''), [Edit::add('observations', $row)]));

            return Proof::of($with)->find($key)?->isUnpredicted($predicted);
        };
        self::assertFalse($isUnpredicted(Outcome::Answers, Outcome::Answers));
        self::assertTrue($isUnpredicted(Outcome::Silent, Outcome::Answers));
        self::assertTrue($isUnpredicted(Outcome::Answers, Outcome::Silent));
        self::assertFalse($isUnpredicted(Outcome::Unreachable, Outcome::Silent), 'a router says what silence says');
        self::assertFalse(Proof::of($plan)->find($key)?->isUnpredicted(Outcome::Silent), 'not run');
    }

    private static function proved(Plan $plan, string $key, Outcome $observed): ?Verdict
    {
        $row = self::look($key, $observed->value, $plan);

        return Proof::of($plan->with(new Change(new Message(''), [Edit::add('observations', $row)])))->find($key)?->verdict;
    }

    /** @return array<string, list<string>|string|bool> */
    private static function look(string $key, string $outcome, Plan $plan): array
    {
        return [
            'key' => 'o-'.md5($key),
            'test' => $key,
            'at' => '2026-03-01T09:00:00Z',
            'by' => 'Jo', 'onSite' => true,
            'outcome' => $outcome,
            'basis' => TestPlan::of($plan)->test($key)?->facts()->texts() ?? [],
        ];
    }
}
