<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Proof\ProofTest;

/** Which tests are made at the same time: some of one sort, and of calls no two with one telephone. */
final readonly class TestBatches
{
    /** How many tests of a sort run at a time: calls are heard, so few. */
    private const AT_ONCE = [
        'reach' => 8, 'discover' => 4, 'stream' => 4, 'push' => 4, 'heard' => 8, 'clock' => 4, 'light' => 4,
        'radius' => 2, 'register' => 4, 'call' => 3, 'dial' => 4, 'ask' => 2,
    ];

    /**
     * @param array<ProofTest> $tests
     * @param int              $times where there is more room than a site gives: so many times as many
     *
     * @return list<non-empty-list<ProofTest>> one after the other; tests of a sort that nobody can make are left out
     */
    public static function of(array $tests, int $times = 1): array
    {
        $waves = [];
        foreach (self::AT_ONCE as $what => $atOnce) {
            $of = array_values(array_filter($tests, static fn (ProofTest $test): bool => $test->what === $what));
            $waves = [...$waves, ...(\in_array($what, ['call', 'dial'], true)
                ? self::apart($of, max(1, $times * $atOnce))
                : array_chunk($of, max(1, $times * $atOnce)))];
        }

        return $waves;
    }

    /**
     * A telephone that calls cannot be called, nor say of two calls which is meant; who is called twice at once is busy.
     *
     * @param list<ProofTest> $tests
     *
     * @return list<non-empty-list<ProofTest>>
     */
    private static function apart(array $tests, int $atOnce): array
    {
        $waves = $busy = $open = [];
        foreach ($tests as $test) {
            $at = null;
            foreach ($open as $n => $count) {
                if ([] === array_intersect_key($busy[$n], self::parties($test))) {
                    $at = $n;
                    break;
                }
            }
            $at ??= \count($waves);
            $waves[$at][] = $test;
            $busy[$at] = self::parties($test) + ($busy[$at] ?? []);
            $open[$at] = \count($waves[$at]);
            if ($open[$at] >= $atOnce) {
                unset($open[$at]);
            }
        }

        return array_values($waves);
    }

    /** @return array<array-key, true> who can be in no other call meanwhile: an outpost is not the phone whose account it calls with */
    private static function parties(ProofTest $test): array
    {
        return 'dial' === $test->what
            ? [($test->caller ?? '') => true, ($test->called ?? '') => true]
            : [($test->called ?? 'devices/'.$test->to) => true];
    }
}
