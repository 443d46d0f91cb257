<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Net;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Network6;

final class Ipv6Test extends TestCase
{
    /** @return iterable<array{string, string}> RFC 4291 §2.2, RFC 5952 §1, §4 */
    public static function spellings(): iterable
    {
        yield ['2001:DB8:0:0:8:800:200C:417A', '2001:db8::8:800:200c:417a'];
        yield ['FF01:0:0:0:0:0:0:101', 'ff01::101'];
        yield ['0:0:0:0:0:0:0:1', '::1'];
        yield ['0:0:0:0:0:0:0:0', '::'];
        yield ['2001:0db8:0000:0000:0001:0000:0000:0001', '2001:db8::1:0:0:1'];
        yield ['2001:db8:0:1:1:1:1:1', '2001:db8:0:1:1:1:1:1'];
        yield ['2001:db8:0:0:1:0:0:1', '2001:db8::1:0:0:1'];
        yield [' 2001:db8::aBcD ', '2001:db8::abcd'];
    }

    #[DataProvider('spellings')]
    public function testIsReadAsItMayBeWrittenAndWrittenInOneWay(string $text, string $one): void
    {
        self::assertSame($one, (string) Ipv6::fromString($text));
        self::assertTrue(Ipv6::fromString($one)->equals(Ipv6::fromString($text)));
        self::assertSame(Ipv6::fromString($one)->key(), Ipv6::fromString($text)->key());
    }

    public function testWhatIsNoneIsRefused(): void
    {
        foreach (['', '10.64.20.31', '2001:db8', '1:2:3:4:5:6:7:8:9', '::1::2', '2001:db8::g', 'fe80::1%eth0', '12345::', ':'] as $text) {
            self::assertNull(Ipv6::tryFromString($text), $text);
        }
        $this->expectException(Malformed::class);
        Ipv6::fromBytes('short');
    }

    public function testWhoMayHoldIt(): void
    {
        foreach (['::', '::1', 'ff02::1', '::ffff:192.0.2.1'] as $text) {
            self::assertNotNull(Ipv6::fromString($text)->whyNotAHost(), $text);
        }
        foreach (['2001:db8::1', 'fe80::1', 'fd00::1', '::2'] as $text) {
            self::assertNull(Ipv6::fromString($text)->whyNotAHost(), $text);
        }
        self::assertTrue(Ipv6::fromString('febf::1')->isLinkLocal());
        self::assertFalse(Ipv6::fromString('fec0::1')->isLinkLocal());
        self::assertSame([true, true, true, false, false], array_map(
            static fn (string $text): bool => Ipv6::fromString($text)->isPrivate(),
            ['fc00::1', 'fdff::1', 'fe80::1', 'fe00::1', '2001:db8::1'],
        ));
    }

    /** @return iterable<array{string, string, bool}> */
    public static function lying(): iterable
    {
        yield ['2001:db8:64:10::/64', '2001:db8:64:10:ffff::1', true];
        yield ['2001:db8:64:10::/64', '2001:db8:64:11::', false];
        yield ['2001:db8:64:10::/61', '2001:db8:64:17::1', true];
        yield ['2001:db8:64:10::/61', '2001:db8:64:18::1', false];
        yield ['2001:db8::10/124', '2001:db8::1f', true];
        yield ['2001:db8::10/124', '2001:db8::20', false];
        yield ['2001:db8::10/128', '2001:db8::10', true];
        yield ['2001:db8::10/128', '2001:db8::11', false];
        yield ['::/0', '2001:db8::11', true];
    }

    #[DataProvider('lying')]
    public function testWhatLiesInANetwork(string $network, string $address, bool $is): void
    {
        $in = Network6::fromString($network);
        self::assertSame($network, (string) $in);
        self::assertSame($is, $in->contains(Ipv6::fromString($address)));
        self::assertSame($is, $in->address->key() === Network6::keyAround(Ipv6::fromString($address), $in->prefix()));
        self::assertFalse($in->contains(Ipv4::fromString('10.64.20.31')));
    }

    public function testANetworkIsReadStrictlyAndAnInterfaceIsBoth(): void
    {
        [$host, $network] = Network6::interface('2001:db8:64:10::31/64');
        self::assertSame(['2001:db8:64:10::31', '2001:db8:64:10::/64'], [(string) $host, (string) $network]);
        self::assertTrue($network->isOfItsRouters($network->address));
        self::assertFalse($network->isOfItsRouters($host));
        self::assertFalse(Network6::fromString('2001:db8::/127')->isOfItsRouters(Ipv6::fromString('2001:db8::')), 'RFC 6164');
        self::assertTrue($network->overlaps(Network6::fromString('2001:db8:64::/48')));
        self::assertFalse($network->overlaps(Network6::fromString('2001:db8:64:11::/64')));
        self::assertFalse($network->equals(Network::fromString('10.64.20.0/24')));
        foreach ([
            '2001:db8:64:10::31/64' => 'did you mean',
            '2001:db8::' => 'how many bits',
            '2001:db8::/129' => 'how many bits',
        ] as $text => $why) {
            self::assertNull(Network6::tryFromString($text));
            try {
                Network6::fromString($text);
                self::fail($text);
            } catch (Malformed $e) {
                self::assertStringContainsString($why, $e->getMessage());
            }
        }
    }

    public function testTheTwoAreNeverEqual(): void
    {
        $four = Ipv4::fromString('10.64.20.31');
        $six = Ipv6::fromString('2001:db8::1');
        self::assertFalse($four->equals($six) || $six->equals($four));
        self::assertFalse(Network::fromString('0.0.0.0/0')->contains($six));
        self::assertFalse(Network6::fromString('::/0')->contains($four));
    }
}
