<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Audio;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Audio\SoundNetwork;
use Vorhut\Tests\Support\Facts;
use Vorhut\Tests\Support\Jobs;

/** Sound over a network: one rate, one clock, no more channels than there are. */
final class SoundNetworkTest extends TestCase
{
    /** @param array<string, array<string, string>> $settings device → what it is set to beside */
    private static function job(array $settings = []): Jobs
    {
        $jobs = (new Jobs())->segment('s', '10.0.0.0/24')->segment('t', '10.0.1.0/24');
        foreach ([
            'a' => ['console-card', '05'],
            'b' => ['console-card', '01'],
            'c' => ['processing-server', '03'],
        ] as $key => [$kind, $mac]) {
            $jobs->device($key, $kind, 's', $settings[$key] ?? [], ['mac' => '00-00-5E-00-53-'.$mac]);
        }

        return $jobs->device('far', 'console-card', 't', ['sampleRate' => '96']);
    }

    /** @param array<string, array<string, string>> $settings */
    private static function led(array $settings): ?string
    {
        return SoundNetwork::all(self::job($settings)->plan())[0]->leader?->tag;
    }

    public function testWhoseClockItIs(): void
    {
        self::assertSame('B', self::led([]), 'of equals the least number of a card');
        self::assertSame('A', self::led(['a' => ['clockRole' => 'leader']]));
        self::assertSame('C', self::led(['a' => ['clockRole' => 'follower'], 'b' => ['clockRole' => 'follower']]));
        self::assertNull(self::led(['a' => ['clockRole' => 'leader'], 'c' => ['clockRole' => 'leader']]));
        self::assertNull(self::led(array_fill_keys(['a', 'b', 'c'], ['clockRole' => 'follower'])));
    }

    public function testOfWhomOneMayBeHeardToLead(): void
    {
        $may = static fn (Jobs $jobs): array => array_map(
            static fn ($one): string => $one->tag,
            SoundNetwork::all($jobs->plan())[0]->mayLead(),
        );
        self::assertSame(['B'], $may(self::job()), 'all numbers are known');
        self::assertSame(['A'], $may(self::job(['a' => ['clockRole' => 'leader']])));
        self::assertSame([], $may(self::job(array_fill_keys(['a', 'b', 'c'], ['clockRole' => 'follower']))));
        $unread = self::job(['a' => ['clockRole' => 'follower']])->change('nics', 'c.lan', 'mac', null);
        self::assertSame(['B', 'C'], $may($unread), 'of one the number is not known');
    }

    public function testNetworksAreAsidesOfOneAnother(): void
    {
        [$here, $there] = SoundNetwork::all(self::job(['c' => ['sampleRate' => '96']])->plan());
        self::assertSame([48, 96], array_map(intval(...), array_keys($here->rates)), 'the most common first');
        self::assertSame([1, true], [\count($there->devices), $there->isLed()]);
    }

    public function testChannelsThatArePatchedAreSent(): void
    {
        $jobs = self::job(['a' => ['channels' => '32']])
            ->row('soundPatches', ['key' => 'p', 'from' => 'a', 'fromChannel' => 1, 'to' => 'b', 'toChannel' => 1, 'count' => 24])
            ->row('soundPatches', ['key' => 'q', 'from' => 'a', 'fromChannel' => 17, 'to' => 'b', 'toChannel' => 33, 'count' => 20]);
        self::assertSame(['sends' => 32, 'has' => 32], SoundNetwork::all($jobs->plan())[0]->channels['a'], 'each once, none past the end');
    }

    /** @return array<string, string> */
    private static function found(Jobs $jobs): array
    {
        return Facts::of($jobs->plan(), 'clock-without-one-leader', 'more-channels-than-the-card');
    }

    public function testFindings(): void
    {
        self::assertSame([], self::found(self::job()));
        self::assertSame(
            ['clock-without-one-leader' => 'blocks segment=S leaders=A, B'],
            self::found(self::job(array_fill_keys(['a', 'b'], ['clockRole' => 'leader']))),
        );
        self::assertSame(
            ['clock-without-one-leader' => 'blocks segment=S devices=A, B, C'],
            self::found(self::job(array_fill_keys(['a', 'b', 'c'], ['clockRole' => 'follower']))),
        );
        $sends = self::job(['a' => ['channels' => '8']])
            ->row(
                'streams',
                ['key' => 'x', 'name' => 'X', 'sender' => 'a', 'transport' => 'AES67', 'cast' => 'multicast', 'channels' => 8],
            );
        self::assertSame([], self::found($sends));
        self::assertSame(
            ['more-channels-than-the-card' => 'blocks tag=A n=10 has=8'],
            self::found(
                $sends->row('streams', ['key' => 'y', 'name' => 'Y', 'sender' => 'a', 'transport' => 'AES67', 'cast' => 'multicast']),
            ),
        );
        self::assertSame(8 * 1000 * (78 + 8 * 3 * 48) / 1e6 + 2.928, SoundNetwork::all($sends->plan())[0]->mbps);
    }
}
