<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\Loopback;
use Vorhut\Tests\Support\LabBench;
use Vorhut\Tests\Support\LoopbackGuest;

/**
 * Odd messages that are right and plain ones that are not, in the manner of RFC 4475: each in a file of tests/documents/sip, whose name
 * says with what it is answered.
 */
final class SipTortureTest extends TestCase
{
    private const PATIENCE = 3.0;
    private const SILENCE = 0.15;

    public function testEachIsAnsweredAsItsNameSaysAndTheNextOneToo(): void
    {
        $bench = new LabBench(140);
        $pbx = (new Loopback())->of(Ipv4::fromString('10.140.20.10'));
        $files = glob(\dirname(__DIR__).'/documents/sip/*.sip') ?: [];
        self::assertGreaterThanOrEqual(60, \count($files));
        $wrong = [];
        foreach ($files as $n => $file) {
            $guest = new LoopbackGuest();
            [, $wanted, $name] = explode('-', basename($file, '.sip'), 3);
            $bytes = strtr((string) file_get_contents($file), [
                '%HOST%' => (string) $pbx,
                '%PORT%' => (string) $guest->port(),
                '%N%' => (string) $n,
            ]);
            $guest->send($pbx, 5060, $bytes);
            $received = $guest->receive('none' === $wanted ? self::SILENCE : self::PATIENCE);
            $guest->close();
            $answer = null === $received ? 'none' : substr($received[2], 8, 3);
            if ($answer !== $wanted) {
                $wrong[] = "$name: $answer, not $wanted";
            }
        }
        $bench->close();
        self::assertSame([], $wrong);
    }

    public function testWhatIsReadIsWrittenSoThatItReadsTheSame(): void
    {
        $read = 0;
        foreach (glob(\dirname(__DIR__).'/documents/sip/*.sip') ?: [] as $file) {
            try {
                $message = SipMessage::fromString((string) file_get_contents($file));
            } catch (ParseError) {
                continue;
            }
            ++$read;
            self::assertEquals(
                [$message->method, $message->uri, $message->headers('Via'), $message->body],
                (static fn (SipMessage $one): array => [$one->method, $one->uri, $one->headers('Via'), $one->body])(
                    SipMessage::fromString((string) $message),
                ),
                basename($file),
            );
        }
        self::assertGreaterThan(40, $read);
    }
}
