<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Allocation;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Allocation\Allocation;
use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\Stop;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Tests\Support\Jobs;

final class AllocationTest extends TestCase
{
    private static function job(): Jobs
    {
        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1', [
            'pools' => ['10.64.30.33-10.64.30.34'],
            'reserved' => [['range' => '10.64.30.36', 'for' => 'future']],
            'blocks' => [['range' => '10.64.30.31-10.64.30.37', 'for' => 'ptz-camera']],
        ])->router('r', ['s' => '10.64.30.1/24']);
    }

    /** @return array<string, string> */
    private static function given(Jobs $jobs, bool $afresh = false): array
    {
        return array_column(
            array_map(static fn (array $one): array => [$one['nic']->device, $one['after']], Allocation::of($jobs->plan(), $afresh)->given),
            1,
            0,
        );
    }

    public function testTheBlockInRosterOrderPastPoolsAndReservedRanges(): void
    {
        $jobs = self::job();
        foreach (['a', 'b', 'c', 'd', 'e'] as $key) {
            $jobs->device($key, 'ptz-camera', 's');
        }
        $jobs->device('x', 'streaming-encoder', 's');

        self::assertSame(
            ['a' => '10.64.30.31', 'b' => '10.64.30.32', 'c' => '10.64.30.35', 'd' => '10.64.30.37', 'x' => '10.64.30.2'],
            self::given($jobs),
            'no block: the first address that no block claims',
        );
        $unplaced = Allocation::of($jobs->plan())->unplaced;
        self::assertSame('The block for PTZ camera on S is full: 1 missing so far.', (string) $unplaced[0]['why']);
        self::assertSame(self::given($jobs), self::given($jobs));
    }

    public function testInsertingADeviceMovesNoOther(): void
    {
        $before = self::job()->device('b', 'ptz-camera', 's', ['address' => '10.64.30.31']);
        self::assertSame(['a' => '10.64.30.32'], self::given($before->device('a', 'ptz-camera', 's')));
    }

    public function testWhatIsAppliedNeverMovesEvenAfresh(): void
    {
        $jobs = self::job()
            ->device('a', 'ptz-camera', 's', ['address' => '10.64.30.37'])
            ->device('b', 'ptz-camera', 's', ['address' => '10.64.30.35', 'address.set' => '10.64.30.35']);

        self::assertSame([], self::given($jobs));
        self::assertSame(['a' => '10.64.30.31'], self::given($jobs, true));
    }

    public function testTheFirstAddressIsLeftForARouterUnlessABlockSaysOtherwiseOrThereIsNoneToSpare(): void
    {
        $first = static fn (string $network, ?string $block = null, ?string $gateway = null): ?string => self::address(
            (new Jobs())->segment(
                's',
                $network,
                $gateway,
                null === $block ? [] : ['blocks' => [['range' => $block, 'for' => 'ptz-camera']]],
            )->device('c', 'ptz-camera', 's'),
        );
        self::assertSame('10.64.30.2', $first('10.64.30.0/24'), 'the router that comes some day');
        self::assertSame('10.64.30.2', $first('10.64.30.0/24', null, 'none'));
        self::assertSame('10.64.30.1', $first('10.64.30.0/24', '10.64.30.1-10.64.30.9'));
        self::assertSame('10.64.30.1', $first('10.64.30.0/29'), 'six hosts have none to spare');
        self::assertSame('10.64.30.2', $first('10.64.30.0/28'));
    }

    public function testWhereDevicesGiveThemselvesAnAddressNoneIsHandedOut(): void
    {
        $plan = (new Jobs())->segment('s', '169.254.0.0/16')->device('card', 'console-card', 's')->plan();
        $allocation = Allocation::of($plan);
        self::assertSame([], $allocation->given);
        self::assertStringContainsString('give themselves an address', (string) $allocation->unplaced[0]['why']);
    }

    private static function address(Jobs $jobs): ?string
    {
        return Allocation::of($jobs->plan())->given[0]['after'] ?? null;
    }

    /** What the job names is in use, although no port of it holds it; so is the address of the laptop in a factory network. */
    public function testNoAddressThatTheJobNamesIsGivenOut(): void
    {
        $jobs = (new Jobs())->segment('s', '192.168.1.0/28', '192.168.1.1', ['dns' => '192.168.1.2', 'outpost' => '192.168.1.3'])
            ->router('r', ['s' => '192.168.1.1/28'])
            ->row('routes', ['key' => 'up', 'router' => 'r', 'destination' => '0.0.0.0/0', 'via' => '192.168.1.6'])
            ->device('pbx', 'on-site-pbx', 's', ['address' => '192.168.1.7'])
            ->row('trunks', ['key' => 't', 'name' => 'T', 'pbx' => 'pbx', 'address' => '192.168.1.8']);
        $jobs->job['dns'] = '192.168.1.4';
        $jobs->job['ntp'] = '192.168.1.5';
        foreach (range(1, 9) as $n) {
            $jobs->device('c'.$n, 'ptz-camera', 's');
        }
        $plan = $jobs->plan();
        $laptops = array_map(strval(...), array_filter(array_map(static fn (Stop $one): ?Ipv4 => $one->laptop, Queue::of($plan)->stops)));
        $given = array_column(Allocation::of($plan)->given, 'after');
        self::assertSame(['192.168.1.9', '192.168.1.10', '192.168.1.11', '192.168.1.12', '192.168.1.13'], \array_slice($given, 0, 5));
        self::assertSame([], array_intersect($given, $laptops));
    }

    public function testTheOutpostAndTheLaptopDoNotMeetInAFactoryNetwork(): void
    {
        $plan = (new Jobs())->segment('s', '192.168.1.0/24', '192.168.1.1')
            ->device('c', 'paging-horn', 's', ['address' => '192.168.1.20'])->plan();
        $laptops = array_map(strval(...), array_filter(array_map(static fn (Stop $one): ?Ipv4 => $one->laptop, Queue::of($plan)->stops)));
        self::assertNotSame([], $laptops);
        self::assertNotContains((string) FreeAddress::forOutpost($plan, $plan->segments['s']), $laptops);
    }
}
