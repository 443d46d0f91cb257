<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Reachability;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Reachability\Flow;
use Vorhut\Core\Network\Reachability\RequiredFirewallRules;
use Vorhut\Core\Network\Reachability\RequiredFlows;
use Vorhut\Core\Network\Reachability\RulesTable;
use Vorhut\Core\Network\Walk\DeadRules;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\EditNotation;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Sample\SampleJob;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

/** The rules that a job needs: with these alone all that is wanted holds, and without any of them something breaks. */
final class RequiredFirewallRulesTest extends TestCase
{
    /** @return iterable<string, array{Plan, bool}> */
    public static function jobs(): iterable
    {
        foreach ([false, true] as $byAddress) {
            $how = $byAddress ? ', by address' : '';
            yield 'the port'.$how => [JobDocument::fromJson(Jobs::demo('port'), Jobs::catalogue())->plan(Jobs::catalogue()), $byAddress];
            foreach ($byAddress ? [3] : [3, 4] as $seed) {
                $chance = new Randomizer(new Mt19937($seed));
                $below = static fn (int $n): int => $chance->getInt(0, $n - 1);
                // More segments than one router has interfaces for: some flows cross two.
                yield "made up $seed$how" => [SampleJob::of(Jobs::catalogue(), 45, 3 === $seed ? 6 : 27, $below, 0), $byAddress];
            }
        }
    }

    #[DataProvider('jobs')]
    public function testWithTheseAloneAllHoldsAndWithoutAnyOfThemSomethingBreaks(Plan $plan, bool $byAddress): void
    {
        $wanted = RequiredFirewallRules::of($plan, $byAddress);
        self::assertGreaterThan(5, \count($wanted->rules));
        self::assertSame(['broken' => [], 'spare' => []], $wanted->proof());

        $with = $plan->with($wanted->change());
        $model = NetworkModel::of($with, Face::Planned);
        foreach (RequiredFlows::of($plan) as $flow) {
            if (!\in_array($flow, array_column($wanted->unreachable, 0), true)) {
                foreach ([$flow->port->number, $flow->last] as $number) {
                    self::assertNotSame('filtered', self::fault($model, $flow, Port::of($flow->port->transport, $number)), $flow->key());
                }
            }
        }
        foreach ($wanted->rules as $i => $rule) {
            $without = $with->with(new Change(new Message(''), [
                Edit::remove('filters', $with->row('filters', \sprintf('wanted-%03d', $i + 1)) ?? self::fail('the rule is in the plan')),
            ]));
            $model = NetworkModel::of($without, Face::Planned);
            $broken = array_filter($rule->flows, static fn (Flow $flow): bool => 'filtered' === self::fault($model, $flow, $flow->port));
            self::assertNotSame([], $broken, 'rule '.($i + 1).' could go');
        }
        self::assertSame([], DeadRules::of(NetworkModel::of($with, Face::Planned)), 'and every one of them is come to');
    }

    private static function fault(NetworkModel $model, Flow $flow, Port $port): ?string
    {
        return $flow->walk($model, $port)->brokenHop()?->fault?->value;
    }

    private static function job(): Jobs
    {
        return (new Jobs())->segment('s1', '10.40.12.0/24', '10.40.12.1')->segment('s2', '10.40.13.0/24', '10.40.13.1')
            ->router('r', ['s1' => '10.40.12.1/24', 's2' => '10.40.13.1/24'], false, true)
            ->device('pbx', 'on-site-pbx', 's2', ['address' => '10.40.13.10'])
            ->phone('p', 's1', '10.40.12.31', '2101')->phone('q', 's1', '10.40.12.32', '2102')
            ->device('c', 'ptz-camera', 's2', ['address' => '10.40.13.40'], ['controlledFrom' => 's1']);
    }

    public function testEachRuleSaysWhatForAndForWhom(): void
    {
        $plan = self::job()->plan();
        $wanted = RequiredFirewallRules::of($plan, true);
        self::assertSame([
            's1>s2 >10.40.13.40 80/tcp',
            's1>s2 >10.40.13.40 554/tcp',
            's1>s2 >10.40.13.40 5678/tcp',
            's1>s2 10.40.12.31-10.40.12.32 10.40.12.254>10.40.13.10 5060/udp',
            's1>s2 10.40.12.31-10.40.12.32 10.40.12.254>10.40.13.10 10.40.13.254 40000-40999/udp',
            's2>s1 10.40.13.10 10.40.13.254>10.40.12.31-10.40.12.32 5060/udp',
            's2>s1 10.40.13.10 10.40.13.254>10.40.12.31-10.40.12.32 10.40.12.254 40000-40999/udp',
        ], array_map(static fn ($rule): string => \sprintf(
            '%s>%s %s>%s %s',
            $rule->from,
            $rule->to,
            implode(' ', $rule->fromAddresses),
            implode(' ', $rule->toAddresses),
            $rule->ports(),
        ), $wanted->rules));
        $first = RulesTable::rows($plan, $wanted)[3];
        self::assertSame('P registers at PBX. Q registers at PBX.', $first['why']);
        self::assertSame('P, PBX, Q', $first['devices']);
        self::assertSame(
            '  40  R: allow udp 5060 from 10.40.12.31-10.40.12.32 10.40.12.254 to 10.40.13.10',
            RulesTable::text($plan, $wanted)[6],
        );
        self::assertNotSame([], $wanted->missing(), 'nothing is let through today');
        self::assertSame([], RequiredFirewallRules::of($plan->with($wanted->change()))->missing());
    }

    public function testWhatNoRuleHelpsIsSaid(): void
    {
        $plan = self::job()->row('settings', ['key' => 'nics/c.lan#gateway', 'planned' => ''])->plan();
        $wanted = RequiredFirewallRules::of($plan);
        $unreachable = $wanted->unreachable;
        self::assertCount(3, $unreachable, 'each service of the camera');
        self::assertStringContainsString('C has no gateway', (string) $unreachable[0][1]);
        [[$reason, $flows]] = $byReason = $wanted->unreachableByReason();
        self::assertSame([1, (string) $unreachable[0][1], array_column($unreachable, 0)], [\count($byReason), (string) $reason, $flows]);
    }

    /**
     * @param array<string, string|int> $facts
     * @param array<string, string>     $phone
     *
     * @return list<string>
     */
    private static function fetches(array $facts, array $phone = []): array
    {
        $jobs = (new Jobs())->segment('s', '10.0.1.0/24', '10.0.1.1')->segment('t', '10.0.2.0/24', '10.0.2.1')
            ->router('r', ['s' => '10.0.1.1/24', 't' => '10.0.2.1/24'])
            ->device('lt', 'laptop', 't', ['address' => '10.0.2.9'])
            ->device('p', 'desk-phone-poe', 's', $phone + ['address' => '10.0.1.9', 'provisioning' => 'vorhut']);
        foreach ($facts as $name => $value) {
            $jobs->fact($name, $value);
        }

        return array_values(array_filter(
            array_map(static fn (Flow $flow): string => $flow->key(), RequiredFlows::of($jobs->plan())),
            static fn (string $key): bool => str_starts_with($key, 'p>lt'),
        ));
    }

    public function testAPhoneFetchesItsFileAtTheLaptopAndOverHttpsWhereTheJobHasACertificate(): void
    {
        $sealed = ['laptop' => 'lt', 'filesHost' => 'files.site.example', 'filesAuthority' => str_repeat('a', 64)];
        self::assertSame(['p>lt 80/tcp 80'], self::fetches(['laptop' => 'lt']));
        self::assertSame(['p>lt 443/tcp 443'], self::fetches($sealed));
        self::assertSame(['p>lt 8443/tcp 8443'], self::fetches($sealed + ['filesPort' => 8443]));
        self::assertSame([], self::fetches([]), 'nobody knows from where');
        $elsewhere = ['provisioning' => 'https://files.voice.example/x'];
        self::assertSame([], self::fetches($sealed, $elsewhere), 'a provider has its file');
    }

    public function testNothingIsAskedForWithinASegment(): void
    {
        self::assertSame([], RequiredFlows::of((new Jobs())->segment('s', '10.40.12.0/24')
            ->device('pbx', 'on-site-pbx', 's', ['address' => '10.40.12.10'])->phone('p', 's', '10.40.12.31', '2101')->plan()));
    }

    /** @return iterable<string, array{list<array<string, scalar|list<mixed>|null>>, list<string>}> */
    public static function dead(): iterable
    {
        $any = ['transport' => 'any', 'action' => 'allow', 'from' => 's1', 'to' => 's2'];
        $web = ['transport' => 'tcp', 'portFirst' => 80, 'portLast' => 90] + $any;
        yield 'behind one that takes all' => [[$any, $web], ['f1']];
        yield 'before it' => [[$web, $any], []];
        yield 'its ports taken by two together' => [
            [['portLast' => 84] + $web, ['portFirst' => 85] + $web, $web],
            ['f2'],
        ];
        yield 'one port left' => [[['portLast' => 83] + $web, ['portFirst' => 85] + $web, $web], []];
        yield 'another transport before it' => [[['transport' => 'udp'] + $web, $web], []];
        yield 'another pair before it' => [[['from' => 's2', 'to' => 's1'] + $any, $web], []];
        yield 'some of its addresses taken' => [[['toAddresses' => ['10.40.13.40']] + $any, $any], []];
        yield 'all of its addresses taken' => [
            [['toAddresses' => ['10.40.13.40-10.40.13.60']] + $any, ['toAddresses' => ['10.40.13.41', '10.40.13.60']] + $web],
            ['f1'],
        ];
        yield 'no interface there' => [[['from' => 's3'] + $any], ['f0']];
        yield 'within a wire' => [[['to' => 's1'] + $any], ['f0']];
    }

    /**
     * @param list<array<string, scalar|list<mixed>|null>> $rules
     * @param list<string>                                 $dead
     */
    #[DataProvider('dead')]
    public function testARuleThatNoPacketComesToIsFound(array $rules, array $dead): void
    {
        $jobs = self::job()->segment('s3', '10.40.14.0/24');
        foreach ($rules as $i => $rule) {
            $jobs->row('filters', $rule + ['key' => 'f'.$i, 'router' => 'r', 'position' => $i + 1]);
        }
        self::assertSame($dead, array_map(
            static fn (FilterRule $rule): string => $rule->key,
            DeadRules::of(NetworkModel::of($jobs->plan(), Face::Planned)),
        ));
    }

    /** @return iterable<string, array{string, string}> what is typed, the edits as JSON or the refusal */
    public static function notations(): iterable
    {
        yield 'a field' => ['devices/r filterDefault=allow', '[["put","devices","r","filterDefault","deny","allow"]]'];
        yield 'several' => ['routerPorts/r-s1 mask=/25 address=10.40.12.2', '[["put","routerPorts","r-s1","mask","/24","/25"],'
            .'["put","routerPorts","r-s1","address","10.40.12.1","10.40.12.2"]]'];
        yield 'a setting by its address' => ['nics/c.lan#gateway set=10.40.13.9',
            '[["put","settings","nics/c.lan#gateway","set",null,"10.40.13.9"]]'];
        yield 'left blank' => ['nics/c.lan#gateway planned=-', '[["put","settings","nics/c.lan#gateway","planned",null,""]]'];
        yield 'with blanks, emptied' => ['segments/s1 name="Hall AV" gateway=', '[["put","segments","s1","name","S1","Hall AV"],'
            .'["put","segments","s1","gateway","10.40.12.1",null]]'];
        yield 'of the job' => ['job domain=port.example', '[["put","job","","domain",null,"port.example"]]'];
        yield 'taken away, with what hangs on it' => ['-segments/s1', '["-"]'];
        yield 'no such record' => ['routes/x via=10.0.0.1', 'There is no "x" in routes.'];
        yield 'no such field' => ['devices/r colour=red', 'devices has no field "colour".'];
        yield 'no such section' => ['planets/x a=b', 'Unknown section "planets".'];
        yield 'nothing said' => ['devices/r', '"devices/r": say what becomes of it, as FIELD=VALUE.'];
        yield 'nobody there' => ['+routes router=R-9 destination=10.0.0.0/8 via=10.40.12.2', 'There is no "R-9" in devices.'];
        yield 'no notation' => ['allow everything', '"allow everything": write RECORD FIELD=VALUE, +SECTION FIELD=VALUE, or -RECORD.'];
        yield 'a bad value' => ['routerPorts/r-s1 mask=255.0.255.0', '255.0.255.0'];
    }

    #[DataProvider('notations')]
    public function testAChangeIsReadFromALine(string $line, string $expected): void
    {
        $plan = self::job()->plan();
        try {
            $edits = EditNotation::read($plan, $line);
        } catch (\Vorhut\Core\Net\Malformed $e) {
            self::assertStringContainsString($expected, (string) $e->message());

            return;
        }
        if ('["-"]' === $expected) {
            $after = $plan->with(new Change(new Message(''), $edits));
            self::assertSame([], array_filter($after->routerPorts, static fn ($port): bool => 's1' === $port->segment));
            self::assertArrayNotHasKey('s1', $after->segments);

            return;
        }
        self::assertSame(json_decode($expected, true), array_map(static fn (Edit $edit): array => [
            $edit->kind->value, $edit->section, $edit->key, $edit->field, $edit->before, $edit->after,
        ], $edits));
    }

    public function testAnAddedRecordGetsAKeyAndItsFields(): void
    {
        $edit = EditNotation::read(self::job()->plan(), '+filters router=R position=5 from=S1 transport=udp portFirst=5060 action=deny')[0];
        self::assertSame(['r', 5, 's1', null, 'udp', 5060, 'deny'], array_map(
            static fn (string $name): mixed => $edit->row[$name] ?? null,
            ['router', 'position', 'from', 'to', 'transport', 'portFirst', 'action'],
        ));
    }
}
