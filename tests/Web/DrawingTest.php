<?php

declare(strict_types=1);

namespace Vorhut\Tests\Web;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Analysis;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Lighting\LookSpan;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Web\Drawing\AddressTape;
use Vorhut\Web\Drawing\LookLanes;
use Vorhut\Web\Drawing\MatrixDrawing;
use Vorhut\Web\Drawing\WalkDrawing;

/** Drawings: what is in them is in the plan, and where they put it lies inside. */
final class DrawingTest extends TestCase
{
    private static function job(): Jobs
    {
        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1', [
            'pools' => ['10.64.30.100-10.64.30.149'],
            'reserved' => [['range' => '10.64.30.2-10.64.30.9', 'for' => 'administrator']],
            'blocks' => [['range' => '10.64.30.31-10.64.30.50', 'for' => 'ptz-camera']],
        ])
            ->segment('q', '10.64.40.0/22', '10.64.40.1')->router('r', ['s' => '10.64.30.1/24', 'q' => '10.64.40.1/22'])
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31'], ['controlledFrom' => 'q'])
            ->device('d', 'ptz-camera', 's', ['address' => '10.64.30.120'])
            ->device('e', 'ptz-camera', 's', ['address' => '192.0.2.9'])
            ->device('f', 'ptz-camera', 'q', ['address' => '10.64.43.200']);
    }

    public function testLooksAreLanesOfTheirTime(): void
    {
        $why = new Message('x');
        $lanes = LookLanes::of([
            new LookSpan(0.0, 0, 'out', $why), new LookSpan(10.0, 1, 'House', $why), new LookSpan(20.0, null, 'network', $why),
            new LookSpan(30.0, 1, 'House', $why),
        ]);
        self::assertSame(['out', 'House', 'network'], array_column($lanes->lanes, 'name'));
        $blocks = $lanes->lanes[1]['blocks'];
        self::assertCount(2, $blocks);
        $ends = $blocks[0]['x'] + $blocks[0]['width'];
        self::assertEqualsWithDelta($ends, $lanes->lanes[2]['blocks'][0]['x'], 0.11, 'one ends where the next begins');
        self::assertEqualsWithDelta(LookLanes::WIDTH, $blocks[1]['x'] + $blocks[1]['width'], 0.11, 'what comes last stays on');
        self::assertSame([0.0, 10.0, 20.0, 30.0], array_column($lanes->ticks, 'at'));
        self::assertSame([], LookLanes::of([])->lanes);
    }

    public function testATapeKeepsItsPinsInOrderAndItsTroubleBelow(): void
    {
        $plan = self::job()->plan();
        $tape = AddressTape::of($plan, $plan->segments['s'], strval(...));

        self::assertSame(['E', 'gateway', 'C', 'D'], array_column($tape->pins, 'tag'));
        self::assertSame(['outside the segment', null, null, 'inside the pool'], array_column($tape->pins, 'trouble'));
        foreach ($tape->pins as $pin) {
            self::assertGreaterThanOrEqual(0, $pin['x']);
            self::assertLessThanOrEqual(AddressTape::WIDTH, $pin['x']);
        }
        self::assertSame(['pool', 'reserved', 'block'], array_column($tape->bands, 'sort'));
        $pool = $tape->bands[0];
        self::assertTrue(
            $pool['x'] < $tape->pins[3]['x'] && $tape->pins[3]['x'] < $pool['x'] + $pool['width'],
            'the pin stands in its pool',
        );
        $xs = array_column($tape->ticks, 'x');
        $sorted = $xs;
        sort($sorted);
        self::assertSame($sorted, $xs);
        self::assertLessThan(30, \count($xs), 'few enough to read');
        self::assertLessThan(30, \count(AddressTape::of($plan, $plan->segments['q'], strval(...))->ticks), 'on a large segment too');
    }

    public function testEveryPatternThatAStyleFillsWithIsDrawn(): void
    {
        $root = \dirname(__DIR__, 2);
        preg_match_all('/url\(#([\w-]+)\)/', (string) file_get_contents($root.'/assets/look.css'), $used);
        self::assertNotSame([], $used[1]);
        $drawn = (string) file_get_contents($root.'/templates/parts/defs.svg.twig');
        foreach (array_unique($used[1]) as $id) {
            self::assertStringContainsString('id="'.$id.'"', $drawn);
        }
    }

    public function testLabelsThatWouldMeetTakeAnotherRow(): void
    {
        $jobs = self::job();
        foreach (range(40, 44) as $last) {
            $jobs->device('n'.$last, 'streaming-encoder', 's', ['address' => '10.64.30.'.$last]);
        }
        $plan = $jobs->plan();
        $pins = array_filter(
            AddressTape::of($plan, $plan->segments['s'], strval(...))->pins,
            static fn (array $pin): bool => null === $pin['trouble'],
        );
        self::assertGreaterThan(1, \count(array_unique(array_column($pins, 'lane'))));
        foreach ($pins as $pin) {
            foreach ($pins as $right) {
                // Whatever stands under a name must end below it, stem and all.
                if ($pin['lane'] < AddressTape::LANES && $right['x'] > $pin['x'] && $right['x'] < $pin['x'] + 8 * \strlen($pin['tag'])) {
                    self::assertTrue(
                        $right['lane'] < $pin['lane'] || $right['lane'] >= AddressTape::LANES,
                        $pin['tag'].' has the stem of '.$right['tag'].' through it',
                    );
                }
            }
        }
    }

    public function testStonesGoOutAboveAndBackBelowAndOnlyTheLastBreaks(): void
    {
        $plan = self::job()->row('settings', ['key' => 'nics/c.lan#gateway', 'set' => ''])->plan();
        $drawing = WalkDrawing::of(Walker::between(NetworkModel::of($plan, Face::Set), 'outposts/q', 'c', Port::tcp(80)), strval(...));

        self::assertTrue($drawing->hasBack);
        self::assertStringContainsString(
            'has no gateway',
            implode(' ', $drawing->reason['lines'] ?? []),
            'the reason stands beside the broken hop',
        );
        self::assertGreaterThan(36 * 7, $drawing->reason['x'] ?? 0, 'with room for its lines');
        $rows = array_column($drawing->hops, 'y');
        self::assertCount(2, array_unique($rows));
        self::assertSame([false, false, false, false, true], array_column($drawing->hops, 'broken'));
        $out = array_values(array_filter($drawing->hops, static fn (array $hop): bool => $hop['y'] < 100));
        self::assertSame(
            $out,
            array_values(array_filter($out, static fn (array $hop): bool => $hop['x'] > 0 && $hop['x'] < $drawing->width)),
        );
        for ($i = 1; $i < \count($out); ++$i) {
            self::assertGreaterThan($out[$i - 1]['x'], $out[$i]['x']);
        }
        self::assertFalse(
            WalkDrawing::of(Walker::between(NetworkModel::of($plan, Face::Set), 'e', 'c', Port::tcp(80)), strval(...))->hasBack,
            'broken on the way out',
        );
    }

    public function testARehearsalIsDrawnAsWhatItIs(): void
    {
        $key = 'reach:s>d:80/tcp';
        $basis = TestPlan::of(self::job()->plan())->test($key)?->facts()->texts() ?? [];
        foreach ([
            'answers' => ['rehearsed', 'rehearsed, passed'],
            'refuses' => ['rehearsed-failed', 'rehearsed, failed'],
            'silent' => ['open', 'rehearsed, not run'],
        ] as $outcome => [$fill, $said]) {
            $plan = self::job()->row('observations', [
                'key' => 'o', 'test' => $key, 'at' => '2026-03-01T09:00:00Z', 'by' => 'Jo', 'outcome' => $outcome, 'basis' => $basis,
            ])->plan();
            $drawing = MatrixDrawing::of($plan, Proof::of($plan)->results, self::foreseen($plan), strval(...));
            $cells = array_column($drawing->cells, null, 'key');
            self::assertSame($fill, $cells[$key]['fill'], $outcome);
            self::assertStringContainsString($said, $cells[$key]['title']);
        }
    }

    public function testEveryTestIsACellWhereItsPlaceCrossesItsDevice(): void
    {
        $plan = self::job()->row('settings', ['key' => 'nics/c.lan#gateway', 'set' => ''])
            ->row('observations', [
                'key' => 'o',
                'test' => 'reach:s>d:80/tcp',
                'at' => '2026-03-01T09:00:00Z',
                'by' => 'Jo',
                'onSite' => true,
                'outcome' => 'answers',
                'basis' => [],
            ])->plan();
        $proof = Proof::of($plan);
        $matrix = MatrixDrawing::of($plan, $proof->results, self::foreseen($plan), strval(...));

        self::assertCount(\count($proof->results), $matrix->cells);
        $cells = array_column($matrix->cells, null, 'key');
        self::assertSame(
            ['gap', 'open'],
            [$cells['reach:q>c:80/tcp']['shape'], $cells['reach:q>c:80/tcp']['fill']],
            'foreseen to fail, not observed',
        );
        self::assertSame('outdated', $cells['reach:s>d:80/tcp']['fill'], 'it stood on nothing');
        foreach ($matrix->cells as $cell) {
            self::assertContains($cell['y'], array_column($matrix->rows, 'y'));
            self::assertLessThan($matrix->width, $cell['x']);
        }
        self::assertCount(
            \count($matrix->cells),
            array_unique(array_map(static fn (array $cell): string => $cell['x'].'/'.$cell['y'], $matrix->cells)),
            'none hides another',
        );
    }

    /** @return array<string, Outcome> */
    private static function foreseen(Plan $plan): array
    {
        return (new Analysis($plan))->foreseen(Proof::of($plan)->results);
    }
}
