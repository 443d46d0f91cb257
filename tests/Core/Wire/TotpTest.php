<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Totp;

final class TotpTest extends TestCase
{
    private const SECRET = '12345678901234567890';

    /** RFC 6238 Appendix B, SHA-1: the last six of its eight digits. */
    #[TestWith([59, '287082'])]
    #[TestWith([1111111109, '081804'])]
    #[TestWith([1111111111, '050471'])]
    #[TestWith([1234567890, '005924'])]
    #[TestWith([2000000000, '279037'])]
    #[TestWith([20000000000, '353130'])]
    public function testVectorsOfTheStandard(int $time, string $digits): void
    {
        $totp = Totp::ofBytes(self::SECRET);
        self::assertSame($digits, $totp->at($time));
        self::assertSame(intdiv($time, 30), $totp->stepOf($digits, $time));
    }

    public function testAClockMayBeOffByOneStepAndNoDigitsAreTakenTwice(): void
    {
        $totp = Totp::ofBytes(self::SECRET);
        foreach ([-60 => false, -30 => true, 0 => true, 30 => true, 60 => false] as $off => $taken) {
            self::assertSame($taken, null !== $totp->stepOf($totp->at(1_000_000_000 + $off), 1_000_000_000), "$off s");
        }
        $step = $totp->stepOf($totp->at(59), 59);
        self::assertSame(1, $step);
        self::assertNull($totp->stepOf($totp->at(59), 59, 1));
        self::assertSame(2, $totp->stepOf($totp->at(60), 61, 1));
        self::assertNull($totp->stepOf('', 59));
        self::assertNull($totp->stepOf('28708', 59));
    }

    /** RFC 4648 §10. */
    #[TestWith(['', ''])]
    #[TestWith(['f', 'MY'])]
    #[TestWith(['fo', 'MZXQ'])]
    #[TestWith(['foo', 'MZXW6'])]
    #[TestWith(['foob', 'MZXW6YQ'])]
    #[TestWith(['fooba', 'MZXW6YTB'])]
    #[TestWith(['foobar', 'MZXW6YTBOI'])]
    public function testBase32(string $bytes, string $text): void
    {
        self::assertSame($text, (string) Totp::ofBytes($bytes));
        if ('' !== $text) {
            self::assertEquals(Totp::ofBytes($bytes), Totp::fromString(strtolower($text).'=='));
        }
    }

    public function testTheKeyUriNamesWhoseItIs(): void
    {
        self::assertSame(
            'otpauth://totp/Vorhut%20yard:m%3Aa?secret=MZXW6YTBOI&issuer=Vorhut%20yard',
            Totp::ofBytes('foobar')->uri('m:a', 'Vorhut yard'),
        );
        $this->expectException(ParseError::class);
        Totp::fromString('MZXW1');
    }

    public function testAStepFurtherAheadThanAClockMayBeOffMeansThatItWentBack(): void
    {
        $now = 1_234_567_890;
        $step = intdiv($now, Totp::STEP);
        self::assertFalse(Totp::isAhead(0, $now));
        self::assertFalse(Totp::isAhead($step + 1, $now));
        self::assertTrue(Totp::isAhead($step + 2, $now));
    }
}
