<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Ptp\Announce;

/** IEEE 1588-2008 §13.3 and §13.5, table 18 and 25. */
final class AnnounceTest extends TestCase
{
    /** As an independent clock sent it in a network of the kernel: MAC 00-00-5E-00-53-07, priorities 100 and 128, by itself. */
    private const THEIRS = '0b0200400000000000000000000000000000000000005efffe00530700010000050000000000000000000000'
        .'00250064f8feffff8000005efffe0053070000a0';

    public function testAnIndependentClockIsReadAndWrittenTheSame(): void
    {
        $bytes = (string) hex2bin(self::THEIRS);
        $announce = Announce::fromString($bytes);
        self::assertSame([100, 128, 248, 0, 0, 0, 0], [
            $announce->priority1, $announce->priority2, $announce->class, $announce->stepsRemoved, $announce->domain, $announce->sequence,
            $announce->interval,
        ]);
        $mac = Mac::fromString('00-00-5E-00-53-07');
        self::assertSame(Announce::identity($mac), $announce->grandmaster);
        self::assertSame($mac->digits, Announce::macOf($announce->clock)?->digits);
        self::assertSame(self::THEIRS, bin2hex((string) $announce));
    }

    public function testWhatIsNoAnnounceIsNone(): void
    {
        $bytes = (string) hex2bin(self::THEIRS);
        foreach ([
            'cut off' => substr($bytes, 0, 63),
            'a Sync' => "\0".substr($bytes, 1),
            'version 1' => substr_replace($bytes, "\1", 1, 1),
            'longer than it is' => substr_replace($bytes, "\0\x41", 2, 2),
            'shorter than it may be' => substr_replace($bytes, "\0\x3F", 2, 2),
        ] as $what => $odd) {
            self::assertNull(Announce::tryFromString($odd), $what);
        }
        self::assertNull(Announce::macOf(str_repeat("\1", 8)), 'no MAC was it made of');
        $this->expectException(ParseError::class);
        Announce::fromString('');
    }

    public function testWhatItSaysIsReadBack(): void
    {
        $one = new Announce("\1\2\3\4\5\6\7\x08", str_repeat("\x0A", 8), 4, 65_535, 1, 2, 6, 3, -2);
        self::assertEquals($one, Announce::fromString($one.'a TLV behind it'));
    }
}
