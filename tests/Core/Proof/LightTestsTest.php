<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Proof;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Tests\Support\Jobs;

/** A universe is listened to on every wire where somebody gives it out. */
final class LightTestsTest extends TestCase
{
    private static function job(string $second = '90', string $at = 's'): Jobs
    {
        return (new Jobs())->segment('s', '10.0.0.0/24', '10.0.0.1')->segment('t', '10.0.1.0/24', '10.0.1.1')
            ->router('r', ['s' => '10.0.0.1/24', 't' => '10.0.1.1/24'])
            ->device('desk', 'lighting-console', 's', ['address' => '10.0.0.11', 'universesSent' => '3', 'priority' => '120'])
            ->device('other', 'lighting-console', $at, ['address' => 's' === $at ? '10.0.0.12' : '10.0.1.12', 'universesSent' => '3']
                + ['priority' => $second])
            ->device('n1', 'lighting-node', 's', ['address' => '10.0.0.21', 'universe.1' => '3'])
            ->device('n2', 'lighting-node', 's', ['address' => '10.0.0.22', 'universe.1' => '3', 'universe.2' => '4']);
    }

    /** @return array<string, ProofTest> */
    private static function tests(Jobs $jobs): array
    {
        $tests = [];
        foreach (TestPlan::of($jobs->plan())->tests as $test) {
            if (TestKind::Light === $test->kind) {
                $tests[$test->key] = $test;
            }
        }

        return $tests;
    }

    public function testOnEveryWireOnceForWhoCountsMost(): void
    {
        $tests = self::tests(self::job());
        self::assertSame(['light:3:s'], array_keys($tests), 'a universe that nobody sends is listened to nowhere');
        $test = $tests['light:3:s'];
        self::assertSame('Universe 3 is heard on S from DESK, with priority 120', (string) $test->title);
        self::assertSame([Outcome::Heard, 'outposts/s', 'desk', '5568/udp', '3'], [
            $test->expectedOutcome(), $test->from, $test->to, (string) $test->port, $test->called,
        ]);
        self::assertContains('devices/other:priority=90', $test->facts()->texts(), 'and whoever else sends is what it stands on');
    }

    public function testTwoThatCountTheSameAreForeseenToFight(): void
    {
        $test = self::tests(self::job('120'))['light:3:s'];
        self::assertSame(Outcome::OtherHeard, $test->expectedOutcome());
        self::assertStringContainsString('DESK, OTHER send it with the same priority 120', (string) $test->because());
    }

    public function testAcrossARouterOnlyWhoIsThereIsHeard(): void
    {
        $jobs = self::job('150', 't');
        $test = self::tests($jobs)['light:3:s'];
        self::assertSame(['other', Outcome::OtherHeard], [$test->to, $test->expectedOutcome()]);
        self::assertStringContainsString('DESK is heard there, and the one that counts more is not', (string) $test->because());
        $alone = self::tests($jobs->change('settings', 'devices/desk#universesSent', 'planned', '9'))['light:3:s'];
        self::assertSame(Outcome::Silent, $alone->expectedOutcome());
        self::assertStringContainsString('No router routes groups from T to S', (string) $alone->because());
    }
}
