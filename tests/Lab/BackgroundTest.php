<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\Background;
use Vorhut\Socket\LoopbackDatagrams;
use Vorhut\Socket\SipLine;

use function Amp\delay;

/** What goes wrong where nobody waits is told, and does not make the rest deaf. */
final class BackgroundTest extends TestCase
{
    protected function tearDown(): void
    {
        Background::reportTo(null);
    }

    public function testAFaultInALineIsReportedAndTheNextMessageIsStillAnswered(): void
    {
        $told = [];
        Background::reportTo(static function (string $what, \Throwable $e) use (&$told): void {
            $told[] = Background::line($what, $e);
        });
        $site = Ipv4::fromString('10.192.1.1');
        $far = new SipLine(new LoopbackDatagrams($site, 0), static function (SipMessage $request, Ipv4 $from, int $port) use (&$far): void {
            if ('INFO' === $request->method) {
                throw new \LogicException('a slip of our own');
            }
            \assert($far instanceof SipLine);
            $far->answer($request, SipMessage::response($request, 200), $from, $port);
        });
        $near = new SipLine(new LoopbackDatagrams($site, 0), static fn () => null);
        $ask = static fn (string $method): ?int => $near->ask(SipMessage::request($method, 'sip:far', [
            ['Via', 'SIP/2.0/UDP '.$near->socket->address().':'.$near->socket->port().';branch=z9hG4bK'.$method],
            ['From', '<sip:near>;tag=1'],
            ['To', '<sip:far>'],
            ['Call-ID', $method],
            ['CSeq', '1 '.$method],
        ]), $far->socket->address(), $far->socket->port(), 0.4)?->status;

        self::assertNull($ask('INFO'));
        self::assertSame(200, $ask('OPTIONS'));
        delay(0.05);
        self::assertNotSame([], $told);
        self::assertStringStartsWith('SIP INFO: LogicException: a slip of our own (BackgroundTest.php:', $told[0]);
        $far->close();
        $near->close();
    }
}
