<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Walk;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Plan\Row;
use Vorhut\Tests\Support\Jobs;

/** Rules by place, pair, transport and ports; the answer by state. */
final class FilterTest extends TestCase
{
    /**
     * @param list<array{int, string|null, string|null, string, int|null, int|null, string}> $rules
     */
    private static function job(array $rules, bool $allow = false, ?bool $stateful = null): Jobs
    {
        $jobs = (new Jobs())->segment('s1', '10.40.12.0/24', '10.40.12.1')->segment('s2', '10.40.13.0/24', '10.40.13.1')
            ->router('r', ['s1' => '10.40.12.1/24', 's2' => '10.40.13.1/24'], $allow, $stateful)
            ->device('a', 'room-codec', 's1', ['address' => '10.40.12.20'])->device('b', 'room-codec', 's2', ['address' => '10.40.13.20']);
        foreach ($rules as $i => [$position, $from, $to, $transport, $first, $last, $action]) {
            $jobs->row('filters', [
                'key' => 'f'.$i,
                'router' => 'r',
                'position' => $position,
                'from' => $from,
                'to' => $to,
                'transport' => $transport,
                'portFirst' => $first,
                'portLast' => $last,
                'action' => $action,
            ]);
        }

        return $jobs;
    }

    private static function passes(Jobs $jobs, string $port, string $from = 'a', string $to = 'b'): bool
    {
        return Walker::between(NetworkModel::of($jobs->plan(), Face::Planned), $from, $to, Port::fromString($port))->holds();
    }

    /** @return iterable<string, array{list<array{int, string|null, string|null, string, int|null, int|null, string}>, string, bool}> */
    public static function sameInterface(): iterable
    {
        $deny = static fn (?string $from, ?string $to): array => [[1, $from, $to, 'any', null, null, 'deny']];
        yield 'no rule, allowed by default' => [[], '', true];
        yield 'no rule, denied by default' => [[], 'deny', false];
        yield 'a rule for the pair with itself' => [$deny('s1', 's1'), '', false];
        yield 'a rule from there to any' => [$deny('s1', null), '', false];
        yield 'a rule for all' => [$deny(null, null), '', false];
        yield 'a rule for another pair' => [$deny('s1', 's2'), '', true];
        yield 'a rule that allows, over the default' => [[[1, 's1', 's1', 'any', null, null, 'allow']], 'deny', true];
    }

    /**
     * The gateway of A sends it on to a second router on the same segment.
     *
     * @param list<array{int, string|null, string|null, string, int|null, int|null, string}> $rules
     */
    #[DataProvider('sameInterface')]
    public function testAPacketThatLeavesByTheInterfaceItArrivedOnIsFilteredToo(array $rules, string $default, bool $holds): void
    {
        $jobs = self::job($rules)->segment('s3', '10.40.14.0/24', '10.40.14.1')
            ->router('other', ['s1' => '10.40.12.2/24', 's3' => '10.40.14.1/24'])
            ->row('routes', ['key' => 'on', 'router' => 'r', 'destination' => '10.40.14.0/24', 'via' => '10.40.12.2'])
            ->device('c', 'room-codec', 's3', ['address' => '10.40.14.20']);
        if ('' !== $default) {
            $jobs->change('devices', 'r', 'filterSameInterface', $default);
        }
        self::assertSame($holds, self::passes($jobs, '80/tcp', 'a', 'c'));
    }

    /** @return iterable<string, array{Jobs, array<string, bool>}> */
    public static function rules(): iterable
    {
        yield 'no rule, default deny' => [self::job([]), ['80/tcp' => false, '5060/udp' => false]];
        yield 'no rule, default allow' => [self::job([], true), ['80/tcp' => true, '5060/udp' => true]];
        yield 'one port' => [
            self::job([[1, 's1', 's2', 'tcp', 80, null, 'allow']]),
            ['80/tcp' => true, '1720/tcp' => false, '5060/udp' => false],
        ];
        yield 'a range of ports' => [
            self::job([[1, 's1', 's2', 'any', 80, 5060, 'allow']]),
            ['80/tcp' => true, '5060/udp' => true, '40000/udp' => false],
        ];
        yield 'one transport' => [self::job([[1, 's1', 's2', 'udp', null, null, 'allow']]), ['5060/udp' => true, '80/tcp' => false]];
        yield 'the other direction' => [self::job([[1, 's2', 's1', 'any', null, null, 'allow']]), ['80/tcp' => false]];
        yield 'any source' => [self::job([[1, null, 's2', 'tcp', null, null, 'allow']]), ['80/tcp' => true, '5060/udp' => false]];
        yield 'any target' => [self::job([[1, 's1', null, 'any', null, null, 'allow']]), ['80/tcp' => true]];
        yield 'the first that matches' => [
            self::job([[2, 's1', 's2', 'any', null, null, 'allow'], [1, 's1', 's2', 'tcp', 80, 80, 'deny']]),
            ['80/tcp' => false, '1720/tcp' => true],
        ];
        yield 'the default of a pair stands last' => [
            self::job([[1, 's1', 's2', 'tcp', 80, 80, 'allow'], [99, 's1', 's2', 'any', null, null, 'deny']], true),
            ['80/tcp' => true, '1720/tcp' => false],
        ];
    }

    /** @param array<string, bool> $expected */
    #[DataProvider('rules')]
    public function testWhatPasses(Jobs $jobs, array $expected): void
    {
        foreach ($expected as $port => $passes) {
            self::assertSame($passes, self::passes($jobs, $port), $port);
        }
    }

    public function testStateIsForAnswersOnly(): void
    {
        $jobs = self::job([[1, 's1', 's2', 'tcp', 80, 80, 'allow']]);

        self::assertTrue(self::passes($jobs, '80/tcp'), 'a router keeps state unless somebody said it does not');
        self::assertFalse(self::passes($jobs, '80/tcp', 'b', 'a'), 'the other side may not begin');
    }

    public function testWithoutStateTheAnswerNeedsARuleOfItsOwn(): void
    {
        $there = [1, 's1', 's2', 'tcp', 80, 80, 'allow'];
        self::assertFalse(self::passes(self::job([$there], false, false), '80/tcp'));
        self::assertTrue(
            self::passes(self::job([$there, [2, 's2', 's1', 'tcp', 49152, 65535, 'allow']], false, false), '80/tcp'),
            'to the ports that are asked from',
        );
        self::assertFalse(self::passes(self::job([$there, [2, 's2', 's1', 'tcp', 80, 80, 'allow']], false, false), '80/tcp'));
    }

    public function testNothingFiltersWithinOneSegment(): void
    {
        $jobs = self::job([[1, null, null, 'any', null, null, 'deny']])->device('c', 'room-codec', 's1', ['address' => '10.40.12.21']);

        self::assertTrue(self::passes($jobs, '80/tcp', 'a', 'c'), 'the router never sees it');
    }

    public function testARuleReadsAsAPersonWritesIt(): void
    {
        $rule = static fn (array $row): string => (string) FilterRule::fromRow(new Row($row + ['key' => 'f', 'router' => 'r']));

        self::assertSame(
            '7 allow s1>any udp 5060',
            $rule(['position' => 7, 'from' => 's1', 'transport' => 'udp', 'portFirst' => 5060, 'action' => 'allow']),
        );
        self::assertSame(
            '9 deny any>s2 any 40000-40999',
            $rule(['position' => 9, 'to' => 's2', 'transport' => 'any', 'portFirst' => 40000, 'portLast' => 40999, 'action' => 'deny']),
        );
    }
}
