<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Net;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\HostName;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Range;

final class ValuesTest extends TestCase
{
    public function testTheWorkedExampleOfTheHandbook(): void
    {
        $network = Network::around(Ipv4::fromString('10.40.12.77'), Mask::ofPrefix(22));

        self::assertSame('10.40.12.0/22', (string) $network);
        self::assertSame('10.40.15.255', (string) $network->broadcast());
        self::assertSame(1022, $network->hosts());
        self::assertSame('255.255.252.0', $network->mask->toDotted());
    }

    public function testSmallNetworksHaveNoEdges(): void
    {
        self::assertSame(2, Network::fromString('192.0.2.4/31')->hosts(), 'RFC 3021');
        self::assertSame(1, Network::fromString('192.0.2.4/32')->hosts());
        self::assertFalse(Network::fromString('192.0.2.4/31')->isEdge(Ipv4::fromString('192.0.2.4')));
        self::assertTrue(Network::fromString('192.0.2.4/30')->isEdge(Ipv4::fromString('192.0.2.7')));
        self::assertSame(4294967294, Network::fromString('0.0.0.0/0')->hosts());
    }

    /** @return iterable<string, array{callable(string): object, string, string}> */
    public static function refusals(): iterable
    {
        $address = static fn (string $text): object => Ipv4::fromString($text);
        $mask = static fn (string $text): object => Mask::fromString($text);
        $network = static fn (string $text): object => Network::fromString($text);
        $mac = static fn (string $text): object => Mac::fromString($text);
        $name = static fn (string $text): object => HostName::fromString($text);
        yield 'octal' => [$address, '10.064.20.1', 'octal'];
        yield 'too few' => [$address, '10.64.20', 'four numbers'];
        yield 'too large' => [$address, '10.64.20.256', 'more than 255'];
        yield 'letters' => [$address, '10.64.2O.1', 'not a number'];
        yield 'trailing line' => [$address, "10.64.20\n.1.1.1", 'four numbers'];
        yield 'holes in a mask' => [$mask, '255.0.255.0', 'not contiguous'];
        yield 'long prefix' => [$mask, '/33', 'from /0 to /32'];
        yield 'host bits' => [$network, '10.64.20.7/24', 'did you mean 10.64.20.0/24'];
        yield 'group MAC' => [$mac, '01-00-5E-00-00-FB', 'group address'];
        yield 'mixed MAC' => [$mac, '00:00-5E:00:53:01', 'twelve digits'];
        yield 'short MAC' => [$mac, '00005e00530', 'twelve digits'];
        yield 'underscore' => [$name, 'cam_03', 'inner hyphens'];
        yield 'only digits' => [$name, '10.0.0', 'not a host name'];
        yield 'backwards' => [static fn (string $text): object => Range::fromString($text), '10.0.0.9-10.0.0.3', 'backwards'];
        yield 'port' => [static fn (string $text): object => Port::fromString($text), '5060', '5060/udp'];
    }

    /** @param callable(string): object $read */
    #[DataProvider('refusals')]
    public function testBadTextIsRefusedWithItsReason(callable $read, string $text, string $reason): void
    {
        $this->expectException(Malformed::class);
        $this->expectExceptionMessage($reason);
        $read($text);
    }

    public function testOneFormInsideWhateverWasWritten(): void
    {
        foreach (['00:00:5e:00:53:af', '00-00-5E-00-53-AF', '0000.5e00.53af', '00005E0053AF'] as $text) {
            self::assertSame('00-00-5E-00-53-AF', (string) Mac::fromString($text));
        }
        self::assertTrue(Mac::fromString('02-00-5E-00-53-01')->isLocallyAdministered());
        self::assertSame('10.64.20.31-10.64.20.60', (string) Range::fromString('10.64.20.31-60'));
        self::assertSame('/20', (string) Mask::fromString('255.255.240.0'));
        self::assertSame('/0', (string) Mask::fromString('0.0.0.0'));
    }

    public function testAddressesThatNoHostMayHold(): void
    {
        foreach (['0.1.2.3', '127.0.0.1', '224.0.0.251', '255.255.255.255', '169.254.0.9', '169.254.255.1'] as $text) {
            self::assertNotNull(Ipv4::fromString($text)->whyNotAHost(), $text);
        }
        self::assertNotNull(Ipv4::fromString('0.255.255.255')->whyNotAHost());
        foreach (['169.254.1.0', '1.0.0.0', '223.255.255.255', '126.255.255.255', '128.0.0.0'] as $text) {
            self::assertNull(Ipv4::fromString($text)->whyNotAHost(), $text);
        }
    }
}
