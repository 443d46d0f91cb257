<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Audio;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Audio\PatchBay;
use Vorhut\Core\Audio\SoundWay;
use Vorhut\Core\Plan\SoundPatch;
use Vorhut\Tests\Support\Jobs;

/** The patch of sound: ways through processors, channels taken twice, holes, and how long it is on its way. */
final class PatchBayTest extends TestCase
{
    /** @param array{string, int, string, int, int} ...$patches from, its first channel, to, its first channel, how many */
    private static function job(array ...$patches): Jobs
    {
        $jobs = (new Jobs())->segment('s', '10.0.0.0/24')->segment('t', '10.0.1.0/24')
            ->device('desk', 'console-card', 's', ['channels' => '32', 'networkBuffer' => '64'])
            ->device('fx', 'processing-server', 's', ['racks' => '16', 'networkBuffer' => '32', 'plugInSamples' => '128'])
            ->device('ux', 'processing-server', 's', ['networkBuffer' => '32'])
            ->device('far', 'console-card', 't')
            ->device('sw', 'unmanaged-switch', null);
        foreach (['desk', 'fx', 'ux'] as $port => $device) {
            $jobs->row('cables', ['key' => $device, 'device' => $device, 'switch' => 'sw', 'port' => (string) $port, 'mbps' => 1000]);
        }
        foreach ($patches as $n => [$from, $first, $to, $at, $count]) {
            $jobs->row('soundPatches', ['key' => "p$n", 'name' => "patch $n", 'from' => $from, 'fromChannel' => $first, 'to' => $to,
                'toChannel' => $at, 'count' => $count]);
        }

        return $jobs;
    }

    /** @param array{string, int, string, int, int} ...$patches */
    private static function bay(array ...$patches): PatchBay
    {
        return PatchBay::of(self::job(...$patches)->plan());
    }

    /** @return list<string> */
    private static function ways(PatchBay $bay): array
    {
        return array_map(static fn (SoundWay $one): string => $one.($one->ends ? '' : ' …'), $bay->ways);
    }

    public function testAWayGoesThroughTheProcessorAndBack(): void
    {
        $bay = self::bay(['desk', 1, 'fx', 1, 8], ['fx', 1, 'desk', 17, 8]);
        self::assertSame(['DESK 1-8 → FX 1-8 → DESK 17-24'], self::ways($bay));
        self::assertTrue($bay->isWhole());
        // 32 + 128 in the processor, 64 in the desk: 224 samples at 48 kHz; four cables that take 1526 bytes in whole at 1 Gbit/s.
        self::assertSame(224, $bay->ways[0]->latency->samples);
        self::assertEqualsWithDelta(224 / 48 + 4 * 1526 * 8 / 1e6, $bay->ways[0]->latency->milliseconds, 1e-9);
        self::assertSame('patch 0', $bay->ways[0]->name());
    }

    public function testWaysPartWhereTheOutputsDo(): void
    {
        $bay = self::bay(
            ['desk', 1, 'fx', 3, 8],
            ['fx', 3, 'desk', 1, 4],
            ['fx', 7, 'ux', 1, 4],
            ['ux', 1, 'desk', 9, 3],
            ['fx', 5, 'far', 1, 1],
        );
        self::assertSame([
            'DESK 1-2 → FX 3-4 → DESK 1-2',
            'DESK 3 → FX 5 → DESK 3',
            'DESK 3 → FX 5 → FAR 1',
            'DESK 4 → FX 6 → DESK 4',
            'DESK 5-7 → FX 7-9 → UX 1-3 → DESK 9-11',
            'DESK 8 → FX 10 → UX 4 …',
        ], self::ways($bay));
        self::assertSame(['p4'], array_map(static fn (SoundPatch $one): string => $one->key, $bay->apart));
        self::assertSame([[4, 1, true]], array_map(
            static fn (array $one): array => [$one['channel'], $one['count'], $one['given']],
            $bay->holes,
        ));
    }

    public function testWhatIsPatchedTwicePastTheEndOrFromNowhere(): void
    {
        $bay = self::bay(['desk', 1, 'fx', 1, 8], ['desk', 21, 'fx', 7, 4], ['fx', 1, 'desk', 29, 5], ['fx', 16, 'desk', 1, 2]);
        self::assertSame([['FX', 7, 2]], array_map(
            static fn (array $one): array => [$one['device']->tag, $one['channel'], $one['count']],
            $bay->twice,
        ));
        self::assertSame([['DESK', false, 32], ['FX', true, 16]], array_map(
            static fn (array $one): array => [$one['device']->tag, $one['sends'], $one['has']],
            $bay->past,
        ));
        self::assertSame([[6, 5, true], [16, 2, false]], array_map(
            static fn (array $one): array => [$one['channel'], $one['count'], $one['given']],
            $bay->holes,
        ));
        self::assertContains('FX 16-17 → DESK 1-2', self::ways($bay), 'what nothing goes into begins there');
        self::assertFalse($bay->isWhole());
    }

    public function testACircleIsFoundAndEnds(): void
    {
        $bay = self::bay(['fx', 1, 'ux', 1, 2], ['ux', 2, 'fx', 2, 1], ['desk', 1, 'fx', 1, 2], ['ux', 1, 'desk', 1, 1]);
        self::assertSame([['FX', 'UX']], array_map(
            static fn (array $round): array => array_map(static fn ($one): string => $one->tag, $round),
            $bay->circles,
        ));
        self::assertSame(['DESK 1 → FX 1 → UX 1 → DESK 1', 'DESK 2 → FX 2 → UX 2 → FX 2 …'], self::ways($bay));
        $bay = self::bay(['desk', 1, 'fx', 1, 1], ['fx', 1, 'ux', 1, 1], ['ux', 1, 'fx', 1, 1]);
        self::assertCount(1, $bay->circles, 'whatever stands first');
        self::assertSame([], self::bay(['fx', 1, 'ux', 2, 1], ['ux', 1, 'fx', 2, 1])->circles, 'another channel is another way');
    }

    public function testNoFanOutMakesItEndless(): void
    {
        $jobs = (new Jobs())->segment('s', '10.0.0.0/24')->device('p0', 'console-card', 's');
        for ($n = 1; $n <= 40; ++$n) {
            $jobs->device("p$n", 'processing-server', 's');
            foreach (['a', 'b'] as $one) {
                $jobs->row('soundPatches', ['key' => $one.$n, 'from' => 'p'.($n - 1), 'fromChannel' => 1, 'to' => "p$n", 'toChannel' => 1]);
            }
        }
        $bay = PatchBay::of($jobs->plan());
        self::assertLessThanOrEqual(5_000, \count($bay->ways));
        self::assertSame([true, false], [$bay->isCut, $bay->isWhole()], 'and it is said');
    }

    public function testSoManyChannelsAreFollowedAndTheRestIsSaid(): void
    {
        $jobs = (new Jobs())->segment('s', '10.0.0.0/24')->device('desk', 'console-card', 's')->device('fx', 'processing-server', 's');
        for ($n = 0; $n < 200; ++$n) {
            $jobs->row('soundPatches', ['key' => "p$n", 'from' => 'desk', 'fromChannel' => 1, 'to' => 'fx', 'toChannel' => 1]
                + ['count' => 512]);
        }
        $bay = PatchBay::of($jobs->plan());
        self::assertSame([200 - intdiv(100_000, 512), false], [$bay->left, $bay->isWhole()]);
        $full = array_fill(0, 200, ['desk', 1, 'fx', 1, 500]);
        self::assertSame([0, 1], [self::bay(...$full)->left, self::bay(...$full, ...[['desk', 1, 'fx', 1, 1]])->left]);
    }

    /** @return iterable<string, array{list<string>, Jobs}> */
    public static function jobs(): iterable
    {
        $there = ['desk', 1, 'fx', 1, 8];
        $back = ['fx', 1, 'desk', 17, 8];
        yield 'whole' => [[], self::job($there, $back)];
        yield 'twice' => [['sound-patched-twice'], self::job($there, $back, ['desk', 9, 'fx', 8, 1])];
        yield 'past the end' => [['sound-patched-past-the-end'], self::job($there, $back, ['desk', 31, 'far', 1, 4])
            ->change('nics', 'far.lan', 'segment', 's')];
        yield 'comes out nowhere' => [['sound-ends-in-a-processor'], self::job($there, ['fx', 1, 'desk', 17, 7])];
        yield 'comes from nowhere' => [['sound-from-nowhere'], self::job(['desk', 1, 'fx', 1, 7], $back)];
        yield 'apart' => [['sound-patched-across-networks'], self::job($there, ['fx', 1, 'far', 17, 8])];
        yield 'a circle' => [['sound-goes-in-a-circle'], self::job(['fx', 1, 'ux', 1, 1], ['ux', 1, 'fx', 1, 1])];
        yield 'as long as it may be' => [[], self::job($there, $back)->fact('soundLimit', 5)];
        yield 'longer than it may be' => [['sound-too-late'], self::job($there, $back)->fact('soundLimit', 4)];
    }

    /** @param list<string> $codes */
    #[DataProvider('jobs')]
    public function testFindings(array $codes, Jobs $jobs): void
    {
        $found = array_map(static fn ($one): string => $one->code, Findings::of($jobs->plan(), ShippedRules::all())->all);
        self::assertSame($codes, array_values(array_filter($found, static fn (string $code): bool => str_starts_with($code, 'sound-'))));
    }
}
