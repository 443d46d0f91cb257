<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Proof;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\Proof;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestPlan;
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
                ->row('extensions', ['key' => 'x'.$number, 'number' => $number, 'pbx' => 'pbx', 'terminal' => 'sip', 'phone' => $key])
                ->row('accounts', [
                    'key' => 'a'.$number,
                    'extension' => 'x'.$number,
                    'registrar' => 'pbx',
                    'user' => $number,
                    'macEntered' => $mac,
                ]);
        }

        return $jobs;
    }

    public function testEveryPhoneCallsOnceAndIsCalledOnceWithAsManyCallsAsPhones(): void
    {
        $calls = array_values(array_filter(
            TestPlan::of(self::job()->plan())->tests,
            static fn (ProofTest $test): bool => 'call' === $test->what,
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

        self::assertSame([Outcome::FoundByRange, Outcome::FoundByRange], [$test?->wanted, $test?->expected]);
    }

    public function testALineThatIsForeseenToFailIsContraryAllTheSame(): void
    {
        $jobs = self::job()->row('settings', ['key' => 'nics/cam.lan#gateway', 'set' => '']);
        $test = TestPlan::of($jobs->plan())->test('reach:v>cam:80/tcp');
        self::assertTrue($test?->isForeseenToFail());
        self::assertSame(Verdict::Contrary, self::proved($jobs->plan(), 'reach:v>cam:80/tcp', Outcome::Silent));
    }

    public function testSilenceOfWhatIsNotPluggedInYetIsNoFailure(): void
    {
        $jobs = self::job();
        self::assertSame([Verdict::NotYet, Verdict::NotYet], [
            self::proved($jobs->plan(), 'reach:v>cam:80/tcp', Outcome::Silent),
            self::proved($jobs->plan(), 'register:2101', Outcome::Silent),
        ]);
        self::assertSame(
            Verdict::Contrary,
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
            Verdict::Stale,
            self::proved($later, 'reach:v>cam:80/tcp', Outcome::Silent),
            'it was looked for before it was plugged in',
        );
        $jobs->row('marks', $plugged('cam'))->row('marks', $plugged('b'));
        self::assertSame(Verdict::Contrary, self::proved($jobs->plan(), 'reach:v>cam:80/tcp', Outcome::Silent));
        self::assertSame(
            Verdict::NotYet,
            self::proved($jobs->plan(), 'call:2104>2102', Outcome::NotAnswered),
            'the phone is, its PBX is not',
        );
        $jobs->row('marks', $plugged('pbx'));
        self::assertSame(Verdict::Contrary, self::proved($jobs->plan(), 'call:2104>2102', Outcome::NotAnswered));
    }

    public function testEvidenceIsStaleWhenOneOfItsOwnFactsMovedAndNotWhenAnythingDid(): void
    {
        $plan = self::job()->plan();
        $key = 'reach:v>cam:80/tcp';
        $basis = TestPlan::of($plan)->test($key)?->facts->texts() ?? [];
        $seen = $plan->with(new Change(new Message(''), [
            Edit::add('observations', [
                'key' => 'o',
                'test' => $key,
                'at' => '2026-03-01T09:00:00Z',
                'by' => 'Jo',
                'outcome' => 'answers',
                'basis' => $basis,
            ]),
        ]));
        $verdict = static fn (Edit ...$edits): ?Verdict => Proof::of(
            $seen->with(new Change(new Message(''), array_values($edits))),
        )->find($key)?->verdict;

        self::assertSame(Verdict::AsPlanned, $verdict());
        self::assertSame(
            Verdict::AsPlanned,
            $verdict(Edit::setting('nics/a.lan#gateway', Face::Set, null, '10.64.20.9')),
            'another device',
        );
        self::assertSame(Verdict::AsPlanned, $verdict(Edit::put('devices', 'cam', 'room', null, 'Quay')), 'a fact it never read');
        self::assertSame(Verdict::Stale, $verdict(Edit::setting('nics/cam.lan#gateway', Face::Set, null, '10.64.40.9')));
        self::assertSame(
            Verdict::Stale,
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
            Verdict::AsPlanned,
            $verdict(Edit::setting('nics/cam.lan#gateway', Face::Set, null, '10.64.40.1')),
            'set as it was planned: the same value',
        );
    }

    public function testWhatIsWrittenToIsAskedAnewWhereItsLastLookWasContraryOrIsStale(): void
    {
        $jobs = self::job()->device('second', 'ptz-camera', 'q', ['address' => '10.64.40.33'], ['controlledFrom' => 'v']);
        foreach (['cam', 'second'] as $device) {
            $jobs->row('marks', ['key' => $device.'.hook-up', 'device' => $device, 'step' => 'hook-up', 'state' => 'done', 'by' => 'Jo']);
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

    private static function proved(Plan $plan, string $key, Outcome $observed): ?Verdict
    {
        $row = self::look($key, $observed->value, $plan);

        return Proof::of($plan->with(new Change(new Message(''), [Edit::add('observations', $row)])))->find($key)?->verdict;
    }

    /** @return array<string, list<string>|string> */
    private static function look(string $key, string $outcome, Plan $plan): array
    {
        return [
            'key' => 'o-'.md5($key),
            'test' => $key,
            'at' => '2026-03-01T09:00:00Z',
            'by' => 'Jo',
            'outcome' => $outcome,
            'basis' => TestPlan::of($plan)->test($key)?->facts->texts() ?? [],
        ];
    }
}
