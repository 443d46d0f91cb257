<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\KnownNetwork;
use Vorhut\Core\Bench\LooseDevice;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

/** One device in hand, from what the technician knows of it to its run sheet. */
final class LooseDeviceTest extends TestCase
{
    #[TestWith(['10.20.3.0/24', '10.20.3.0/24', null, false])]
    #[TestWith(['10.20.3.23/24', '10.20.3.0/24', '10.20.3.23', false])]
    #[TestWith([' 10.20.3.23  255.255.255.0 ', '10.20.3.0/24', '10.20.3.23', false])]
    #[TestWith(['isolated', '192.168.10.0/24', null, true])]
    #[TestWith(['Isolated, 192.168.1.0/24', '192.168.1.0/24', null, true])]
    #[TestWith(['isolated 192.168.1.5/24', '192.168.1.0/24', '192.168.1.5', true])]
    #[TestWith(['ask', null, null, false])]
    #[TestWith(['', null, null, false])]
    public function testANetworkIsReadAsPeopleWriteIt(string $text, ?string $network, ?string $address, bool $isIsolated): void
    {
        $known = KnownNetwork::fromString($text);
        self::assertSame($network, null === $known->network ? null : (string) $known->network);
        self::assertSame($address, null === $known->address ? null : (string) $known->address);
        self::assertSame($isIsolated, $known->isIsolated);
    }

    #[TestWith(['10.20.3.23', 'Add the mask to 10.20.3.23: 10.20.3.23/24.'])]
    #[TestWith(['10.20.3.255/24', '10.20.3.255 is the broadcast address of 10.20.3.0/24.'])]
    #[TestWith(['10.20.3.300/24', '300'])]
    #[TestWith(['isolated-ish', 'is not'])]
    #[TestWith(['10.20.3.0/33', '33'])]
    public function testAnImpossibleNetworkIsRefusedWithItsReason(string $text, string $why): void
    {
        $this->expectException(Malformed::class);
        $this->expectExceptionMessage($why);
        KnownNetwork::fromString($text);
    }

    public function testTheRunSheetHasAllValuesThatAreKnown(): void
    {
        $plan = self::prepared((new Jobs())->plan(), 'IP phone', '02-00-5E-00-00-07', '10.20.3.23/24');
        $phone = $plan->deviceTagged('PH-01') ?? self::fail('it has the proposed tag');
        self::assertSame('desk-phone-poe', $phone->kind->code);
        self::assertSame('02-00-5E-00-00-07', (string) $phone->nic()?->mac);
        self::assertSame('10.20.3.23', (string) $phone->nic()?->plannedAddress());
        self::assertSame('10.20.3.0/24', (string) $plan->segmentOf($phone)?->network);
        self::assertNotNull(RunSheet::of($plan, $phone)->next());
    }

    public function testTheNextOneGetsTheNextTagAndAFreeAddressInTheSameSegment(): void
    {
        $first = self::prepared((new Jobs())->plan(), 'PTZ', 'NM-1001', '10.20.3.0/24');
        $second = self::prepared($first, 'PTZ', '', '10.20.3.0/24');
        $one = $second->deviceTagged('CAM-01') ?? self::fail('CAM-01');
        $other = $second->deviceTagged('CAM-02') ?? self::fail('CAM-02');
        self::assertSame('NM-1001', $one->serial);
        self::assertCount(1, $second->segments);
        $addresses = [(string) $one->nic()?->plannedAddress(), (string) $other->nic()?->plannedAddress()];
        self::assertCount(2, array_unique(array_diff($addresses, [''])));
    }

    public function testAnIsolatedNetworkHasNoGatewayToAskFor(): void
    {
        $plan = self::prepared((new Jobs())->plan(), 'PTZ', '', 'isolated');
        $segment = array_values($plan->segments)[0];
        self::assertFalse($segment->routed);
        self::assertNull($segment->gateway);
    }

    public function testTwoDevicesHaveNotOneMac(): void
    {
        $plan = self::prepared((new Jobs())->plan(), 'PTZ', '02-00-5E-00-00-07', '');
        $this->expectExceptionMessage('is the MAC of CAM-01 already');
        self::prepared($plan, 'PTZ', '02:00:5e:00:00:07', '');
    }

    public function testAWordBelongsToOneKind(): void
    {
        $words = array_map(mb_strtolower(...), Jobs::catalogue()->words());
        self::assertSame([], array_keys(array_filter(array_count_values($words), static fn (int $count): bool => $count > 1)));
        self::assertSame('managed-switch', Jobs::catalogue()->kindNamed(' PoE Switch ')?->code);
        foreach (Jobs::catalogue()->kinds() as $kind) {
            self::assertNotSame([[], 'D'], [$kind->words, $kind->tagPrefix], $kind->code);
        }
    }

    private static function prepared(Plan $plan, string $kind, string $label, string $network): Plan
    {
        $found = Jobs::catalogue()->kindNamed($kind) ?? self::fail($kind);

        return $plan->with(LooseDevice::of($plan, $found, $label, KnownNetwork::fromString($network))->change);
    }
}
