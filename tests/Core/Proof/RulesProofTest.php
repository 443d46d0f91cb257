<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Proof;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Vorhut\Core\Analysis\RulesProof;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Network\Reachability\Flow;
use Vorhut\Core\Network\Reachability\RequiredFirewallRule;
use Vorhut\Core\Network\Reachability\RequiredFirewallRules;
use Vorhut\Core\Network\Reachability\RequiredFlows;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Sample\SampleJob;
use Vorhut\Tests\Core\Voice\SwitchingTest;
use Vorhut\Tests\Support\Jobs;

/** In any job, the rules that it needs alone let every required flow and every required test pass. */
final class RulesProofTest extends TestCase
{
    /** @return iterable<string, array{Plan, bool}> */
    public static function jobs(): iterable
    {
        foreach ([false, true] as $byAddress) {
            $how = $byAddress ? ', by address' : '';
            foreach (['port', 'museum'] as $demo) {
                yield $demo.$how => [JobDocument::fromJson(Jobs::demo($demo), Jobs::catalogue())->plan(Jobs::catalogue()), $byAddress];
            }
            yield 'trunks'.$how => [SwitchingTest::job()->plan(), $byAddress];
            foreach ([1, 2, 3] as $seed) {
                $chance = new Randomizer(new Xoshiro256StarStar(40 + $seed));
                $below = static fn (int $n): int => $chance->getInt(0, $n - 1);
                yield "made up $seed$how" => [SampleJob::of(Jobs::catalogue(), 40 * $seed, 3 + 3 * $seed, $below), $byAddress];
            }
        }
    }

    #[DataProvider('jobs')]
    public function testTheRulesThatAJobNeedsLetItsTestsPass(Plan $plan, bool $byAddress): void
    {
        $proof = RulesProof::of($plan, RequiredFirewallRules::of($plan, $byAddress));
        self::assertGreaterThan(4, $proof->tests);
        self::assertSame([[], [], []], [
            array_map(static fn (Flow $one): string => $one->key(), $proof->brokenFlows),
            array_map(static fn (ProofTest $one): string => $one->key.' '.$one->because(), $proof->brokenTests),
            $proof->redundant,
        ]);
    }

    public function testSoundOfATrunkIsLetInWhereItIsLedOn(): void
    {
        $rules = static fn (Jobs $jobs): array => array_map(
            static fn (RequiredFirewallRule $one): string => "$one->from>$one->to ".implode(' ', $one->toAddresses).' '.$one->ports(),
            RequiredFirewallRules::of($jobs->plan())->rules,
        );
        // Signalling lies within the ports of sound.
        $out = ['v>up 198.51.100.20 1024-65535/udp', 'v>up 198.51.100.40 1024-65535/udp'];
        self::assertSame($out, $rules(SwitchingTest::job()), 'without a translation nothing comes in');
        $forward = SwitchingTest::job()->row('translations', ['key' => 'm', 'router' => 'r', 'outside' => 'up', 'what' => 'forward',
            'position' => 2, 'inside' => '10.64.20.10', 'transport' => 'udp', 'portFirst' => 40000, 'portLast' => 40099]);
        self::assertSame(['up>v  40000-40099/udp', 'up>v  40000-40099/udp', ...$out], $rules($forward));
    }

    public function testWhatAJobNeedsOutsideItsSegments(): void
    {
        $jobs = SwitchingTest::job()->change('trunks', 't2', 'registers', false)
            ->segment('far', '10.64.21.0/24', '10.64.21.1')
            ->row('routerPorts', ['key' => 'r-far', 'router' => 'r', 'segment' => 'far', 'address' => '10.64.21.1', 'mask' => '/24'])
            ->device('enc', 'streaming-encoder', 'far', [
                'address' => '10.64.21.20', 'pushProtocol' => 'RTMP', 'pushUrl' => 'rtmp://192.0.2.80/live',
            ])
            ->device('src', 'streaming-encoder', 'far', [
                'address' => '10.64.21.21', 'pushProtocol' => 'SRT', 'pushUrl' => 'srt://10.64.20.60:9000',
            ])
            ->device('wait', 'streaming-encoder', 'far', [
                'address' => '10.64.21.22', 'pushProtocol' => 'SRT', 'pushUrl' => 'srt://:9000?mode=listener',
            ])
            ->device('pc', 'production-computer', 'v', ['address' => '10.64.20.60'])
            ->device('c1', 'room-codec', 'v', ['address' => '10.64.20.61'])->device('c2', 'room-codec', 'far', ['address' => '10.64.21.61'])
            ->device('fx2', 'fax-server', 'far', ['address' => '10.64.21.11'])
            ->row('trunks', ['key' => 'tf2', 'name' => 'Fax 2', 'pbx' => 'pbx', 'far' => 'fx2'])
            ->row('streams', ['key' => 's', 'name' => 'S', 'sender' => 'enc', 'transport' => 'RTP', 'cast' => 'unicast', 'port' => 6000])
            ->row('deliveries', ['key' => 'd', 'stream' => 's', 'device' => 'pc']);
        $jobs->job['dns'] = '192.0.2.53';
        $plan = $jobs->plan();
        $flows = array_map(
            static fn (Flow $one): string => "$one->from>$one->to".(null === $one->outside ? '' : " $one->outside")." $one->port",
            array_filter(RequiredFlows::of($plan), static fn (Flow $one): bool => !$one->isTest),
        );
        foreach ([
            'pbx>outside 198.51.100.20 5060/udp', 'pbx>outside 198.51.100.20 1024/udp', 'outside>pbx 198.51.100.20 40000/udp',
            'outside>pbx 198.51.100.40 5060/udp', 'pbx>fx2 5060/udp', 'fx2>pbx 5060/udp',
            'enc>outside 192.0.2.80 1935/tcp', 'src>pc 9000/udp', 'enc>pc 6000/udp',
            'c1>c2 5060/udp', 'c1>c2 1720/tcp', 'c1>c2 40000/udp', 'c2>c1 1720/tcp',
            'c1>outside 192.0.2.53 53/udp',
        ] as $flow) {
            self::assertContains($flow, $flows);
        }
        $waits = array_filter($flows, static fn (string $one): bool => str_starts_with($one, 'wait>') && str_contains($one, ' 9000/'));
        self::assertSame([], array_values($waits), 'who listens has no place to send to');
        self::assertNotContains('outside>pbx 198.51.100.20 5060/udp', $flows, 'who registers keeps the way open');
    }

    public function testEveryPortOfARangeIsTried(): void
    {
        $jobs = SwitchingTest::job()->change('devices', 'r', 'filterDefault', 'deny');
        $rules = RequiredFirewallRules::of($jobs->plan());
        foreach ($rules->rules as $i => $rule) {
            $jobs->row('filters', $rule->row('w'.$i, 10 + $i));
        }
        self::assertSame([], RequiredFirewallRules::of($jobs->plan())->missing());
        $jobs->row('filters', [
            'key' => 'hole', 'router' => 'r', 'position' => 1, 'transport' => 'udp', 'portFirst' => 40050, 'portLast' => 40051,
            'action' => 'deny',
        ]);
        self::assertNotSame([], RequiredFirewallRules::of($jobs->plan())->missing(), 'in the middle of the range');
    }
}
