<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Discovery;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Network\Discovery\Delivery;
use Vorhut\Core\Network\Discovery\FreeGroup;
use Vorhut\Core\Network\Discovery\MulticastGroup;
use Vorhut\Tests\Support\Jobs;

/** What is sent once for many: from the sender to each listener, over routers that route groups or not. */
final class GroupsTest extends TestCase
{
    /**
     * @param array<string, array<string, bool|string>> $wires segment → what it does with groups
     * @param list<string>                              $ports interfaces that route groups
     */
    private static function job(string $group, int $ttl, array $wires = [], array $ports = []): Jobs
    {
        $jobs = (new Jobs())->segment('s1', '10.40.1.0/24', '10.40.1.1', $wires['s1'] ?? [])
            ->segment('mid', '10.40.9.0/24', null, $wires['mid'] ?? [])
            ->segment('s2', '10.40.2.0/24', '10.40.2.1', $wires['s2'] ?? [])
            ->router('r1', ['s1' => '10.40.1.1/24', 'mid' => '10.40.9.1/24'])
            ->router('r2', ['mid' => '10.40.9.2/24', 's2' => '10.40.2.1/24'])
            ->device('enc', 'streaming-encoder', 's1', ['address' => '10.40.1.20'])
            ->device('near', 'monitor-receiver', 's1', ['address' => '10.40.1.30'])
            ->device('far', 'monitor-receiver', 's2', ['address' => '10.40.2.30'])
            ->row('groups', ['key' => 'g', 'name' => 'Departures', 'address' => $group, 'sender' => 'enc', 'ttl' => $ttl])
            ->row('joins', ['key' => 'n', 'group' => 'g', 'device' => 'near'])
            ->row('joins', ['key' => 'f', 'group' => 'g', 'device' => 'far']);
        foreach ($ports as $port) {
            $jobs->change('routerPorts', $port, 'multicast', true);
        }

        return $jobs;
    }

    private const ALL = ['r1-s1', 'r1-mid', 'r2-mid', 'r2-s2'];

    /** @return iterable<string, array{Jobs, non-empty-string, non-empty-string, int}> near, far, how many things to mind */
    public static function ways(): iterable
    {
        yield 'no router routes groups' => [self::job('239.192.1.1', 64), 'arrives', 'not: No router routes groups', 0];
        yield 'routed all the way' => [self::job('239.192.1.1', 3, [], self::ALL), 'arrives', 'arrives', 0];
        yield 'the time to live ends on the way' => [
            self::job('239.192.1.1', 2, [], self::ALL),
            'arrives',
            'not: ENC sends with a time to live of 2',
            0,
        ];
        yield 'one interface does not' => [
            self::job('239.192.1.1', 64, [], ['r1-s1', 'r1-mid', 'r2-s2']),
            'arrives',
            'not: No router routes groups',
            0,
        ];
        yield 'a group of the wire' => [self::job('224.0.0.100', 64, [], self::ALL), 'arrives', 'not: 224.0.0.100 never leaves', 0];
        yield 'watched, and nobody asks, at the sender' => [
            self::job('239.192.1.1', 64, ['s1' => ['snooping' => 'yes', 'querier' => 'no']], self::ALL),
            'goes-dark: S1',
            'goes-dark: S1',
            0,
        ];
        yield 'watched, and asked' => [
            self::job('239.192.1.1', 64, ['s1' => ['snooping' => 'yes', 'querier' => 'yes']], self::ALL),
            'arrives',
            'arrives',
            0,
        ];
        yield 'nobody watches, by radio' => [
            self::job('239.192.1.1', 64, ['s2' => ['snooping' => 'no', 'wireless' => true]], self::ALL),
            'arrives',
            'arrives',
            2,
        ];
    }

    /**
     * @param non-empty-string $near
     * @param non-empty-string $far
     */
    #[DataProvider('ways')]
    public function testWhetherItArrives(Jobs $jobs, string $near, string $far, int $mind): void
    {
        $plan = $jobs->plan();
        $group = MulticastGroup::all($plan)[0];
        foreach (['near' => $near, 'far' => $far] as $key => $expected) {
            $delivery = Delivery::of($plan, $group, $plan->devices[$key]);
            self::assertStringStartsWith($expected, $delivery->verdict.(str_contains($expected, ':') ? ': '.$delivery->why : ''));
        }
        self::assertCount($mind, Delivery::of($plan, $group, $plan->devices['far'])->mind);
        $codes = array_map(static fn (Finding $one): string => $one->code, Findings::of($plan, ShippedRules::all())->all);
        self::assertSame(str_starts_with($far, 'not'), \in_array('group-not-heard', $codes, true));
        self::assertSame(str_starts_with($far, 'goes-dark'), \in_array('group-goes-dark', $codes, true));
    }

    public function testGroupsThatAreOneToASwitchAreFoundAndParted(): void
    {
        $jobs = self::job('239.200.1.1', 64)->row('groups', ['key' => 'h', 'name' => 'Hall', 'address' => '239.72.1.1', 'sender' => 'enc'])
            ->row('groups', ['key' => 'i', 'name' => 'Foyer', 'address' => '239.128.0.251', 'sender' => 'enc']);
        $plan = $jobs->plan();
        $found = array_values(array_filter(
            Findings::of($plan, ShippedRules::all())->all,
            static fn (Finding $one): bool => 'groups-share-a-mac' === $one->code,
        ));
        self::assertCount(2, $found);
        self::assertStringContainsString('01:00:5E:48:01:01', (string) $found[0]->what);
        self::assertSame('224.0.0.251', $found[1]->what->with['twin']);
        foreach ($found as $one) {
            self::assertSame('239.192.1.1', $one->cure?->edits[0]->after);
        }
        $plan = $plan->with($found[0]->cure ?? self::fail('another group can be given'));
        self::assertNotContains($found[0]->key(), array_map(
            static fn (Finding $one): string => $one->key(),
            Findings::of($plan, ShippedRules::all())->all,
        ));
    }

    public function testTheNextFreeGroupHasAMacOfItsOwn(): void
    {
        self::assertSame('239.192.1.1', (string) FreeGroup::next((new Jobs())->plan()));
        // 239.64.1.1 is another group with the same MAC as 239.192.1.1.
        $plan = (new Jobs())->row('groups', ['key' => 'g', 'name' => 'x', 'address' => '239.64.1.1'])->plan();
        self::assertSame('239.192.1.2', (string) FreeGroup::next($plan));
    }
}
