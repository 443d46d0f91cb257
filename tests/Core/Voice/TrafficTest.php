<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Voice\OutsideLines;
use Vorhut\Core\Voice\Traffic;

/** The table of Erlang B: what so many lines carry when one call in a hundred, or in fifty, is lost. */
final class TrafficTest extends TestCase
{
    #[TestWith([5, 1.361, 0.01])]
    #[TestWith([10, 4.461, 0.01])]
    #[TestWith([20, 12.031, 0.01])]
    #[TestWith([30, 20.337, 0.01])]
    #[TestWith([50, 37.901, 0.01])]
    #[TestWith([100, 84.064, 0.01])]
    #[TestWith([10, 5.084, 0.02])]
    #[TestWith([1, 0.0101, 0.01])]
    public function testTheTable(int $lines, float $erlang, float $blocking): void
    {
        self::assertEqualsWithDelta($blocking, Traffic::blocking($erlang, $lines), 2e-4);
        self::assertSame($lines, Traffic::lines($erlang - 0.002, $blocking));
        self::assertGreaterThan($lines, Traffic::lines($erlang + 0.02, $blocking));
    }

    public function testTheRest(): void
    {
        self::assertSame(0, Traffic::lines(0.0));
        self::assertSame(5.0, Traffic::erlang(100, 180));
        self::assertSame([5, 1, 24], [Traffic::byShare(19), Traffic::byShare(0), Traffic::mediaPorts(12)]);
        self::assertSame([0.0, 1.0], [Traffic::blocking(0, 3), Traffic::blocking(2, 0)]);
        $this->expectException(Malformed::class);
        Traffic::lines(1.0, 1.0);
    }

    public function testLinesOfAPbxAgainstItsPhones(): void
    {
        $jobs = SwitchingTest::job();
        $lines = OutsideLines::of($jobs->change('trunks', 't1', 'channels', 1)->plan());
        self::assertSame(['pbx'], array_keys($lines));
        self::assertSame([3, Traffic::byShare(3), 1], [$lines['pbx']->phones, $lines['pbx']->share, $lines['pbx']->channels]);
        self::assertTrue($lines['pbx']->isEnough());
        $unsaid = OutsideLines::of($jobs->change('trunks', 't1', 'channels', null)->plan());
        self::assertFalse($unsaid['pbx']->isEnough(), 'what nobody said is none');
    }
}
