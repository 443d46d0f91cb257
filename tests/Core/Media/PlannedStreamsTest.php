<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Media;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Media\PlannedStreams;
use Vorhut\Core\Plan\Stream;
use Vorhut\Tests\Support\Jobs;

/** A push is a stream of the job, drawn or not. */
final class PlannedStreamsTest extends TestCase
{
    private static function jobs(string $by, string $url): Jobs
    {
        return (new Jobs())->segment('s', '10.0.0.0/24')->fact('domain', 'harbour.example')
            ->device('enc', 'streaming-encoder', 's', ['address' => '10.0.0.11', 'pushProtocol' => $by, 'pushUrl' => $url])
            ->device('pc', 'production-computer', 's', ['address' => '10.0.0.12', 'hostName' => 'pc']);
    }

    /** @param array{list<string>, bool, string, int|null}|null $expected receivers, whether it leaves, transport and port */
    #[DataProvider('pushes')]
    public function testWhereAPushGoes(?array $expected, string $by, string $url): void
    {
        $stream = PlannedStreams::of(self::jobs($by, $url)->plan())['push-enc'] ?? null;
        self::assertSame($expected, null === $stream ? null : [
            $stream->receivers, $stream->outside, $stream->transport, $stream->port,
        ]);
    }

    /** @return iterable<string, array{array{list<string>, bool, string, int|null}|null, string, string}> */
    public static function pushes(): iterable
    {
        yield 'by address' => [[['pc'], false, 'SRT', 9000], 'SRT', 'srt://10.0.0.12:9000'];
        yield 'by name' => [[['pc'], false, 'RTMP', null], 'RTMP', 'rtmp://PC/live'];
        yield 'by its whole name' => [[['pc'], false, 'RTMP', null], 'RTMP', 'rtmp://pc.harbour.example/live'];
        yield 'to another domain' => [[[], true, 'RTMP', null], 'RTMP', 'rtmp://pc.elsewhere.example/live'];
        yield 'out of the site' => [[[], true, 'SRT', 9000], 'SRT', 'srt://198.51.100.7:9000'];
        yield 'to nobody, on the site' => [[[], false, 'SRT', 9000], 'SRT', 'srt://10.0.0.99:9000'];
        yield 'to itself' => [[[], false, 'SRT', 9000], 'SRT', 'srt://10.0.0.11:9000'];
        yield 'it listens' => [null, 'SRT', 'srt://:9000?mode=listener'];
        yield 'it is off' => [null, 'off', 'srt://10.0.0.12:9000'];
        yield 'to no URL' => [null, 'SRT', 'somewhere'];
    }

    public function testWhatIsDrawnIsNotCountedTwice(): void
    {
        $drawn = self::jobs('SRT', 'srt://10.0.0.12:9000')
            ->row('streams', ['key' => 'st', 'name' => 'Hall', 'sender' => 'enc', 'transport' => 'SRT', 'cast' => 'unicast'])
            ->row('deliveries', ['key' => 'd', 'stream' => 'st', 'device' => 'pc'])->plan();
        self::assertSame(['st'], array_keys(PlannedStreams::of($drawn)));
        $elsewhere = self::jobs('SRT', 'srt://198.51.100.7:9000')
            ->row('streams', ['key' => 'st', 'name' => 'Hall', 'sender' => 'enc', 'transport' => 'SRT', 'cast' => 'unicast'])->plan();
        self::assertSame(['st', 'push-enc'], array_keys(PlannedStreams::of($elsewhere)));
        self::assertSame(['streams/st', 'devices/enc'], array_values(array_map(
            static fn (Stream $one): string => PlannedStreams::recordOf($elsewhere, $one),
            PlannedStreams::of($elsewhere),
        )));
    }
}
