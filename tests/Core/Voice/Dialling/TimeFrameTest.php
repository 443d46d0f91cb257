<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice\Dialling;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Voice\Dialling\DigitMap;
use Vorhut\Core\Voice\Dialling\OutsideNumber;
use Vorhut\Core\Voice\Dialling\TimeFrame;

final class TimeFrameTest extends TestCase
{
    #[TestWith(['mon-fri 8:00-17:00', '2026-11-26 08:00', true])]
    #[TestWith(['mon-fri 8:00-17:00', '2026-11-26 17:00', false])]
    #[TestWith(['mon-fri 8:00-17:00', '2026-11-28 09:00', false])]
    #[TestWith(['sat-mon 0:00-24:00', '2026-11-29 23:59', true])]
    #[TestWith(['sat-mon 0:00-24:00', '2026-12-01 00:00', false])]
    #[TestWith(['fri 22:00-6:00', '2026-11-28 05:59', true])]
    #[TestWith(['fri 22:00-6:00', '2026-11-27 21:59', false])]
    #[TestWith(['mon 22:00-6:00', '2026-12-01 02:00', true])]
    #[TestWith(['sun 22:00-6:00', '2026-11-30 02:00', true])]
    #[TestWith(['daily 9:00-10:00; not 2026-11-26', '2026-11-26 09:30', false])]
    public function testDaysAndHours(string $frame, string $at, bool $holds): void
    {
        self::assertSame($holds, TimeFrame::fromString($frame)->holds($at));
    }

    #[TestWith(['daily 0:00-24:00', 'mon-fri 8:00-17:00', true])]
    #[TestWith(['mon-fri 8:00-17:00', 'tue 9:00-17:00', true])]
    #[TestWith(['mon-fri 8:00-17:00', 'tue 9:00-17:01', false])]
    #[TestWith(['mon-fri 8:00-17:00', 'sat 9:00-10:00', false])]
    #[TestWith(['daily 0:00-24:00; not 2026-12-24', 'mon 8:00-9:00', false])]
    #[TestWith(['fri-sat 22:00-6:00', 'fri 23:00-5:00', true])]
    public function testOneCoversAnother(string $one, string $other, bool $covers): void
    {
        self::assertSame($covers, TimeFrame::fromString($one)->covers(TimeFrame::fromString($other)));
    }

    /** Whatever the frame does, it does it at one of its boundaries: asked at each minute of a week and of the day that is excepted. */
    #[TestWith(['mon-fri 8:00-17:00; not 2026-12-24'])]
    #[TestWith(['fri-sat 22:00-6:00'])]
    #[TestWith(['daily 0:00-24:00; not 2026-12-24'])]
    public function testBetweenItsBoundariesItDoesNotChange(string $text): void
    {
        $frame = TimeFrame::fromString($text);
        $boundaries = array_flip($frame->boundaries());
        $before = [];
        foreach ([...array_map(static fn (int $day): string => '2024-01-0'.$day, range(1, 7)), '2026-12-24'] as $day) {
            for ($minute = 0; $minute < 1440; ++$minute) {
                $at = \sprintf('%s %02d:%02d', $day, intdiv($minute, 60), $minute % 60);
                if ([] !== $before && $frame->holds($at) !== $before[1]) {
                    self::assertArrayHasKey($at, $boundaries);
                    self::assertArrayHasKey($before[0], $boundaries);
                }
                $before = [$at, $frame->holds($at)];
            }
        }
        self::assertSame(['sun 3:00', 'mon 0:05'], [$frame->nameOf('2024-01-07 03:00'), $frame->nameOf('2024-01-08 00:05')]);
    }

    #[TestWith([''])]
    #[TestWith(['mon-fri'])]
    #[TestWith(['mun 8:00-9:00'])]
    #[TestWith(['mon 8:00-8:00'])]
    #[TestWith(['mon 24:00-25:00'])]
    #[TestWith(['not 2026-02-30'])]
    #[TestWith(['not 2026-12-24'])]
    public function testWhatIsNoTimeIsRefused(string $text): void
    {
        $this->expectException(Malformed::class);
        TimeFrame::fromString($text);
    }

    #[TestWith(['21 00 00 00', 'NO', '+4721000000', '21000000'])]
    #[TestWith(['+49 30 901820', 'NO', '+4930901820', '030901820'])]
    #[TestWith(['0047 21 00 00 00', 'DE', '+4721000000', '21000000'])]
    public function testNumbersOfThePublicNetwork(string $text, string $country, string $whole, string $national): void
    {
        $number = OutsideNumber::fromString($text, $country);
        self::assertSame([$whole, $national], [(string) $number, $number->national()]);
    }

    public function testWhatNobodyCanDialIsNoNumber(): void
    {
        self::assertNull(OutsideNumber::tryFromString('21 00 00 00'), 'of which country');
        self::assertNull(OutsideNumber::tryFromString('12', 'NO'));
        self::assertSame([true, false, null], [
            OutsideNumber::isEmergency('112', 'no'),
            OutsideNumber::isEmergency('999', 'NO'),
            OutsideNumber::isEmergency('112', 'Nowhere'),
        ]);
    }

    #[TestWith(['0x.|11x'])]
    #[TestWith(['(0x.|11x)'])]
    #[TestWith([' ( 0x.|11x ) '])]
    #[TestWith(['0x.|11x('])]
    public function testParenthesesSayNothingAndAreNotKept(string $text): void
    {
        self::assertSame('0x.|11x', (string) DigitMap::fromString($text));
        self::assertSame('full', DigitMap::fromString($text)->match('112'));
    }

    #[TestWith(['()'])]
    #[TestWith(['0x.||1'])]
    #[TestWith(['0(x)'])]
    public function testWhatIsNoMapIsRefused(string $text): void
    {
        $this->expectException(Malformed::class);
        DigitMap::fromString($text);
    }

    public function testWhatTwoMapsShare(): void
    {
        $map = DigitMap::fromString(...);
        self::assertSame('112', $map('11[0-3]')->common($map('x12')));
        self::assertNull($map('2xxx')->common($map('3xxx')));
        self::assertSame('00', $map('0x.T')->common($map('00x.T')));
        self::assertSame('*97', $map('*9[78]')->example());
        self::assertTrue($map('0x.')->goesOn('01'));
        self::assertFalse($map('2xxx')->goesOn('2101'));
        self::assertTrue($map('21|2101')->goesOn('21'));
        // Built to be costly: many ways to the same letters.
        self::assertTrue($map('x.x.x.x.x.x.x.x.1')->shadows($map('x.1')));
        $this->expectException(Malformed::class);
        $map(str_repeat('x.', 300));
    }
}
