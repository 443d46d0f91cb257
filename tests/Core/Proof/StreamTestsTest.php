<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Proof;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Tests\Support\Jobs;

/** Streams that are pulled are asked about from each segment that receives them, once. */
final class StreamTestsTest extends TestCase
{
    private static function job(): Jobs
    {
        $jobs = (new Jobs())->segment('s', '10.0.0.0/24', '10.0.0.1')->segment('t', '10.0.1.0/24', '10.0.1.1')
            ->router('r', ['s' => '10.0.0.1/24', 't' => '10.0.1.1/24'])
            ->device('cam', 'ptz-camera', 's', ['address' => '10.0.0.31', 'frameRate' => '50'])
            ->row('streams', ['key' => 'st', 'name' => 'Hall', 'sender' => 'cam', 'transport' => 'RTSP', 'cast' => 'unicast']);
        foreach (['a' => 't', 'b' => 't', 'c' => 's'] as $key => $segment) {
            $jobs->device($key, 'monitor-receiver', $segment, ['address' => ('t' === $segment ? '10.0.1.' : '10.0.0.').(50 + \ord($key))])
                ->row('deliveries', ['key' => $key, 'stream' => 'st', 'device' => $key]);
        }

        return $jobs;
    }

    /** @return array<string, ProofTest> */
    private static function tests(Jobs $jobs): array
    {
        $tests = [];
        foreach (TestPlan::of($jobs->plan())->tests as $test) {
            if (TestKind::Stream === $test->kind) {
                $tests[$test->key] = $test;
            }
        }

        return $tests;
    }

    public function testFromEachSegmentOnce(): void
    {
        $tests = self::tests(self::job());
        self::assertSame(['stream:st:t', 'stream:st:s'], array_keys($tests));
        self::assertSame('Hall: CAM has H.264 1920×1080 50 fps, asked from T', (string) $tests['stream:st:t']->title);
        self::assertSame([Outcome::Pictures, 'outposts/t', 'st', '554/tcp'], [
            $tests['stream:st:t']->expectedOutcome(),
            $tests['stream:st:t']->from,
            $tests['stream:st:t']->called,
            (string) $tests['stream:st:t']->port,
        ]);
        self::assertSame([], self::tests(self::job()->change('streams', 'st', 'transport', 'SRT')), 'what is pushed is not pulled');
    }

    public function testWhatIsForeseenAndWhatMakesItStale(): void
    {
        $deaf = self::job()->row('settings', ['key' => 'nics/cam.lan#gateway', 'planned' => '']);
        self::assertSame([Outcome::Silent, Outcome::Pictures], array_map(
            static fn (ProofTest $test): Outcome => $test->expectedOutcome(),
            array_values(self::tests($deaf)),
        ));
        $facts = static fn (Jobs $jobs): array => self::tests($jobs)['stream:st:s']->facts()->texts();
        self::assertNotSame($facts(self::job()), $facts(self::job()->change('streams', 'st', 'codec', 'H.265')));
        self::assertSame($facts(self::job()), $facts(self::job()->change('streams', 'st', 'note', 'Ask Jo')));
    }
}
