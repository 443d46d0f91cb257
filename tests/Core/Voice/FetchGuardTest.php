<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Voice\FetchGuard;
use Vorhut\Tests\Support\Jobs;

final class FetchGuardTest extends TestCase
{
    public function testWithoutAWordFromAnyNetworkOfTheJobAndElseFromWhereTheSegmentSays(): void
    {
        /** @param list<string> $from */
        $guard = static function (array $from): FetchGuard {
            $plan = (new Jobs())->segment('a', '10.64.10.0/24')->segment('v', '10.64.20.0/24', null, ['fetchFrom' => array_values($from)])
                ->phone('ph', 'v', '10.64.20.31', '2101')->plan();

            return FetchGuard::of($plan, $plan->devices['ph']);
        };
        $lets = static fn (FetchGuard $one): array => array_map(
            static fn (string $from): bool => $one->lets(Ipv4::fromString($from)),
            ['10.64.20.0', '10.64.10.255', '10.64.11.0', '192.0.2.6', '192.0.2.7', '192.0.2.9', '192.0.2.10'],
        );
        self::assertSame([true, true, false, false, false, false, false], $lets($guard([])));
        $said = $guard(['192.0.2.7-192.0.2.9']);
        self::assertSame([false, false, false, false, true, true, false], $lets($said));
        self::assertNull($said->until(100, 200), 'for ever');
    }

    public function testTheWindowBeginsWithTheFirstFetch(): void
    {
        $jobs = (new Jobs())->segment('v', '10.64.20.0/24')->phone('ph', 'v', '10.64.20.31', '2101');
        $jobs->job['fetchMinutes'] = 10;
        foreach (['unpack' => '2026-03-09T10:20:00Z', 'hook-up' => '2026-03-09T09:00:00Z'] as $step => $at) {
            $jobs->row('marks', [
                'key' => 'ph.'.$step, 'device' => 'ph', 'step' => $step, 'state' => 'done', 'at' => $at, 'by' => 'Jo',
            ]);
        }
        $plan = $jobs->plan();
        $guard = FetchGuard::of($plan, $plan->devices['ph']);
        self::assertSame([700, 1600], [$guard->until(100, 1000), $guard->until(null, 1000)]);
        self::assertSame('2026-03-09T10:20:00Z', $guard->worked, 'when somebody last worked on it');
    }
}
