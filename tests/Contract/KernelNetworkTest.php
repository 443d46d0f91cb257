<?php

declare(strict_types=1);

namespace Vorhut\Tests\Contract;

use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\KernelNetwork;

/** The walk against a real network: the same job in kernel namespaces, and every host connects to every other. */
final class KernelNetworkTest extends TestCase
{
    private const HOSTS = ['a' => 's0', 'b' => 's1', 'c' => 's2', 'd' => 's0'];
    private const ROUTERS = ['r0' => ['s0', 's1', 'mid'], 'r1' => ['s2', 'mid']];
    private const JOBS = 12;
    /** Enough for a second SYN after a busy moment. */
    private const PATIENCE = 2.2;
    private const LONG_PATIENCE = 20.0;

    public function testTheWalkSaysWhatTheKernelDoes(): void
    {
        $network = KernelNetwork::make(self::ROUTERS, self::HOSTS);
        if (\is_string($network)) {
            self::markTestSkipped($network);
        }
        try {
            $compared = self::compare($network, static function (int $seed) use ($network): array {
                $plan = self::job(new Randomizer(new Mt19937($seed)));
                $network->put($plan);
                $model = NetworkModel::of($plan, Face::Planned);
                $at = [];
                foreach (array_keys(self::HOSTS) as $host) {
                    $at[$host] = [
                        $plan->devices[$host]->nic()?->setting('address')->planned.':80',
                        ...array_map(
                            static fn (array $one): string => $one[0].':'.($one[1]->number ?? 80),
                            $model->otherAddressesOf($host, Port::tcp(80)),
                        ),
                    ];
                }

                return [$model, $at, self::culprit($plan)];
            });
        } finally {
            $network->close();
        }
        self::assertGreaterThan(self::JOBS, $compared['holds'], 'some must hold');
        self::assertGreaterThanOrEqual(7, \count($compared['faults']), implode(', ', array_keys($compared['faults'])));
    }

    public function testItSaysSoOfVersion6Too(): void
    {
        $network = KernelNetwork::make(self::ROUTERS, self::HOSTS);
        if (\is_string($network)) {
            self::markTestSkipped($network);
        }
        try {
            $compared = self::compare($network, static function (int $seed) use ($network): array {
                $plan = self::job6(new Randomizer(new Mt19937($seed)));
                $network->put6($plan);
                $at = [];
                foreach (array_keys(self::HOSTS) as $host) {
                    $at[$host] = ['['.$plan->devices[$host]->nic()?->address6.']:80'];
                }

                return [NetworkModel::ofVersion6($plan, Face::Planned), $at, implode(', ', array_map(
                    static fn (Nic $nic): string => "$nic->device $nic->address6 $nic->network6 by $nic->gateway6",
                    $plan->nics,
                ))];
            });
        } finally {
            $network->close();
        }
        self::assertGreaterThan(self::JOBS, $compared['holds'], 'some must hold');
        self::assertGreaterThanOrEqual(6, \count($compared['faults']), implode(', ', array_keys($compared['faults'])));
    }

    /**
     * @param \Closure(int): array{NetworkModel, array<string, list<string>>, string} $put puts the job of a seed into the kernel: its
     *     model, where each host is asked, and what it was in short
     *
     * @return array{holds: int, faults: array<string, true>} how many walks held, and how the others broke
     */
    private static function compare(KernelNetwork $network, \Closure $put): array
    {
        $faults = [];
        $holds = 0;
        for ($seed = 1; $seed <= (int) (getenv('KERNEL_JOBS') ?: self::JOBS); ++$seed) {
            [$model, $at, $culprit] = $put($seed);
            foreach ($network->answers($at, self::PATIENCE) as $pair => $name) {
                [$from, $to] = explode('>', $pair);
                $walk = Walker::between($model, $from, $to, Port::tcp(80));
                if ($walk->holds() && '' === $name) {
                    // On a busy machine an answer may be late; one that cannot come does not come later either.
                    $name = $network->answers($at, self::LONG_PATIENCE)[$pair];
                }
                self::assertSame(
                    $walk->holds(),
                    $name === $to,
                    "seed $seed, $pair: ".($walk->brokenHop()->text ?? 'the walk holds').' The kernel: '
                        .('' === $name ? 'no answer' : $name).'. '.$culprit,
                );
                if ($walk->holds()) {
                    ++$holds;
                } else {
                    $faults[$walk->brokenHop()->fault->value ?? ''] = true;
                }
            }
        }

        return ['holds' => $holds, 'faults' => $faults];
    }

    private static function job6(Randomizer $random): Plan
    {
        $one = static fn (int $in): bool => 1 === $random->getInt(1, $in);
        $jobs = (new Jobs())->segment('mid', '10.40.99.0/29');
        foreach ([0, 1, 2] as $s) {
            $jobs->segment('s'.$s, "10.40.$s.0/24", "10.40.$s.1");
        }
        $jobs->router('r0', ['s0' => '10.40.0.1/24', 's1' => '10.40.1.1/24', 'mid' => '10.40.99.1/29'], !$one(3), !$one(3))
            ->router('r1', ['s2' => '10.40.2.1/24', 'mid' => '10.40.99.2/29'], !$one(4), !$one(4));
        foreach (['r0-s0' => '0::1', 'r0-s1' => '1::1', 'r0-mid' => '99::1', 'r1-s2' => '2::1', 'r1-mid' => '99::2'] as $port => $at) {
            if (!$one(12)) {
                $jobs->change('routerPorts', $port, 'address6', "2001:db8:40:$at/64");
            }
            $jobs->change('routerPorts', $port, 'local6', 'fe80::1');
        }
        foreach ([['r0', '2001:db8:40:2::/64', '2001:db8:40:99::2'], ['r1', '2001:db8:40::/61', '2001:db8:40:99::1']] as $n => $route) {
            $via = [null, '2001:db8:40:99::5', $route[2]][min(2, $random->getInt(0, 7))];
            if (null !== $via) {
                $jobs->row('routes6', [
                    'key' => 'w'.$n, 'router' => $route[0], 'destination' => $route[1], 'via' => $via,
                ]);
            }
        }
        foreach (range(1, $random->getInt(1, 3)) as $n) {
            $jobs->row('filters', [
                'key' => 'f'.$n, 'router' => $one(3) ? 'r1' : 'r0', 'position' => $n,
                'from' => $one(3) ? null : 's'.$random->getInt(0, 2), 'to' => $one(3) ? null : 's'.$random->getInt(0, 2),
                'transport' => $one(3) ? 'udp' : 'tcp', 'action' => $one(2) ? 'allow' : 'deny',
                // A rule for addresses of IPv4 says nothing of these.
                'fromAddresses' => $one(5) ? ['10.40.0.0-10.40.2.255'] : null,
            ]);
        }
        $taken = [];
        foreach (self::HOSTS as $host => $segment) {
            $jobs->device($host, 'ptz-camera', $segment);
            do {
                $address = '2001:db8:40:'.($one(9) ? $random->getInt(0, 2) : substr($segment, 1)).'::'.dechex($random->getInt(0x10, 0x1F));
            } while (isset($taken[$address]));
            $taken[$address] = true;
            $net = '2001:db8:40:'.substr($segment, 1).'::';
            $gateway = $one(3) ? [
                null,
                $net.'9',
                '2001:db8:40:7::1',
                'fe80::9',
                $net,
            ][$random->getInt(0, 4)] : [$net.'1', 'fe80::1'][$random->getInt(0, 1)];
            $jobs->change('nics', $host.'.lan', 'address6', $address.($one(4) ? ['/48', '/62', '/124'][$random->getInt(0, 2)] : '/64'));
            if (null !== $gateway) {
                $jobs->change('nics', $host.'.lan', 'gateway6', $gateway);
            }
        }

        return $jobs->plan();
    }

    private static function job(Randomizer $random): Plan
    {
        $one = static fn (int $in): bool => 1 === $random->getInt(1, $in);
        $jobs = (new Jobs())->segment('mid', '10.40.99.0/29');
        foreach ([0, 1, 2] as $s) {
            $jobs->segment('s'.$s, "10.40.$s.0/24", "10.40.$s.1");
        }
        $jobs->router(
            'r0',
            ['s0' => '10.40.0.1/24', 's1' => '10.40.1.1/24', 'mid' => '10.40.99.1/29'],
            $random->getInt(1, 3) > 1,
            $random->getInt(1, 3) > 1,
        )
            ->router('r1', ['s2' => '10.40.2.1/24', 'mid' => '10.40.99.2/29'], $random->getInt(1, 4) > 1, $random->getInt(1, 4) > 1);
        foreach (['r0', 'r1'] as $router) {
            if ($one(4)) {
                $jobs->change('devices', $router, 'filterSameInterface', 'deny');
            }
        }
        if (!$one(6)) {
            $jobs->row('routes', [
                'key' => 'there',
                'router' => 'r0',
                'destination' => '10.40.2.0/24',
                'via' => $random->getInt(1, 6) > 1 ? '10.40.99.2' : '10.40.99.5',
            ]);
        }
        if (!$one(6)) {
            $jobs->row('routes', ['key' => 'back', 'router' => 'r1', 'destination' => '10.40.0.0/16', 'via' => '10.40.99.1']);
        }
        foreach (range(1, $random->getInt(1, 4)) as $n) {
            $port = $one(2) ? 80 : null;
            $jobs->row('filters', [
                'key' => 'f'.$n, 'router' => $one(3) ? 'r1' : 'r0', 'position' => $n,
                'from' => $one(3) ? null : 's'.$random->getInt(0, 2), 'to' => $one(3) ? null : 's'.$random->getInt(0, 2),
                'transport' => null === $port
                    ? ['any', 'udp', 'tcp'][$random->getInt(0, 2)]
                    : 'tcp', 'portFirst' => $port, 'portLast' => $port,
                'action' => $one(2) ? 'allow' : 'deny',
                'fromAddresses' => $one(4) ? ['10.40.'.$random->getInt(0, 2).'.'.[0, 16, 64][$random->getInt(0, 2)].'-127'] : null,
                'toAddresses' => $one(4) ? ['10.40.'.$random->getInt(0, 2).'.0-'.[16, 31, 127, 200][$random->getInt(0, 3)]] : null,
            ]);
        }
        $held = [];
        $taken = ['10.40.0.1' => true, '10.40.1.1' => true, '10.40.2.1' => true];
        foreach (self::HOSTS as $host => $segment) {
            $net = '10.40.'.substr($segment, 1);
            do {
                $address = ($one(9) ? '10.40.'.$random->getInt(0, 2) : $net).'.'.[
                    12,
                    15,
                    16,
                    31,
                    100,
                    127,
                    128,
                    200,
                ][$random->getInt(0, 7)];
                $mask = $one(3) ? ['/22', '/16', '/25', '/28'][$random->getInt(0, 3)] : '/24';
                // One address twice, or a host on the edge of its own network, is nothing a kernel has one answer to.
                $network = Network::around(Ipv4::fromString($address), Mask::fromString($mask));
            } while (isset($taken[$address]) || $network->isEdge(Ipv4::fromString($address)));
            $taken[$address] = true;
            $gateway = $one(3) ? ['', $net.'.9', '10.40.7.1', $address, $net.'.100'][$random->getInt(0, 4)] : $net.'.1';
            $jobs->device($host, 'ptz-camera', $segment, ['address' => $address, 'mask' => $mask, 'gateway' => $gateway]);
            $held[$host] = $address;
            if ($one(5)) {
                $jobs->also($host, '10.40.'.$random->getInt(0, 2).'.'.(40 + \count($taken)).['/24', '/26'][$random->getInt(0, 1)]);
            }
        }
        self::translations($jobs, $random, $held);
        foreach (['r0-s0', 'r0-s1', 'r0-mid', 'r1-s2', 'r1-mid'] as $port) {
            if ($one(5)) {
                $jobs->change('routerPorts', $port, 'proxyArp', true);
            }
        }

        return $jobs->plan();
    }

    /** @param array<string, string> $held */
    private static function translations(Jobs $jobs, Randomizer $random, array $held): void
    {
        $places = [['r0', 'mid', '10.40.99.1'], ['r1', 'mid', '10.40.99.2'], ['r0', 's1', '10.40.1.1']];
        foreach ($places as $n => [$router, $outside, $own]) {
            if ($random->getInt(1, 3) > 1) {
                continue;
            }
            $what = ['source', 'forward', 'static'][$random->getInt(0, 2)];
            $free = preg_replace('/[0-9]+$/', 'mid' === $outside ? (string) (3 + $n) : '77', $own);
            $jobs->row('translations', [
                'key' => 't'.$n,
                'router' => $router,
                'outside' => $outside,
                'what' => $what,
                'position' => $n + 1,
                'address' => 'static' === $what || 1 === $random->getInt(1, 2) ? $free : null,
                'inside' => 'source' === $what && 1 === $random->getInt(1, 2)
                    ? null
                    : array_values($held)[$random->getInt(0, \count($held) - 1)],
                'transport' => 'tcp',
                'portFirst' => 'forward' === $what ? [80, 8080][$random->getInt(0, 1)] : null,
                'insidePort' => 'forward' === $what ? 80 : null,
            ]);
        }
    }

    private static function culprit(Plan $plan): string
    {
        $culprit = [];
        foreach (array_keys(self::HOSTS) as $host) {
            $nic = $plan->devices[$host]->nic();
            $culprit[] = $host.' '.$nic
                ?->setting('address')->planned.$nic
                ?->setting('mask')->planned.' by '.$nic
                ?->setting('gateway')->planned;
        }

        return implode(', ', $culprit).'; '.implode(', ', array_map(strval(...), $plan->filters));
    }
}
