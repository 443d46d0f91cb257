<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Proof;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\TestLine;
use Vorhut\Core\Proof\TestPlan;
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
            $jobs->device('p'.$p, 'desk-phone-poe', 's'.($p % $segments), ['address' => '10.64.'.($p % $segments).'.'.(50 + $p)], ['mac' => $mac])
                ->row('extensions', ['key' => 'x'.$number, 'number' => $number, 'pbx' => 'pbx', 'terminal' => 'sip', 'phone' => 'p'.$p])
                ->row('accounts', ['key' => 'a'.$number, 'extension' => 'x'.$number, 'registrar' => 'pbx', 'user' => $number, 'macEntered' => $mac]);
        }

        return $jobs;
    }

    /** @return list<TestLine> */
    private static function of(Jobs $jobs, string $what): array
    {
        return array_values(array_filter(TestPlan::of($jobs->plan())->lines, static fn (TestLine $line): bool => $line->what === $what));
    }

    public function testCallsReachTheirBoundAndCrossEveryPair(): void
    {
        foreach ([[2, 1], [3, 2], [5, 3], [8, 4], [12, 3]] as [$phones, $segments]) {
            $calls = self::of(self::job($phones, $segments), 'call');
            self::assertGreaterThanOrEqual($phones, \count($calls), 'n phones need n calls');
            self::assertLessThanOrEqual($phones + $segments * ($segments - 1), \count($calls), 'and a pair that is not crossed one more');
            self::assertCount($phones, array_unique(array_map(static fn (TestLine $line): ?string => $line->caller, $calls)));
            self::assertCount($phones, array_unique(array_map(static fn (TestLine $line): ?string => $line->called, $calls)));
            $pairs = [];
            foreach ($calls as $line) {
                self::assertNotSame($line->caller, $line->called);
                $pairs[((int) $line->caller - 2101) % $segments.'>'.((int) $line->called - 2101) % $segments] = true;
            }
            self::assertCount($segments * ($segments - 1), array_filter(array_keys($pairs), static fn (string $pair): bool => $pair[0] !== $pair[2]), "$phones phones on $segments segments");
        }
        self::assertSame([], self::of(self::job(1), 'call'), 'one phone has nobody to call');
    }

    public function testOnePhoneMoreLeavesTheOtherLinesTheirNames(): void
    {
        $keys = static fn (Jobs $jobs): array => array_map(static fn (TestLine $line): string => $line->key, TestPlan::of($jobs->plan())->lines);
        $before = array_filter($keys(self::job(4)), static fn (string $key): bool => !str_starts_with($key, 'call:'));

        self::assertSame([], array_diff($before, $keys(self::job(5))));
        self::assertSame($keys(self::job(5)), array_unique($keys(self::job(5))));
    }

    public function testADeviceIsLookedAtFromWhereItIsControlled(): void
    {
        $jobs = self::job()->device('c', 'ptz-camera', 's1', ['address' => '10.64.1.31'], ['controlledFrom' => 's0'])->device('d', 'ptz-camera', 's1', ['address' => '10.64.1.32'])->device('boxed', 'ptz-camera', 's1');
        $froms = [];
        foreach (self::of($jobs, 'reach') as $line) {
            $froms[$line->to] = $line->from;
        }
        self::assertSame(['pbx' => 'outposts/s0', 'c' => 'outposts/s0', 'd' => 'outposts/s1'], $froms, 'and what has no address is not looked for');
        $found = [];
        foreach (self::of($jobs, 'discover') as $line) {
            $found[$line->to] = $line->wanted;
        }
        self::assertSame([Outcome::FoundByRange, Outcome::FoundByGroup], [$found['c'], $found['d']]);
    }

    public function testCodecsCallEachOtherOrThemselvesWhenAlone(): void
    {
        $keys = static fn (Jobs $jobs): array => array_values(array_filter(array_map(static fn (TestLine $line): string => $line->key, self::of($jobs, 'call')), static fn (string $key): bool => str_starts_with($key, 'direct:')));
        $one = self::job()->device('v1', 'room-codec', 's0', ['address' => '10.64.0.21']);
        self::assertSame(['direct:s0>v1'], $keys($one));
        self::assertSame(['direct:s1>v1', 'direct:s0>v2'], $keys($one->device('v2', 'room-codec', 's1', ['address' => '10.64.1.22'])));
    }

    public function testALineAddedByHandIsLikeTheOthers(): void
    {
        $jobs = self::job()->device('c', 'ptz-camera', 's1', ['address' => '10.64.1.31'])->row('lines', ['key' => 'l', 'what' => 'reach', 'from' => 's0', 'to' => 'C', 'port' => '554/tcp', 'note' => 'The recorder pulls it.']);
        $line = TestPlan::of($jobs->plan())->line('reach:s0>c:554/tcp');

        self::assertSame([Outcome::Answers, 'Added by hand. The recorder pulls it.'], [$line?->expected, (string) $line?->covers]);
    }

    public function testPredictionFollowsWhatWasSetAndNotWhatWasSeen(): void
    {
        $plan = self::job()->device('c', 'ptz-camera', 's1', ['address' => '10.64.1.31'], ['controlledFrom' => 's0'])->plan();
        $expected = static fn (Edit ...$edits): ?Outcome => TestPlan::of($plan->with(new Change(new Message('x'), array_values($edits))))->line('reach:s0>c:80/tcp')?->expected;

        self::assertSame(Outcome::Answers, $expected());
        self::assertSame(Outcome::Silent, $expected(Edit::value('nics/c.lan', 'gateway', Face::Set, null, '10.64.1.9')));
        self::assertSame(Outcome::Answers, $expected(Edit::value('nics/c.lan', 'gateway', Face::Seen, null, '10.64.1.9')), 'what was seen is observation');
    }

    public function testEveryLineSaysWhatItIsForAndWhy(): void
    {
        foreach (TestPlan::of(self::job(3)->device('v', 'room-codec', 's1', ['address' => '10.64.1.22'])->plan())->lines as $line) {
            foreach ([$line->title, $line->because, $line->covers] as $text) {
                self::assertNotSame('', (string) $text, $line->key);
                self::assertStringNotContainsString('{', (string) $text, $line->key);
            }
            self::assertNotSame([], $line->facts->texts(), $line->key);
        }
    }
}
