<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Allocation;

use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

/** What leaps over whole ranges finds what a walk from address to address finds. */
final class FreeAddressTest extends TestCase
{
    public function testItFindsWhatTryingEveryAddressFinds(): void
    {
        for ($seed = 1; $seed <= 60; ++$seed) {
            $chance = new Randomizer(new Xoshiro256StarStar($seed));
            $range = static function () use ($chance): string {
                $first = $chance->getInt(0, 70);

                return "10.64.30.$first-10.64.30.".min(255, $first + $chance->getInt(0, 20));
            };
            $jobs = (new Jobs())->segment('s', '10.64.30.0/'.$chance->getInt(26, 29), '10.64.30.1', [
                'pools' => [$range()],
                'reserved' => [['range' => $range(), 'for' => 'others']],
                'blocks' => 0 !== $chance->getInt(0, 1) ? [['range' => $range(), 'for' => 'ptz-camera']] : [],
            ]);
            for ($i = $chance->getInt(0, 12); $i > 0; --$i) {
                $jobs->device('c'.$i, 'ptz-camera', 's', ['address' => '10.64.30.'.$chance->getInt(2, 60)]);
            }
            $plan = $jobs->plan();
            self::assertSame(self::allOneByOne($plan, 'ptz-camera'), self::all($plan, 'ptz-camera'), "seed $seed, a block of its own");
            $unclaimed = self::allOneByOne($plan, 'room-codec');
            self::assertSame($unclaimed, self::all($plan, 'room-codec'), "seed $seed, what no block claims");
            $last = FreeAddress::forOutpost($plan, $plan->segments['s'])?->__toString();
            self::assertSame([] === $unclaimed ? null : end($unclaimed), $last, "seed $seed, the last of these");
        }
    }

    public function testTheSizeOfANetworkDoesNotMatter(): void
    {
        $jobs = (new Jobs())->segment('s', '10.0.0.0/8', '10.0.0.1', [
            'blocks' => [['range' => '10.0.0.0-10.255.255.255', 'for' => 'ptz-camera']],
        ]);
        $plan = $jobs->plan();
        self::assertNull(FreeAddress::forOutpost($plan, $plan->segments['s']), 'the block has all of it');
        self::assertNull(FreeAddress::on($plan, $plan->segments['s'])->next('room-codec'));
        self::assertSame('10.0.0.2', (string) FreeAddress::on($plan, $plan->segments['s'])->next('ptz-camera'));
    }

    /** @return list<string> all that are given, one after the other */
    private static function all(Plan $plan, string $kind): array
    {
        $free = FreeAddress::on($plan, $plan->segments['s']);
        $given = [];
        while (null !== $address = $free->next($kind)) {
            $given[] = (string) $address;
            $free->take($address);
        }

        return $given;
    }

    /** @return list<string> */
    private static function allOneByOne(Plan $plan, string $kind): array
    {
        $segment = $plan->segments['s'];
        $held = array_map(static fn ($nic): string => (string) $nic->setting('address')->planned, $plan->nics);
        $own = array_column(array_filter($segment->blocks, static fn (array $one): bool => $one['for'] === $kind), 'range');
        $given = [];
        foreach ($segment->network->range()->addresses() as $address) {
            $isFree = !$segment->network->isEdge($address) && !\in_array((string) $address, [...$held, '10.64.30.1'], true)
                && !self::isIn($address, $segment->pools) && !self::isIn($address, array_column($segment->reserved, 'range'));
            $isIts = [] !== $own ? self::isIn($address, $own) : !self::isIn($address, array_column($segment->blocks, 'range'));
            if ($isFree && $isIts) {
                $given[] = (string) $address;
            }
        }

        return $given;
    }

    /** @param array<Range> $ranges */
    private static function isIn(Ipv4 $address, array $ranges): bool
    {
        foreach ($ranges as $range) {
            if ($range->contains($address)) {
                return true;
            }
        }

        return false;
    }
}
