<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Group;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Voice\Dialling\DigitMap;
use Vorhut\Core\Voice\Quality;
use Vorhut\Core\Wire\Dhcp\Options;

/** The trade's worked examples that belong to no larger computation yet. */
final class HandbookVectorsTest extends TestCase
{
    public function testTwoGroupsThatShareAMac(): void
    {
        self::assertSame('01:00:5E:48:01:01', Group::fromString('239.200.1.1')->mac());
        self::assertSame(Group::fromString('239.200.1.1')->mac(), Group::fromString('239.72.1.1')->mac());
        self::assertNotSame(Group::fromString('239.200.1.1')->mac(), Group::fromString('239.200.1.2')->mac());
    }

    public function testDhcpOptionsInHex(): void
    {
        $router = Ipv4::fromString('10.40.12.1');
        self::assertSame(
            '10 0A 14 0A 28 0C 01 00 0A 28 0C 01',
            Options::hex(Options::classlessRoutes([
                [Network::fromString('10.20.0.0/16'), $router],
                [Network::fromString('0.0.0.0/0'), $router],
            ])),
        );
        self::assertSame('01 0A 28 14 05', Options::hex(Options::sipServers([Ipv4::fromString('10.40.20.5')])));
    }

    public function testAMapThatIsAlwaysShadowedByAnEarlierOne(): void
    {
        [$a, $b, $c] = array_map(DigitMap::fromString(...), ['0x.T', '00x.T', '11x']);
        self::assertSame(
            ['full', 'full', 'none'],
            array_map(static fn (DigitMap $map): string => $map->match('00493012345'), [$a, $b, $c]),
        );
        self::assertTrue($a->waitsForTimer('0049'));
        self::assertTrue($a->shadows($b), 'B is never reached');
        self::assertFalse($b->shadows($a));
        self::assertFalse($a->shadows($c));
        self::assertTrue(DigitMap::fromString('[1-3]x|9x.')->shadows(DigitMap::fromString('2[0-5]|97')));
    }

    public function testPartialMatchesAndBadMaps(): void
    {
        $map = DigitMap::fromString('(2xxx|9[1-8]xxxxxx|11x)');
        self::assertSame(['partial', 'full', 'none', 'none', 'partial'], array_map($map->match(...), ['21', '2104', '21045', '90', '11']));
        $this->expectException(Malformed::class);
        DigitMap::fromString('_9X.');
    }

    public function testQualityAndRatesOfACall(): void
    {
        self::assertEqualsWithDelta(89.6, Quality::rating(150, 0), 0.05);
        self::assertSame(4.33, round(Quality::score(Quality::rating(150, 0)), 2));
        self::assertLessThan(Quality::rating(150, 1, 'G.711 PLC'), Quality::rating(150, 1));
        self::assertSame([1.0, 4.5], [Quality::score(-20), Quality::score(100)]);
        self::assertSame(['ip' => 80.0, 'ethernet' => 87.2, 'wire' => 96.8], Quality::rate('G.711'));
        self::assertSame(['ip' => 24.0, 'ethernet' => 31.2, 'wire' => 40.8], Quality::rate('G.729'));
    }
}
