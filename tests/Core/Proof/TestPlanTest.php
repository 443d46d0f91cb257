<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Proof;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\TestBatches;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Network\Reachability\Flow;
use Vorhut\Core\Network\Reachability\RequiredFlows;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Test\CallCover;
use Vorhut\Tests\Support\Jobs;

/** Which lines a plan yields, and what is expected of each. */
final class TestPlanTest extends TestCase
{
    private static function job(int $phones = 0, int $segments = 2): Jobs
    {
        $jobs = new Jobs();
        $ports = [];
        for ($s = 0; $s < $segments; ++$s) {
            $jobs->segment('s'.$s, "10.64.$s.0/24", "10.64.$s.1");
            $ports['s'.$s] = "10.64.$s.1/24";
        }
        $jobs->router('r', $ports)->device('pbx', 'on-site-pbx', 's0', ['address' => '10.64.0.10']);
        for ($p = 0; $p < $phones; ++$p) {
            $number = (string) (2101 + $p);
            $mac = \sprintf('00-00-5E-00-53-%02X', $p);
            $jobs->device(
                'p'.$p,
                'desk-phone-poe',
                's'.($p % $segments),
                ['address' => '10.64.'.($p % $segments).'.'.(50 + $p)],
                ['mac' => $mac],
            )
                ->number($number, 'p'.$p, $mac);
        }

        return $jobs;
    }

    /** @return list<ProofTest> */
    private static function of(Jobs $jobs, string $what): array
    {
        $isIt = static fn (ProofTest $test): bool => $test->kind->value === $what;

        return array_values(array_filter(TestPlan::of($jobs->plan())->tests, $isIt));
    }

    public function testCallsReachTheirBoundAndCrossEveryPair(): void
    {
        foreach ([[2, 1], [3, 2], [5, 3], [8, 4], [12, 3], [4, 4], [7, 6], [9, 2], [5, 4]] as [$phones, $segments]) {
            $calls = self::of(self::job($phones, $segments), 'call');
            $least = 0;
            for ($s = 0; $s < $segments; ++$s) {
                // Of a segment each phone calls once, and together they call each other segment once.
                $least += max(intdiv($phones - $s + $segments - 1, $segments), $segments - 1);
            }
            self::assertCount($least, $calls, "$phones phones on $segments segments");
            $cover = CallCover::of(self::job($phones, $segments)->plan(), $calls);
            self::assertSame([$phones, $segments, $least, $least], [$cover->phones, $cover->segments, $cover->planned, $cover->least]);
            self::assertCount($phones, array_unique(array_map(static fn (ProofTest $test): ?string => $test->caller, $calls)));
            self::assertCount($phones, array_unique(array_map(static fn (ProofTest $test): ?string => $test->called, $calls)));
            $pairs = [];
            foreach ($calls as $test) {
                self::assertNotSame($test->caller, $test->called);
                $pairs[((int) $test->caller - 2101) % $segments.'>'.((int) $test->called - 2101) % $segments] = true;
            }
            self::assertCount(
                $segments * ($segments - 1),
                array_filter(array_keys($pairs), static fn (string $pair): bool => $pair[0] !== $pair[2]),
                "$phones phones on $segments segments",
            );
        }
        self::assertSame([], self::of(self::job(1), 'call'), 'one phone has nobody to call');
        self::assertStringContainsString('takes two', (string) CallCover::of(self::job(1)->plan(), [])->message());
    }

    public function testOnePhoneMoreLeavesTheOtherLinesTheirNames(): void
    {
        $keys = static fn (Jobs $jobs): array => array_map(
            static fn (ProofTest $test): string => $test->key,
            TestPlan::of($jobs->plan())->tests,
        );
        $before = array_filter($keys(self::job(4)), static fn (string $key): bool => 1 !== preg_match('~^(call|dial):~', $key));

        self::assertSame([], array_diff($before, $keys(self::job(5))));
        self::assertSame($keys(self::job(5)), array_unique($keys(self::job(5))));
    }

    public function testNoTelephoneIsInTwoCallsAtOnce(): void
    {
        $tests = TestPlan::of(self::job(23, 3)->plan())->tests;
        $waves = TestBatches::of($tests);
        $made = array_map(static fn (ProofTest $one): string => $one->key, array_merge(...$waves));
        $wanted = array_map(static fn (ProofTest $one): string => $one->key, $tests);
        sort($made);
        sort($wanted);
        self::assertSame($wanted, $made, 'each is made once');
        $dialled = array_values(array_filter($waves, static fn (array $wave): bool => TestKind::Dial === $wave[0]->kind));
        foreach ($dialled as $wave) {
            $numbers = array_merge(...array_map(static fn (ProofTest $one): array => [$one->caller, $one->called], $wave));
            self::assertSame(array_unique($numbers), $numbers);
            self::assertLessThanOrEqual(4, \count($wave));
        }
        // Two phones on a wire that three others call: each is called more than once, and never by two at a time.
        $few = TestBatches::of(TestPlan::of(self::job(6, 5)->plan())->tests);
        $calls = array_values(array_filter($few, static fn (array $wave): bool => TestKind::Call === $wave[0]->kind));
        self::assertNotSame([], array_filter($calls, static fn (array $wave): bool => \count($wave) > 1), 'and still several at once');
        foreach ($calls as $wave) {
            $called = array_map(static fn (ProofTest $one): ?string => $one->called, $wave);
            self::assertSame(array_unique($called), $called);
        }
        $dials = array_sum(array_map(\count(...), $dialled));
        self::assertLessThanOrEqual(intdiv($dials, 4) + 3, \count($dialled), 'as few waves as there is room for');
        $sorts = array_values(array_unique(array_map(static fn (array $wave): string => $wave[0]->kind->value, $waves)));
        self::assertSame(['reach', 'register', 'call', 'dial', 'ask'], array_values(array_diff($sorts, ['discover'])));
    }

    public function testATelephoneIsToldToCallWhereItCanBeAndItsPageIsReached(): void
    {
        $jobs = self::job(3)->device('conf', 'conference-phone', 's0', ['address' => '10.99.9.9'], ['mac' => '00-00-5E-00-53-99'])
            ->number('2199', 'conf', '00-00-5E-00-53-99');
        $dialled = self::of($jobs, 'dial');
        self::assertNotSame([], $dialled);
        self::assertNotContains('2199', array_map(static fn (ProofTest $one): ?string => $one->caller, $dialled));
        self::assertContains('2199', array_map(static fn (ProofTest $one): ?string => $one->called, $dialled), 'it can be called');
        $blind = $dialled[0];
        $phone = $jobs->plan()->extensionNumbered((string) $blind->caller)->phone ?? '';
        $jobs->segment('apart', '10.70.0.0/24')->change('devices', $phone, 'controlledFrom', 'apart');
        self::assertSame(Outcome::NotAsked, TestPlan::of($jobs->plan())->test($blind->key)?->expectedOutcome());
    }

    public function testADeviceIsLookedAtFromWhereItIsControlled(): void
    {
        $jobs = self::job()
            ->device('c', 'ptz-camera', 's1', ['address' => '10.64.1.31'], ['controlledFrom' => 's0'])
            ->device('d', 'ptz-camera', 's1', ['address' => '10.64.1.32'])
            ->device('boxed', 'ptz-camera', 's1');
        $froms = [];
        foreach (self::of($jobs, 'reach') as $test) {
            $froms[$test->to] = $test->from;
        }
        self::assertSame(
            ['pbx' => 'outposts/s0', 'c' => 'outposts/s0', 'd' => 'outposts/s1'],
            $froms,
            'and what has no address is not looked for',
        );
        $found = [];
        foreach (self::of($jobs, 'discover') as $test) {
            $found[$test->to] = $test->wanted;
        }
        self::assertSame([Outcome::FoundByRange, Outcome::FoundByGroup], [$found['c'], $found['d']]);
    }

    public function testCodecsCallEachOtherOrThemselvesWhenAlone(): void
    {
        $keys = static fn (Jobs $jobs): array => array_values(array_filter(
            array_map(static fn (ProofTest $test): string => $test->key, self::of($jobs, 'call')),
            static fn (string $key): bool => str_starts_with($key, 'direct:'),
        ));
        $one = self::job()->device('v1', 'room-codec', 's0', ['address' => '10.64.0.21']);
        self::assertSame(['direct:s0>v1'], $keys($one));
        self::assertSame(['direct:s0>v2', 'direct:s1>v1'], $keys($one->device('v2', 'room-codec', 's1', ['address' => '10.64.1.22'])));
    }

    public function testManyCodecsAreCalledOnceEachAndEveryPairOfTheirSegmentsOnce(): void
    {
        $jobs = self::job();
        for ($i = 0; $i < 40; ++$i) {
            $jobs->device('v'.$i, 'room-codec', 's'.($i % 2), ['address' => '10.64.'.($i % 2).'.'.(100 + $i)]);
        }
        $direct = array_values(array_filter(
            self::of($jobs, 'call'),
            static fn (ProofTest $test): bool => str_starts_with($test->key, 'direct:'),
        ));
        self::assertLessThanOrEqual(42, \count($direct), 'the codecs and the pairs of segments, not one with the other');
        self::assertCount(40, array_unique(array_map(static fn (ProofTest $test): string => $test->to, $direct)));
        self::assertEqualsCanonicalizing(
            ['outposts/s0', 'outposts/s1'],
            array_values(array_unique(array_map(static fn (ProofTest $test): string => $test->from, $direct))),
        );
    }

    public function testATestAddedByHandIsLikeTheOthers(): void
    {
        $jobs = self::job()
            ->device('c', 'ptz-camera', 's1', ['address' => '10.64.1.31'])
            ->row('tests', [
                'key' => 'l',
                'what' => 'reach',
                'from' => 's0',
                'to' => 'C',
                'port' => '554/tcp',
                'note' => 'The recorder pulls it.',
            ]);
        $test = TestPlan::of($jobs->plan())->test('reach:s0>c:554/tcp');

        self::assertSame([Outcome::Answers, 'Added by hand. The recorder pulls it.'], [$test?->expectedOutcome(), (string) $test?->covers]);
    }

    public function testADeviceThatMustNotBeReachablePassesBySilenceAndNeedsNoRule(): void
    {
        $plan = self::job()
            ->device('c', 'ptz-camera', 's1', ['address' => '10.64.1.31'])
            ->row('tests', ['key' => 'l', 'what' => 'reach', 'from' => 's0', 'to' => 'C', 'requires' => 'no-answer'])
            ->plan();
        $test = TestPlan::of($plan)->test('blocked:s0>c:80/tcp') ?? self::fail('it is in the plan');

        self::assertTrue($test->isForeseenToFail(), 'nothing stops it yet');
        self::assertSame([true, true, false, false], array_map(
            $test->isMetBy(...),
            [Outcome::Silent, Outcome::Unreachable, Outcome::Refuses, Outcome::Answers],
        ));
        self::assertSame([], array_filter(
            RequiredFlows::of($plan),
            static fn (Flow $flow): bool => 'outposts/s0' === $flow->from && 'c' === $flow->to,
        ));
    }

    public function testPredictionFollowsWhatWasSetAndNotWhatWasSeen(): void
    {
        $plan = self::job()->device('c', 'ptz-camera', 's1', ['address' => '10.64.1.31'], ['controlledFrom' => 's0'])->plan();
        $expected = static fn (Edit ...$edits): ?Outcome => TestPlan::of(
            $plan->with(new Change(new Message('x'), array_values($edits))),
        )->test('reach:s0>c:80/tcp')?->expectedOutcome();

        self::assertSame(Outcome::Answers, $expected());
        self::assertSame(Outcome::Silent, $expected(Edit::setting('nics/c.lan#gateway', Face::Set, null, '10.64.1.9')));
        self::assertSame(
            Outcome::Answers,
            $expected(Edit::setting('nics/c.lan#gateway', Face::Seen, null, '10.64.1.9')),
            'what was seen is observation',
        );
    }

    public function testEveryLineSaysWhatItIsForAndWhy(): void
    {
        foreach (TestPlan::of(self::job(3)->device('v', 'room-codec', 's1', ['address' => '10.64.1.22'])->plan())->tests as $test) {
            foreach ([$test->title, $test->because(), $test->covers] as $text) {
                self::assertNotSame('', (string) $text, $test->key);
                self::assertStringNotContainsString('{', (string) $text, $test->key);
            }
            self::assertNotSame([], $test->facts()->texts(), $test->key);
        }
    }

    public function testWhatIsExpectedOfAnAccountTellsAMissingEntryFromAMissingWay(): void
    {
        $jobs = self::job()->device('pbx', 'on-site-pbx', 's0', ['address' => '10.64.0.10'])
            ->device('p', 'desk-phone-poe', 's1', ['address' => '10.64.1.51'], ['mac' => '00-00-5E-00-53-01'])
            ->number('2101', 'p', '00-00-5E-00-53-01');
        $plan = $jobs->plan();
        $expected = static fn (Edit ...$edits): ?Outcome => TestPlan::of(
            $plan->with(new Change(new Message('x'), array_values($edits))),
        )->test('register:2101')?->expectedOutcome();

        self::assertSame(Outcome::Registered, $expected());
        self::assertSame(Outcome::Rejected, $expected(Edit::put('accounts', 'a2101', 'macEntered', '00-00-5E-00-53-01', null)));
        self::assertSame(Outcome::Silent, $expected(Edit::setting('nics/pbx.lan#gateway', Face::Set, null, '')));
        self::assertSame(Outcome::Silent, $expected(Edit::remove('accounts', $plan->row('accounts', 'a2101') ?? [])));
    }

    public function testWithoutAnAddressNobodyIsFoundOnTheOwnSegmentEither(): void
    {
        $plan = self::job()->device('c', 'room-codec', 's0', ['address' => '10.64.0.12'])->plan();
        $expected = static fn (?string $set): ?Outcome => TestPlan::of(
            $plan->with(new Change(new Message('x'), [Edit::setting('nics/c.lan#address', Face::Set, null, $set)])),
        )->test('discover:s0>c')?->expectedOutcome();

        self::assertSame([Outcome::FoundByGroup, Outcome::NotFound], [$expected(null), $expected('')]);
    }
}
