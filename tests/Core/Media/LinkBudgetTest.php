<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Media;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Media\Cabling;
use Vorhut\Core\Media\Headroom;
use Vorhut\Core\Media\LinkBudget;
use Vorhut\Core\Media\LinkHop;
use Vorhut\Core\Media\LinkLoad;
use Vorhut\Core\Media\PictureRate;
use Vorhut\Core\Media\Uplink;
use Vorhut\Tests\Support\Facts;
use Vorhut\Tests\Support\Jobs;

/** Links, and what streams take of them: the worked examples of the trade are vectors. */
final class LinkBudgetTest extends TestCase
{
    /** @return list<array{name: string, mbps: float, ref: string}> */
    private static function parts(int $n, float $mbps): array
    {
        return array_fill(0, $n, ['name' => (string) $mbps, 'mbps' => $mbps, 'ref' => '']);
    }

    public function testTheFirstWorkedExample(): void
    {
        $link = LinkLoad::ofSingleLink(1000, [...self::parts(4, 130), ...self::parts(6, 10)], Headroom::of(25));
        self::assertSame([750.0, 580.0, 1], [$link->usable, $link->sum, $link->more(130)]);
        self::assertFalse($link->with('one', 130)->isOver());
        self::assertSame(840.0, $link->with('one', 130)->with('two', 130)->sum);
        self::assertTrue($link->with('one', 130)->with('two', 130)->isOver());
        self::assertFalse($link->carriesStreams());
        self::assertTrue(
            LinkLoad::ofSingleLink(
                1,
                [['name' => 'x', 'mbps' => 0.1, 'ref' => 'streams/x'], ...self::parts(1, 0.5)],
                Headroom::of(25),
            )->carriesStreams(),
        );
        self::assertNull($link->firstOver());
        self::assertSame(130.0, $link->with('one', 130)->with('two', 130)->firstOver()['mbps'] ?? 0);
    }

    public function testTheSecondWhereHeadroomIsNotAddedToTheSum(): void
    {
        $parts = [...self::parts(5, 125), ...self::parts(5, 12)];
        $link = LinkLoad::ofSingleLink(1000, $parts, Headroom::of(25));
        self::assertSame([685.0, 65.0, 5, 0], [$link->sum, $link->free(), $link->more(12), $link->more(125)]);
        self::assertSame(-85.0, LinkLoad::ofSingleLink(1000, $parts, Headroom::of(40))->free());
    }

    public function testRates(): void
    {
        self::assertSame(2_488_320.0, PictureRate::active(1920, 1080, 60));
        self::assertSame(2928.0, PictureRate::sound(2), 'stereo in packets of 1 ms: 366 bytes each');
        [$least, $most] = PictureRate::usual('H.264', 1920, 1080, 25) ?? [0.0, 0.0];
        self::assertSame([3110.4, 6220.8], [round($least, 1), round($most, 1)]);
        self::assertNull(PictureRate::usual('MJPEG', 1920, 1080, 25));
        self::assertEqualsWithDelta(3300.0, PictureRate::likeInH265(6000), 1e-6);
    }

    public function testWhatIsFetchedFromOutsideComesFromTheRouter(): void
    {
        $jobs = (new Jobs())->segment('s', '10.0.0.0/24')->router('r', ['s' => '10.0.0.1/24'])->device('sw', 'unmanaged-switch', null)
            ->device('a', 'multi-room-streamer', 's')->device('b', 'multi-room-streamer', 's')->device('card', 'console-card', 's');
        foreach (['r', 'a', 'b', 'card'] as $port => $device) {
            $jobs->row('cables', ['key' => $device, 'device' => $device, 'switch' => 'sw', 'port' => (string) $port, 'mbps' => 100]);
        }
        $sums = [];
        foreach (LinkBudget::of($jobs->plan())->links as $link) {
            $sums[$link->from.'>'.$link->to] = round($link->sum, 3);
        }
        self::assertSame(['R>SW' => 3.822, 'SW>A' => 2.411, 'SW>B' => 2.411], $sums, 'beside one per cent of each cable for control');
    }

    public function testAnUplink(): void
    {
        self::assertTrue(Uplink::fromMeasurement(6, 10, false)->holds(), '7.5 of 7.5');
        self::assertFalse(Uplink::fromMeasurement(6.1, 10, false)->holds());
        self::assertFalse(Uplink::fromMeasurement(6, 10, true)->holds(), 'mobile: 5 may be used');
    }

    /** Two switches, a hall and a control room; a camera, an encoder and a computer in the hall, monitors in the control room. */
    private static function job(string $snooping = 'yes'): Jobs
    {
        $set = ['snooping' => $snooping, 'poeBudget' => '740'];
        $jobs = (new Jobs())->segment('s', '10.0.0.0/24', '10.0.0.1')
            ->device('hall', 'managed-switch', 's', $set)->device('room', 'managed-switch', 's', $set)
            ->device('cam', 'ptz-camera', 's', ['bitRate' => '6000', 'audioRate' => '128'])
            ->device('m1', 'monitor-receiver', 's')->device('m2', 'monitor-receiver', 's')->device('near', 'monitor-receiver', 's')
            ->row('cables', ['key' => 'up', 'device' => 'hall', 'switch' => 'room', 'port' => '24', 'mbps' => 1000]);
        foreach (['cam' => 'hall', 'near' => 'hall', 'm1' => 'room', 'm2' => 'room'] as $device => $switch) {
            $jobs->row('cables', ['key' => $device, 'device' => $device, 'switch' => $switch, 'port' => $device, 'mbps' => 100]);
        }

        return $jobs->row('streams', ['key' => 'st', 'name' => 'Hall', 'sender' => 'cam', 'transport' => 'RTP', 'cast' => 'unicast'])
            ->row('deliveries', ['key' => 'd1', 'stream' => 'st', 'device' => 'm1'])
            ->row('deliveries', ['key' => 'd2', 'stream' => 'st', 'device' => 'm2']);
    }

    /** @return array<string, float> from > to → Mbit/s of streams */
    private static function carried(Jobs $jobs): array
    {
        $carried = [];
        foreach (LinkBudget::of($jobs->plan())->links as $link) {
            $streams = array_filter($link->parts, static fn (array $part): bool => '' !== $part['ref']);
            if ([] !== $streams) {
                $carried[$link->from.' > '.$link->to] = round(array_sum(array_column($streams, 'mbps')), 3);
            }
        }
        ksort($carried);

        return $carried;
    }

    public function testEachUniverseOfEachSenderGoesOncePerLink(): void
    {
        $jobs = self::job()->device('desk', 'lighting-console', 's', ['universesSent' => '1, 2, 7'])
            ->device('node', 'lighting-node', 's', ['universe.1' => '1', 'universe.2' => '2'])
            ->device('other', 'lighting-node', 's', ['universe.1' => '1']);
        foreach (['desk' => 'hall', 'node' => 'room', 'other' => 'room'] as $device => $switch) {
            $jobs->row('cables', ['key' => $device, 'device' => $device, 'switch' => $switch, 'port' => $device, 'mbps' => 100]);
        }
        $light = static function (Jobs $jobs): array {
            $light = [];
            foreach (LinkBudget::of($jobs->plan())->links as $link) {
                foreach ($link->parts as $part) {
                    if ('light' === $part['name']) {
                        $light[$link->from.' > '.$link->to] = round($part['mbps'], 3);
                    }
                }
            }
            ksort($light);

            return $light;
        };
        // 704 bytes on the wire 44 times a second for each (ANSI E1.31): the seventh goes no further than the first switch.
        self::assertSame(
            ['DESK > HALL' => 0.743, 'HALL > ROOM' => 0.496, 'ROOM > NODE' => 0.496, 'ROOM > OTHER' => 0.248],
            $light($jobs),
        );
        $deaf = $jobs->change('settings', 'devices/hall#snooping', 'set', 'no');
        self::assertSame(0.743, $light($deaf)['HALL > ROOM'], 'a switch that does not look sends all of it on');
        self::assertSame(0.743, $light($deaf)['HALL > NEAR']);
    }

    public function testUnicastGoesOnceForEachAndOnlyOneWay(): void
    {
        self::assertSame(
            ['CAM > HALL' => 12.256, 'HALL > ROOM' => 12.256, 'ROOM > M1' => 6.128, 'ROOM > M2' => 6.128],
            self::carried(self::job()),
        );
    }

    public function testAGroupGoesOnceWhereSwitchesLookAndEverywhereWhereTheyDoNot(): void
    {
        $once = ['CAM > HALL' => 6.128, 'HALL > ROOM' => 6.128, 'ROOM > M1' => 6.128, 'ROOM > M2' => 6.128];
        self::assertSame($once, self::carried(self::job()->change('streams', 'st', 'cast', 'multicast')));
        // A router that routes groups is sent every one of them, whoever listens behind it (RFC 4541 §2.1.2).
        $routed = self::job()->change('streams', 'st', 'cast', 'multicast')->router('r', ['s' => '10.0.0.1/24'])
            ->change('routerPorts', 'r-s', 'multicast', true)
            ->row('cables', ['key' => 'r', 'device' => 'r', 'switch' => 'room', 'port' => '23', 'mbps' => 1000]);
        self::assertSame($once + ['ROOM > R' => 6.128], self::carried($routed));
        self::assertSame($once, self::carried($routed->change('routerPorts', 'r-s', 'multicast', false)));
        $flood = self::carried(self::job('no')->change('streams', 'st', 'cast', 'multicast'));
        self::assertSame(6.128, $flood['HALL > NEAR'] ?? null, 'who never asked gets it too');
        self::assertCount(5, $flood);
        self::assertArrayNotHasKey('ROOM > HALL', $flood);
    }

    public function testOneMoreIsReckonedAndNotEntered(): void
    {
        $plan = self::job()->plan();
        $more = LinkBudget::withMore($plan, 'st', 3);
        self::assertSame(4 * 12.256, round(array_sum(array_column(array_filter(
            $more->link('up>room')->parts ?? [],
            static fn (array $part): bool => '' !== $part['ref'],
        ), 'mbps')), 3));
        self::assertCount(1, $plan->streams);
    }

    /** Out of the site by the router that its cables lead to. */
    public function testWhatLeavesTheSiteGoesToItsRouter(): void
    {
        $jobs = self::job()->change('streams', 'st', 'outside', true)
            ->router('far', ['s' => '10.0.0.2/24'])->router('r', ['s' => '10.0.0.1/24'])
            ->row('cables', ['key' => 'far', 'device' => 'far', 'switch' => 'alone', 'port' => '1'])
            ->device('alone', 'managed-switch', 's')
            ->row('cables', ['key' => 'r', 'device' => 'r', 'switch' => 'room', 'port' => '9']);
        self::assertSame(6.128, self::carried($jobs)['ROOM > R'] ?? null);
        self::assertSame(18.384, self::carried($jobs)['CAM > HALL'] ?? null, 'beside the two that receive it here');
    }

    public function testARingIsCutAndASpareCarriesNothing(): void
    {
        $ring = self::job()->device('third', 'managed-switch', 's')
            ->row('cables', ['key' => 'r1', 'device' => 'third', 'switch' => 'hall', 'port' => '30'])
            ->row('cables', ['key' => 'r2', 'device' => 'third', 'switch' => 'room', 'port' => '30']);
        $cabling = Cabling::of($ring->plan());
        self::assertCount(1, $cabling->closing);
        $way = static fn (Cabling $of): array => array_map(
            static fn (LinkHop $hop): string => $hop->from.'>'.$hop->to,
            $of->way('cam', 'm1') ?? [],
        );
        self::assertSame(['cam>hall', 'hall>room', 'room>m1'], $way($cabling));
        self::assertSame(
            ['cam>hall', 'hall>third', 'third>room', 'room>m1'],
            $way(Cabling::of($ring->change('cables', 'up', 'spare', true)->plan())),
        );
        self::assertNull(Cabling::of(self::job()->change('cables', 'up', 'spare', true)->plan())->way('cam', 'm1'));
        self::assertSame([], $cabling->way('cam', 'cam'));
    }

    /** @return array<string, string> */
    private static function found(Jobs $jobs): array
    {
        return Facts::of($jobs->plan(), 'link-too-full', 'stream-without-cable', 'rate-unusual', 'uplink-too-small');
    }

    public function testFindings(): void
    {
        self::assertSame([], self::found(self::job()));
        self::assertSame(
            ['link-too-full' => 'risk from=CAM to=HALL sum=86 keep=25 usable=75 mbps=100 over=11'],
            self::found(self::job()->change('streams', 'st', 'kbit', 42500)->change('streams', 'st', 'codec', 'MJPEG')),
        );
        self::assertStringStartsWith(
            'blocks from=CAM to=HALL sum=101 ',
            self::found(
                self::job()->change('streams', 'st', 'kbit', 50000)->change('streams', 'st', 'codec', 'MJPEG'),
            )['link-too-full'] ?? '',
        );
        self::assertSame(
            ['rate-unusual' => 'note stream=Hall kbit=1000 codec=H.264 size=1920×1080 fps=25 least=3110 most=6221'],
            self::found(self::job()->change('streams', 'st', 'kbit', 1000)),
        );
        $cut = self::found(self::job()->change('cables', 'up', 'spare', true));
        self::assertSame(
            ['stream-without-cable' => 'note stream=Hall sender=CAM receiver=M2'],
            $cut,
        );
        $out = self::job()->change('streams', 'st', 'outside', true);
        $out->job['uplinkKbit'] = 9000;
        self::assertSame(
            ['uplink-too-small' => 'blocks pushed=6.13 asked=7.66 usable=6.75 measured=9'],
            self::found($out),
        );
    }

    /** 2,000 streams on 200 switches: what a way costs is its length. */
    public function testAtSizeItWalksNoFurtherThanItMust(): void
    {
        $jobs = (new Jobs())->segment('s', '10.0.0.0/16', '10.0.0.1');
        for ($i = 0; $i < 200; ++$i) {
            $jobs->device('sw'.$i, 'managed-switch', 's');
            if (0 !== $i) {
                $jobs->row('cables', ['key' => 'u'.$i, 'device' => 'sw'.$i, 'switch' => 'sw'.intdiv($i - 1, 8), 'mbps' => 40000]);
            }
        }
        for ($i = 0; $i < 400; ++$i) {
            $jobs->device('c'.$i, 'ptz-camera', 's')->row('cables', ['key' => 'c'.$i, 'device' => 'c'.$i, 'switch' => 'sw'.$i % 200]);
        }
        for ($i = 0; $i < 2000; ++$i) {
            $jobs->row('streams', ['key' => 's'.$i, 'name' => 'S'.$i, 'sender' => 'c'.$i % 400, 'cast' => 'unicast'])
                ->row('deliveries', ['key' => 'd'.$i, 'stream' => 's'.$i, 'device' => 'c'.($i * 7 + 1) % 400]);
        }
        $plan = $jobs->plan();
        $cabling = Cabling::of($plan);
        foreach ($plan->streams as $stream) {
            self::assertLessThanOrEqual(8, \count($cabling->way($stream->sender, $stream->receivers[0]) ?? []));
        }
        $links = LinkBudget::of($plan)->links;
        self::assertGreaterThan(500, \count($links));
    }

    /** An encoder that pushes is a stream, whether or not somebody drew it as one. */
    public function testWhatIsPushedCountsWithoutARecordOfItsOwn(): void
    {
        $jobs = (new Jobs())->segment('s', '10.0.0.0/24', '10.0.0.1')
            ->device('enc', 'streaming-encoder', 's', ['address' => '10.0.0.20', 'bitRate' => '5000', 'audioRate' => '128',
                'pushProtocol' => 'RTMP', 'pushUrl' => 'rtmp://192.0.2.80/live']);
        $jobs->job['uplinkKbit'] = 3000;
        $found = static fn (Jobs $jobs): array => array_map(
            static fn (Finding $one): string => $one->code,
            array_filter(
                Findings::of($jobs->plan(), ShippedRules::all())->all,
                static fn (Finding $one): bool => 'job' === $one->records[0],
            ),
        );
        self::assertSame(5.128, LinkBudget::of($jobs->plan())->pushed);
        self::assertContains('uplink-too-small', $found($jobs));
        $question = TestPlan::of($jobs->plan())->test('hand:enc:rate')?->question;
        self::assertSame([4615.0, 5641.0], [$question?->least, $question?->most], 'ten per cent more or less');

        $drawn = $jobs->row('streams', ['key' => 'st', 'name' => 'Live', 'sender' => 'enc', 'transport' => 'RTMP', 'outside' => true]);
        self::assertSame(5.128, LinkBudget::of($drawn->plan())->pushed, 'drawn, it counts once');
    }

    public function testAStreamOfAnotherPictureThanItsSenderIsFound(): void
    {
        $found = static fn (?int $fps, ?int $height): array => array_values(array_map(
            static fn (Finding $one): string => $one->what->with['planned'].' '.$one->what->with['set'],
            array_filter(Findings::of((new Jobs())->segment('s', '10.0.0.0/24', '10.0.0.1')
                ->device('cam', 'ptz-camera', 's', ['address' => '10.0.0.20', 'size' => '1920x1080', 'frameRate' => '25'])
                ->row('streams', ['key' => 'st', 'name' => 'Hall', 'sender' => 'cam', 'transport' => 'RTP', 'frameRate' => $fps,
                    'width' => null === $height ? null : 1920, 'height' => $height])->plan(), ShippedRules::all())->all, static fn (
                        Finding $one,
                    ): bool => 'stream-unlike-sender' === $one->code),
        ));
        self::assertSame(['60 fps 25 fps'], $found(60, 1080));
        self::assertSame(['1920x720 1920x1080'], $found(25, 720));
        self::assertSame([], $found(null, null));
        self::assertSame([], $found(25, 1080));
    }
}
