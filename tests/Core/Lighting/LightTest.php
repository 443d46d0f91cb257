<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Lighting;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Lighting\LookSpan;
use Vorhut\Core\Lighting\LookTimeline;
use Vorhut\Core\Lighting\Patch;
use Vorhut\Core\Lighting\Universe;
use Vorhut\Core\Net\Malformed;
use Vorhut\Tests\Support\Facts;
use Vorhut\Tests\Support\Jobs;

/** Light: universes on the network, slots in a universe, and which look is on when. */
final class LightTest extends TestCase
{
    public function testGroupsAndRatesOfTheStandard(): void
    {
        self::assertSame('239.255.0.1', (string) Universe::tryOf(1)?->group());
        self::assertSame('239.255.1.0', (string) Universe::tryOf(256)?->group());
        self::assertSame('239.255.249.255', (string) Universe::tryOf(63999)?->group());
        self::assertSame([null, null], [Universe::tryOf(0), Universe::tryOf(64000)]);
        self::assertSame(0.248, round(Universe::mbps(1), 3));
    }

    /**
     * A desk, a node, a scene store with a panel, and fixtures.
     *
     * @param array<string, array{int, int}> $fixtures key → start, footprint
     */
    private static function job(array $fixtures, string $sent = '1'): Jobs
    {
        $jobs = (new Jobs())->segment('s', '10.0.0.0/24', '10.0.0.1')
            ->device('desk', 'lighting-console', 's', ['universesSent' => $sent, 'priority' => '120'])
            ->device('node', 'lighting-node', 's', ['universe.1' => '1', 'universe.2' => '2'])
            ->device('store', 'scene-store', 's', ['universe' => '1', 'priority' => '90', 'sceneName.1' => 'House', 'sceneContact.1' => '1',
                'sceneName.2' => 'Work', 'sceneContact.2' => '2', 'contactMode' => 'on while closed'])
            ->device('panel', 'wall-panel', null, ['controls' => 'store', 'keyScene.1' => '2', 'keyScene.2' => '1']);
        foreach ($fixtures as $key => [$start, $footprint]) {
            $jobs->device(
                $key,
                'fixture',
                null,
                ['universe' => '1', 'startAddress' => (string) $start, 'footprint' => (string) $footprint],
            );
        }

        return $jobs;
    }

    public function testAPatch(): void
    {
        $patch = Patch::of(self::job(['c' => [40, 8], 'a' => [1, 8], 'b' => [9, 16]], '1, 3-4')->plan());
        self::assertSame([1, 2, 3, 4], array_keys($patch->universes));
        $one = $patch->universes[1];
        self::assertSame([32, [], []], [$one->usedSlots(), $one->overlaps(), $one->pastTheEnd()]);
        self::assertSame([25, 48, 25], [$one->free(15), $one->free(16), $one->free(1)]);
        self::assertNull($one->free(466));
        self::assertSame(48, $one->free(465), 'to the last slot');
        self::assertSame([['DESK', 120], ['STORE', 90]], array_map(static fn (array $of): array => [$of[0]->tag, $of[1]], $one->senders));
        self::assertSame([['NODE', [1]], ['STORE', []]], array_map(static fn (array $of): array => [$of[0]->tag, $of[1]], $one->receivers));
    }

    /** @return array<string, string> */
    private static function found(Jobs $jobs): array
    {
        return Facts::of(
            $jobs->plan(),
            'patch-overlap',
            'patch-past-the-end',
            'senders-fight',
            'universe-without-sender',
            'universe-without-node',
        );
    }

    public function testFindingsAndTheirCure(): void
    {
        self::assertSame([], self::found(self::job(['a' => [1, 8], 'b' => [9, 8]])));
        $over = self::job(['a' => [1, 8], 'b' => [8, 8], 'c' => [20, 4]]);
        self::assertSame(['patch-overlap' => 'blocks other=A fixture=B from=8 to=8 universe=1'], self::found($over));
        $cure = Findings::of($over->plan(), ShippedRules::all())->find('patch-overlap:devices/a+devices/b')?->cure;
        self::assertNotNull($cure);
        self::assertSame([[1, 8], [20, 23], [24, 31]], array_map(
            static fn ($one): array => [$one->start, $one->end],
            Patch::of($over->plan()->with($cure))->universes[1]->fixtures,
        ), 'where there is room, and nothing else moves');
        self::assertSame(
            ['patch-past-the-end' => 'blocks fixture=A start=510 end=517 universe=1'],
            self::found(self::job(['a' => [510, 8]])),
        );
        self::assertSame(['universe-without-node', 'universe-without-sender'], array_keys(self::found(
            self::job(['a' => [1, 8]])->change('settings', 'devices/a#universe', 'planned', '7'),
        )));
        $desk = self::job(['a' => [1, 8]])->change('settings', 'devices/desk#priority', 'planned', '90');
        self::assertSame([], self::found($desk), 'the store gives way to what comes over the network');
        $two = $desk->device('second', 'lighting-console', 's', ['universesSent' => '1', 'priority' => '90']);
        self::assertSame(['senders-fight' => 'risk senders=DESK, SECOND universe=1 priority=90'], self::found($two));
        $stores = self::job(['a' => [1, 8]])->change('settings', 'devices/desk#priority', 'planned', '80')
            ->device('other', 'scene-store', 's', ['universe' => '1', 'priority' => '90']);
        self::assertSame(['senders-fight' => 'risk senders=OTHER, STORE universe=1 priority=90'], self::found($stores));
    }

    /** @return iterable<string, array{list<string>, list<array{float, string}>}> events → from when which look */
    public static function evenings(): iterable
    {
        yield 'nothing happens' => [[], [[0, 'dark']]];
        yield 'contact over key, network over contact' => [
            ['10 key 2', '20 contact 2 closes', '30 network on', '40 network off', '50 contact 2 opens', '60 key 2'],
            [[0, 'dark'], [10, 'House'], [20, 'Work'], [30, 'network'], [40, 'Work'], [50, 'House'], [60, 'dark']],
        ];
        yield 'the cable of the desk goes before all' => [
            ['5 network on', '10 cable in', '20 cable out', '30 network off'],
            [[0, 'dark'], [5, 'network'], [10, 'desk'], [20, 'network'], [30, 'dark']],
        ];
        yield 'whatever order they are written in' => [['20 key 2', '10 key 1'], [[0, 'dark'], [10, 'Work'], [20, 'House']]];
        yield 'two contacts: the later one, then the one that is left' => [
            ['1 contact 1 closes', '2 contact 2 closes', '3 contact 2 opens'],
            [[0, 'dark'], [1, 'House'], [2, 'Work'], [3, 'House']],
        ];
    }

    /**
     * @param list<string>                $events
     * @param list<array{float|int, string}> $looks
     */
    #[DataProvider('evenings')]
    public function testWhichLookIsOnWhen(array $events, array $looks): void
    {
        $plan = self::job([])->plan();
        self::assertEquals($looks, array_map(
            static fn (LookSpan $one): array => [$one->from, $one->look],
            LookTimeline::of($plan, $plan->devices['store'], $events),
        ));
    }

    /** @return list<string> */
    private static function said(Jobs $jobs, string ...$events): array
    {
        $plan = $jobs->plan();

        return array_map(
            static fn (LookSpan $one): string => (string) $one->why,
            \array_slice(LookTimeline::of($plan, $plan->devices['store'], array_values($events)), 1),
        );
    }

    public function testAHoldStoresOnlyWithTheCableInAndWithoutTheNetwork(): void
    {
        self::assertSame(['Holding key 3 does nothing: the cable of the desk is not in.'], self::said(self::job([]), '1 hold 3'));
        self::assertSame('The look of the desk is stored as scene 3.', self::said(self::job([]), '1 cable in', '2 hold 3')[1]);
        self::assertStringContainsString('only passed on', self::said(self::job([]), '0 network on', '1 cable in', '2 hold 3')[2]);
        self::assertSame('Key 1 does nothing while it is being programmed.', self::said(self::job([]), '1 cable in', '2 key 1')[1]);
        self::assertSame(['No scene is on contact 4.'], self::said(self::job([]), '1 contact 4 closes'));
    }

    public function testModesOfAContact(): void
    {
        $press = ['1 contact 1 closes', '2 contact 1 opens', '3 contact 1 closes'];
        $looks = static function (string $mode) use ($press): array {
            $plan = self::job([])->change('settings', 'devices/store#contactMode', 'planned', $mode)->plan();

            return array_map(
                static fn (LookSpan $one): string => $one->look,
                LookTimeline::of($plan, $plan->devices['store'], [...$press, '9 key 1']),
            );
        };
        self::assertSame(['dark', 'House', 'dark', 'House'], $looks('on while closed'), 'a key stays behind it');
        self::assertSame(['dark', 'House', 'dark', 'Work'], $looks('toggle'), 'and shows when it is gone');
        self::assertSame(['dark', 'House', 'Work'], $looks('hold until switched'), 'held until a key switches');
        self::assertSame(['dark', 'dark', 'dark', 'Work'], $looks('off'), 'said each time that it closes');
    }

    public function testWhatIsNoEventIsRefused(): void
    {
        foreach (['soon', '1 cable on', '1 network in', '1 contact 0 closes', '1 key 12', '-1 key 1', '1 contact 1'] as $event) {
            try {
                self::said(self::job([]), $event);
                self::fail($event);
            } catch (Malformed $e) {
                self::assertStringContainsString($event, (string) $e->message());
            }
        }
    }
}
