<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\InputStream;
use Symfony\Component\Process\Process;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Socket\Loopback;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\LabBench;

use function Amp\delay;

/** SRT against an independent party: theirs is asked by our probe, ours takes what theirs pushes. */
final class StreamToolTest extends TestCase
{
    private const PASSPHRASE = 'harbour-at-night';

    /** @param bool $isPlayed whether our stand-in is there, else their tool has its place */
    private static function bench(int $net, bool $isPlayed, string $sealed): LabBench
    {
        return new LabBench($net, static function (Jobs $jobs) use ($net, $isPlayed, $sealed): Jobs {
            $own = ['address' => "10.$net.20.82", 'takePort' => '9040', 'takesWith' => $sealed];
            $set = ['address.set' => "10.$net.20.82", 'mask.set' => '/24', 'takePort.set' => '9040', 'takesWith.set' => $sealed];

            return $jobs->device('enc', 'streaming-encoder', 'v', [
                'address' => "10.$net.20.81",
                'pushProtocol' => 'SRT',
                'pushUrl' => "srt://10.$net.20.82:9040?latency=250",
                'pushesWith' => $sealed,
            ])->device('pc', 'production-computer', 'v', $own + ($isPlayed ? $set : []));
        });
    }

    private static function tool(string ...$arguments): Process
    {
        if (!is_executable('/usr/bin/srt-live-transmit')) {
            self::markTestSkipped('srt-live-transmit is not here.');
        }

        return new Process(['/usr/bin/srt-live-transmit', ...$arguments], null, null, null, 20);
    }

    /** @param \Closure(): bool $holds */
    private static function until(\Closure $holds): void
    {
        for ($i = 0; $i < 60 && !$holds(); ++$i) {
            delay(0.1);
        }
    }

    /** @return iterable<string, array{string, string, Outcome, string}> what was planned, what theirs has, what comes of it */
    public static function theirs(): iterable
    {
        yield 'open' => ['nothing', '', Outcome::Takes, 'it would take the stream, with a latency of 350 ms'];
        yield 'sealed' => [
            'a passphrase', '&passphrase='.self::PASSPHRASE, Outcome::Takes, 'it asks for a passphrase; which one was not asked',
        ];
        yield 'sealed, and nobody planned it' => [
            'nothing', '&passphrase='.self::PASSPHRASE, Outcome::TakesOtherwise, 'it asks for a passphrase, and none was planned',
        ];
        yield 'nobody' => ['nothing', 'off', Outcome::Silent, 'no SRT answer from there'];
    }

    #[DataProvider('theirs')]
    public function testOurProbeUnderstandsTheirListener(string $sealed, string $more, Outcome $outcome, string $said): void
    {
        $net = 150 + (int) array_search($more.$sealed, array_map(static fn (array $one): string => $one[1].$one[0], array_values(
            iterator_to_array(self::theirs()),
        )), true);
        $bench = self::bench($net, false, $sealed);
        $at = (new Loopback())->of(Ipv4::fromString("10.$net.20.82"));
        $tool = self::tool("srt://$at:9040?mode=listener&latency=350$more", 'file://con');
        if ('off' !== $more) {
            $tool->start();
        }
        delay(0.5);
        $evidence = $bench->prove('push:enc');
        $tool->stop(0);
        $bench->close();
        self::assertSame([$outcome, $said], [$evidence->outcome, (string) $evidence->detail], implode("\n", $evidence->lines));
    }

    /** @return iterable<string, array{string, string, string}> what ours asks for, what theirs brings, what theirs says */
    public static function pushed(): iterable
    {
        yield 'open' => ['nothing', '', 'Connection established to'];
        yield 'sealed' => ['a passphrase', '&passphrase='.self::PASSPHRASE, 'Connection established to'];
        yield 'with another passphrase' => ['a passphrase', '&passphrase=of-somebody-else', 'Incorrect passphrase'];
        yield 'with none' => ['a passphrase', '', 'Password required or unexpected'];
    }

    #[DataProvider('pushed')]
    public function testOurStandInTakesWhatTheirsPushes(string $asks, string $more, string $said): void
    {
        $net = 155 + (int) array_search($asks.$more, array_map(static fn (array $one): string => $one[0].$one[1], array_values(
            iterator_to_array(self::pushed()),
        )), true);
        $bench = self::bench($net, true, $asks);
        $at = (new Loopback())->of(Ipv4::fromString("10.$net.20.82"));
        $tool = self::tool('-loglevel:note', 'file://con', "srt://$at:9040?mode=caller$more");
        $input = new InputStream();
        $tool->setInput($input);
        $tool->start();
        $input->write(str_repeat('G', 1316));
        $told = static fn (): string => $tool->getOutput().$tool->getErrorOutput();
        self::until(static fn (): bool => str_contains($told(), $said));
        $tool->stop(0);
        $bench->close();
        self::assertStringContainsString($said, $told());
    }
}
