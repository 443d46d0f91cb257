<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sacn\SacnPacket;

final class SacnPacketTest extends TestCase
{
    private static function full(): SacnPacket
    {
        return new SacnPacket(str_repeat("\xA5", 16), 'Desk', 120, 7, 300, str_repeat("\xFF", 512));
    }

    public function testAFullUniverseStandsOctetByOctetAsTheStandardHasIt(): void
    {
        // ANSI E1.31-2018, Table 4-1 and §4.1 to §7: preamble, identifier, then layers that each say how long they are.
        $bytes = (string) self::full();
        self::assertSame(638, \strlen($bytes));
        foreach ([
            [0, '00100000'], [4, bin2hex("ASC-E1.17\0\0\0")],
            [16, '726e'], [18, '00000004'], [22, str_repeat('a5', 16)],
            [38, '7258'], [40, '00000002'], [44, bin2hex("Desk\0")], [107, '00'],
            [108, '78'], [109, '0000'], [111, '07'], [112, '00'], [113, '012c'],
            [115, '720b'], [117, '02'], [118, 'a1'], [119, '0000'], [121, '0001'], [123, '0201'], [125, '00'], [126, 'ff'], [637, 'ff'],
        ] as [$at, $hex]) {
            self::assertSame($hex, bin2hex(substr($bytes, $at, intdiv(\strlen($hex), 2))), "octet $at");
        }
        self::assertEquals(self::full(), SacnPacket::fromString($bytes));
    }

    public function testAShortOneALastOneAndALongName(): void
    {
        $last = new SacnPacket(str_repeat("\1", 16), str_repeat('n', 90), 0, 260, 63_999, "\1\2\3", true, true);
        $read = SacnPacket::fromString((string) $last);
        self::assertSame([str_repeat('n', 63), 0, 4, 63_999, "\1\2\3", true, true], [
            $read->source, $read->priority, $read->sequence, $read->universe, $read->levels, $read->isOver, $read->isPreview,
        ]);
        self::assertSame('', SacnPacket::fromString((string) new SacnPacket(str_repeat("\1", 16), '', 200, 0, 1, ''))->levels);
    }

    public function testANameIsCutAtAWholeCharacterAndKeepsItsBlanks(): void
    {
        $read = static fn (string $name): string => SacnPacket::fromString(
            (string) new SacnPacket(str_repeat("\1", 16), $name, 100, 0, 1, "\1"),
        )->source;
        // 63 octets at most (ANSI E1.31 §6.2.2): an é of two octets does not fit behind 62.
        self::assertSame(str_repeat('n', 62), $read(str_repeat('n', 62).'é'));
        self::assertSame(str_repeat('n', 61).'é', $read(str_repeat('n', 61).'é'));
        self::assertSame('Desk  ', $read('Desk  '));
        self::assertSame(' Desk', $read(' Desk'));
    }

    /** @return iterable<string, array{int, string}> octet → what stands there instead */
    public static function spoilt(): iterable
    {
        foreach ([0, 2, 4, 16, 17, 18, 21, 38, 39, 43, 115, 116, 117, 118, 119, 121, 122, 123, 124, 125] as $at) {
            yield "octet $at" => [$at, "\x77"];
        }
        yield 'a priority above all' => [108, "\xC9"];
    }

    #[DataProvider('spoilt')]
    public function testAnythingElseIsNoPacketOfLight(int $at, string $octet): void
    {
        $this->expectException(ParseError::class);
        SacnPacket::fromString(substr_replace((string) self::full(), $octet, $at, 1));
    }

    public function testNorIsWhatIsTooShortOrTooLong(): void
    {
        $count = 0;
        foreach (['', substr((string) self::full(), 0, 125), substr((string) self::full(), 0, 637), self::full()."\0"] as $bytes) {
            try {
                SacnPacket::fromString($bytes);
            } catch (ParseError) {
                ++$count;
            }
        }
        self::assertSame(4, $count);
        $named = substr_replace((string) self::full(), "Ger\xE4t", 44, 5);
        self::assertStringNotContainsString("\xE4", SacnPacket::fromString($named)->source, 'bytes that are no text do not come in');
    }
}
