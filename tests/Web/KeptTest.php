<?php

declare(strict_types=1);

namespace Vorhut\Tests\Web;

use PHPUnit\Framework\TestCase;
use Psr\Clock\ClockInterface;
use Symfony\Component\Cache\Adapter\ArrayAdapter;
use Symfony\Component\Clock\MockClock;
use Symfony\Component\Lock\LockFactory;
use Symfony\Component\Lock\Store\InMemoryStore;
use Vorhut\Core\Analysis\Analysis;
use Vorhut\Core\Analysis\NotKept;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\TestResult;
use Vorhut\Entity\Job;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Web\Frame\StampedCache;

/** What is kept of an analysis is what would be computed, and no longer than it is true. */
final class KeptTest extends TestCase
{
    private static function job(int $revision, string $token = 'a'): Job
    {
        $job = new Job();
        $job->fileToken = $token;
        $job->stamp = 'stamp '.$revision;

        return $job;
    }

    private static function keptIn(ArrayAdapter $pool, Job $job, int $patient = 0, ?ClockInterface $clock = null): StampedCache
    {
        return new StampedCache($pool, new LockFactory(new InMemoryStore()), $clock ?? new MockClock(), $job, $patient);
    }

    public function testARefreshTakesWhatIsAFewSecondsOldAndSaysSoButNothingIsMadeOfIt(): void
    {
        $pool = new ArrayAdapter();
        $clock = new MockClock();
        $make = static fn (string $text): \Closure => static fn (): string => $text;
        self::assertSame('old', self::keptIn($pool, self::job(1), 0, $clock)->get('part', $make('old')));
        $refresh = self::keptIn($pool, self::job(2), 5, $clock);
        self::assertSame(['old', true], [$refresh->get('part', $make('new')), $refresh->isBehind()]);
        $whole = self::keptIn($pool, self::job(2), 5, $clock);
        $made = $whole->get('whole', static fn (): string => 'of '.$whole->get('part', $make('new')));
        self::assertSame('of new', $made, 'made of this state');
        self::assertFalse($whole->isBehind());
        self::keptIn($pool, self::job(2), 0, $clock)->get('other', $make('old'));
        $two = self::keptIn($pool, self::job(3), 5, $clock);
        self::assertSame('newer newer', $two->get('two', static fn (): string => $two->get('part', $make('newer'))
            .' '.$two->get('other', $make('newer'))), 'all of it, not only the first');
        $asked = self::keptIn($pool, self::job(5), 0, $clock);
        self::assertSame(['newest', false], [$asked->get('part', $make('newest')), $asked->isBehind()], 'who asks himself waits');
        $clock->sleep(6);
        $late = self::keptIn($pool, self::job(4), 5, $clock);
        self::assertSame(['late', false], [$late->get('part', $make('late')), $late->isBehind()]);
    }

    public function testAResultIsMadeOnceForAStateAndAnewForTheNext(): void
    {
        $pool = new ArrayAdapter();
        $made = 0;
        $make = static function () use (&$made): array {
            return ['made' => ++$made];
        };
        $job = self::job(5);
        $first = self::keptIn($pool, $job);
        self::assertSame(['made' => 1], $first->get('x', $make));
        self::assertSame(['made' => 1], self::keptIn($pool, self::job(5))->get('x', $make));
        self::assertSame(['made' => 2], $first->get('y', $make), 'another part');
        self::assertSame(['made' => 3], self::keptIn($pool, self::job(5, 'b'))->get('x', $make), 'another job');
        $job->stamp = 'stamp 6';
        self::assertSame(['made' => 1], $first->get('x', $make), 'what looked at the snapshot before the change is of the one before');
        self::assertSame(['made' => 4], self::keptIn($pool, $job)->get('x', $make));
        self::assertSame(['made' => 4], self::keptIn($pool, self::job(6))->get('x', $make));
        $nameless = new Job();
        self::assertSame(['made' => 5], self::keptIn($pool, $nameless)->get('x', $make));
        self::assertSame(['made' => 6], self::keptIn($pool, $nameless)->get('x', $make), 'of no known state nothing is taken over');
    }

    public function testWhatIsForeseenIsWalkedOnceForTheTestsThatAreLookedAtTogether(): void
    {
        $pool = new ArrayAdapter();
        $plan = JobDocument::fromJson(Jobs::demo('port'), Jobs::catalogue())->plan(Jobs::catalogue());
        $wanted = array_map(static fn (TestResult $one): Outcome => $one->test->expectedOutcome(), Proof::of($plan)->results);
        foreach (['all', 'from what was kept'] as $time) {
            $analysis = new Analysis($plan, self::keptIn($pool, self::job(1)));
            $results = $analysis->proof()->results;
            self::assertSame($wanted, array_values($analysis->foreseen($results)), $time);
            self::assertSame('all' === $time ? \count($results) : 0, $results[0]->test->predictions->computed, $time);
        }
        // Any other tests, whatever they share a place with, are given their own.
        foreach (\array_slice($results, 0, 12) as $n => $one) {
            $analysis = new Analysis($plan, self::keptIn($pool, self::job(1)));
            self::assertSame([$one->test->key => $wanted[$n]], $analysis->foreseen([$one]));
        }
        self::assertNotSame([], array_filter($results, static fn (TestResult $one): bool => $one->test->isForeseenToFail()));
    }

    public function testWhatIsKeptIsWhatIsComputed(): void
    {
        $pool = new ArrayAdapter();
        $plan = JobDocument::fromJson(Jobs::demo('port'), Jobs::catalogue())->plan(Jobs::catalogue());
        $fresh = new Analysis($plan, new NotKept());
        foreach (['computed', 'from what was kept'] as $time) {
            $analysis = new Analysis($plan, self::keptIn($pool, self::job(1)));
            self::assertEquals($fresh->progress(), $analysis->progress(), $time);
            self::assertEquals($fresh->figures(), $analysis->figures(), $time);
            self::assertSame(json_encode($fresh->findings()->all), json_encode($analysis->findings()->all), $time);
            foreach (array_keys($plan->devices) as $device) {
                self::assertSame($fresh->stateOf($device), $analysis->stateOf($device), $time);
            }
        }
    }
}
