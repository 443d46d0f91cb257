<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Wire\Sip\CalledNumber;
use Vorhut\Core\Wire\Sip\SipMessage;

/** The number that was dialled at first, by three ways of saying it. */
final class CalledNumberTest extends TestCase
{
    /** @return iterable<string, array{CalledNumber, list<array{string, string}>, string|null}> */
    public static function requests(): iterable
    {
        $to = ['To', '"Fax" <sip:fax@192.0.2.9>'];
        yield 'To' => [CalledNumber::To, [['To', '<sip:2905@192.0.2.9>;tag=1']], '2905'];
        yield 'To, of the server itself' => [CalledNumber::To, [$to], 'fax'];
        // RFC 5806 §8.1: led on twice; the last stands first.
        yield 'Diversion, led on twice' => [CalledNumber::Diversion, [$to,
            ['Diversion', '<sip:2902@192.0.2.1>;reason=no-answer'],
            ['Diversion', '"Desk, front" <sip:2901@192.0.2.1>;reason=unconditional']], '2901'];
        yield 'Diversion, both in one' => [CalledNumber::Diversion, [$to,
            ['Diversion', '<sip:2902@192.0.2.1>;reason=no-answer, "Desk, front" <sip:2901@192.0.2.1>;reason=unconditional']], '2901'];
        // RFC 7044 §5.1
        yield 'History-Info' => [CalledNumber::HistoryInfo, [$to,
            ['History-Info', '<sip:2901@192.0.2.1>;index=1, <sip:2902@192.0.2.1>;index=1.1;mp=1'],
            ['History-Info', '<sip:fax@192.0.2.9>;index=1.1.1']], '2901'];
        yield 'History-Info without the first' => [CalledNumber::HistoryInfo, [$to,
            ['History-Info', '<sip:2902@192.0.2.1>;index=1.1']], null];
        yield 'said otherwise than it is read' => [CalledNumber::Diversion, [$to, ['History-Info', '<sip:2901@192.0.2.1>;index=1']], null];
        yield 'nothing that can be read' => [CalledNumber::Diversion, [$to, ['Diversion', '<<>']], null];
    }

    /** @param list<array{string, string}> $headers */
    #[DataProvider('requests')]
    public function testItIsReadWhereItStands(CalledNumber $way, array $headers, ?string $number): void
    {
        self::assertSame($number, $way->in(SipMessage::request('INVITE', 'sip:fax@192.0.2.9', $headers)));
    }

    public function testWhatOneWritesTheSameReads(): void
    {
        foreach (CalledNumber::cases() as $way) {
            $target = CalledNumber::To === $way ? '2905' : 'fax';
            $request = SipMessage::request('INVITE', "sip:$target@192.0.2.9", [
                ['To', "<sip:$target@192.0.2.9>"], ...$way->headers('2905', $target, '192.0.2.1'),
            ]);
            self::assertSame('2905', $way->in($request), $way->value);
        }
    }
}
