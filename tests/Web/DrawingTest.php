<?php

declare(strict_types=1);

namespace Vorhut\Tests\Web;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Proof\Proof;
use Vorhut\Core\Walk\Fabric;
use Vorhut\Core\Walk\Walker;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Web\Drawing\Loom;
use Vorhut\Web\Drawing\Stones;
use Vorhut\Web\Drawing\Tape;

/** Drawings: what is in them is in the plan, and where they put it lies inside. */
final class DrawingTest extends TestCase
{
    private static function job(): Jobs
    {
        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1', ['pools' => ['10.64.30.100-10.64.30.149'], 'reserved' => [['range' => '10.64.30.2-10.64.30.9', 'for' => 'administrator']], 'blocks' => [['range' => '10.64.30.31-10.64.30.50', 'for' => 'ptz-camera']]])
            ->segment('q', '10.64.40.0/22', '10.64.40.1')->router('r', ['s' => '10.64.30.1/24', 'q' => '10.64.40.1/22'])
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31'], ['controlledFrom' => 'q'])
            ->device('d', 'ptz-camera', 's', ['address' => '10.64.30.120'])
            ->device('e', 'ptz-camera', 's', ['address' => '192.0.2.9'])
            ->device('f', 'ptz-camera', 'q', ['address' => '10.64.43.200']);
    }

    public function testATapeKeepsItsPinsInOrderAndItsTroubleBelow(): void
    {
        $plan = self::job()->plan();
        $tape = Tape::of($plan, $plan->segments['s']);

        self::assertSame(['E', 'gateway', 'C', 'D'], array_column($tape->pins, 'tag'));
        self::assertSame(['outside the segment', null, null, 'inside the pool'], array_column($tape->pins, 'trouble'));
        foreach ($tape->pins as $pin) {
            self::assertGreaterThanOrEqual(0, $pin['x']);
            self::assertLessThanOrEqual(Tape::WIDTH, $pin['x']);
        }
        self::assertSame(['pool', 'reserved', 'block'], array_column($tape->bands, 'sort'));
        $pool = $tape->bands[0];
        self::assertTrue($pool['x'] < $tape->pins[3]['x'] && $tape->pins[3]['x'] < $pool['x'] + $pool['width'], 'the pin stands in its pool');
        $xs = array_column($tape->ticks, 'x');
        $sorted = $xs;
        sort($sorted);
        self::assertSame($sorted, $xs);
        self::assertLessThan(30, \count($xs), 'few enough to read');
        self::assertLessThan(30, \count(Tape::of($plan, $plan->segments['q'])->ticks), 'on a large segment too');
    }

    public function testLabelsThatWouldMeetTakeAnotherRow(): void
    {
        $jobs = self::job();
        foreach (range(40, 44) as $last) {
            $jobs->device('n'.$last, 'streaming-encoder', 's', ['address' => '10.64.30.'.$last]);
        }
        $plan = $jobs->plan();
        $pins = array_filter(Tape::of($plan, $plan->segments['s'])->pins, static fn (array $pin): bool => null === $pin['trouble']);
        self::assertGreaterThan(1, \count(array_unique(array_column($pins, 'lane'))));
        foreach ($pins as $pin) {
            foreach ($pins as $right) {
                // Whatever stands under a name must end below it, stem and all.
                if ($pin['lane'] < Tape::LANES && $right['x'] > $pin['x'] && $right['x'] < $pin['x'] + 8 * \strlen($pin['tag'])) {
                    self::assertTrue($right['lane'] < $pin['lane'] || $right['lane'] >= Tape::LANES, $pin['tag'].' has the stem of '.$right['tag'].' through it');
                }
            }
        }
    }

    public function testStonesGoOutAboveAndBackBelowAndOnlyTheLastBreaks(): void
    {
        $plan = self::job()->row('values', ['key' => 'nics/c.lan#gateway', 'owner' => 'nics/c.lan', 'field' => 'gateway', 'set' => ''])->plan();
        $stones = Stones::of(Walker::between(Fabric::of($plan, Face::Set), 'outposts/q', 'c', Port::tcp(80)), strval(...));

        self::assertTrue($stones->hasBack);
        self::assertStringContainsString('has no gateway', implode(' ', $stones->reason['lines'] ?? []), 'the reason stands beside the broken stone');
        self::assertGreaterThan(36 * 7, $stones->reason['x'] ?? 0, 'with room for its lines');
        $rows = array_column($stones->stones, 'y');
        self::assertCount(2, array_unique($rows));
        self::assertSame([false, false, false, false, true], array_column($stones->stones, 'broken'));
        $out = array_values(array_filter($stones->stones, static fn (array $stone): bool => $stone['y'] < 100));
        self::assertSame($out, array_values(array_filter($out, static fn (array $stone): bool => $stone['x'] > 0 && $stone['x'] < $stones->width)));
        for ($i = 1; $i < \count($out); ++$i) {
            self::assertGreaterThan($out[$i - 1]['x'], $out[$i]['x']);
        }
        self::assertFalse(Stones::of(Walker::between(Fabric::of($plan, Face::Set), 'e', 'c', Port::tcp(80)), strval(...))->hasBack, 'broken on the way out');
    }

    public function testEveryLineIsAKnotWhereItsPlaceCrossesItsDevice(): void
    {
        $plan = self::job()->row('values', ['key' => 'nics/c.lan#gateway', 'owner' => 'nics/c.lan', 'field' => 'gateway', 'set' => ''])
            ->row('observations', ['key' => 'o', 'line' => 'reach:s>d:80/tcp', 'at' => '2026-03-01T09:00:00Z', 'by' => 'Jo', 'outcome' => 'answers', 'ground' => []])->plan();
        $proof = Proof::of($plan);
        $loom = Loom::of($plan, $proof);

        self::assertCount(\count($proof->lines), $loom->knots);
        $knots = array_column($loom->knots, null, 'key');
        self::assertSame(['gap', 'open'], [$knots['reach:q>c:80/tcp']['shape'], $knots['reach:q>c:80/tcp']['fill']], 'foreseen to fail, not observed');
        self::assertSame('stale', $knots['reach:s>d:80/tcp']['fill'], 'it stood on nothing');
        foreach ($loom->knots as $knot) {
            self::assertContains($knot['y'], array_column($loom->weft, 'y'));
            self::assertLessThan($loom->width, $knot['x']);
        }
        self::assertCount(\count($loom->knots), array_unique(array_map(static fn (array $knot): string => $knot['x'].'/'.$knot['y'], $loom->knots)), 'none hides another');
    }
}
