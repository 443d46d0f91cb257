<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\Mdns\Query;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sanitizer;
use Vorhut\Core\Wire\Sip\SipMessage;

/** What devices say of themselves, nobody vouches for. */
final class SanitizerTest extends TestCase
{
    /** @return iterable<string, array{string, string}> */
    public static function said(): iterable
    {
        yield 'as it should be' => ['Kamera Gerät 3', 'Kamera Gerät 3'];
        yield 'Latin-1' => ["Kamera Ger\xE4t 3", 'Kamera Gerät 3'];
        yield 'half a sign at the end' => ["Ger\xC3", 'Ger?'];
        yield 'controls' => ["a\x00b\x1B[2J\r\nc\x7F", 'a b [2J c'];
        yield 'controls of Latin-1' => ["a\u{85}b", 'a b'];
        yield 'writing turned round' => ["fdp.\u{202E}exe\u{2069}", 'fdp. exe'];
        yield 'marks that are not seen' => ["ad\u{200B}min\u{FEFF}", 'ad min'];
        yield 'blanks' => ["  a \t  b  ", 'a b'];
        yield 'too long' => [str_repeat('ø', 300), str_repeat('ø', 189).'…'];
        yield 'exactly as long as it may be' => [str_repeat('ø', 190), str_repeat('ø', 190)];
        yield 'nothing' => ['', ''];
    }

    #[DataProvider('said')]
    public function testItIsTextInOneLineAndNoLongerThanIsRead(string $bytes, string $text): void
    {
        self::assertSame($text, Sanitizer::text($bytes));
    }

    public function testWhateverComesItCanBeKept(): void
    {
        $random = new Randomizer(new Xoshiro256StarStar(11));
        for ($n = 0; $n < 2000; ++$n) {
            $text = Sanitizer::text($random->getBytes($random->getInt(1, 600)), 80);
            self::assertTrue(mb_check_encoding($text, 'UTF-8'));
            self::assertLessThanOrEqual(80, mb_strlen($text));
            self::assertDoesNotMatchRegularExpression('/[\x00-\x1F\x7F]/', $text);
            self::assertSame($text, Sanitizer::text($text, 80), 'once is enough');
        }
    }

    public function testTitlesReasonsAndNamesAreScrubbedWhereTheyComeIn(): void
    {
        $page = Response::fromString("HTTP/1.1 200 OK\r\n\r\n<title>\n Kamera Ger\xE4t 3 &amp; Co&#x202E;</title>");
        self::assertSame('Kamera Gerät 3 & Co', $page->title());
        $answer = SipMessage::fromString("SIP/2.0 486 Geh\xF6rt\x07 nicht\r\nVia: SIP/2.0/UDP h;branch=z9hG4bKx\r\n"
            ."From: <sip:a@h>;tag=1\r\nTo: <sip:b@h>\r\nCall-ID: x\r\nCSeq: 1 INVITE\r\n\r\n");
        self::assertSame('Gehört nicht', $answer->reason);
        $packet = Query::answer(7, '_rtsp._tcp', "Kamera\x1B 3", 'cam', 554, Ipv4::fromString('192.0.2.7'));
        self::assertMatchesRegularExpression('/^Kamera[\\\\0-9 ]+ 3$/D', Query::readAnswer($packet)['name'] ?? '');
    }

    /** @return iterable<string, array{string}> */
    public static function packets(): iterable
    {
        $head = static fn (int $answers): string => pack('n6', 7, 0x8400, 0, $answers, 0, 0);
        yield 'nothing' => [''];
        yield 'shorter than its head' => ["\0\x07\x84\0"];
        yield 'larger than any' => [$head(1).str_repeat("\0", 61_000)];
        yield 'more records than anybody announces' => [$head(4000).str_repeat("\xC0\x0C\0\x0C\0\x01\0\0\0\x0A\0\x02\xC0\x0C", 600)];
        yield 'a name that points at itself' => [$head(1)."\xC0\x0C\0\x0C\0\x01\0\0\0\x0A\0\x02\xC0\x0C"];
        yield 'names that point at names' => [$head(128).str_repeat("\x3F".str_repeat('a', 63), 60)."\xC0\x0C"];
        yield 'a length beyond the end' => [$head(1)."\x01a\0\0\x10\0\x01\0\0\0\x0A\xFF\xFFx"];
    }

    #[DataProvider('packets')]
    public function testAHostileDnsPacketIsRefusedAtOnce(string $packet): void
    {
        $before = memory_get_usage();
        try {
            self::assertNull(Query::readAnswer($packet));
        } catch (ParseError) {
            $this->addToAssertionCount(1);
        }
        self::assertLessThan(8_000_000, memory_get_usage() - $before);
    }
}
