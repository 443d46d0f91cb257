<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

/** Which tests are made at the same time: some of one sort, and of the calls that telephones make themselves no two with one telephone. */
final readonly class Waves
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
            $waves = [...$waves, ...('dial' === $what ? self::apart($of, $times * $atOnce) : array_chunk($of, max(1, $times * $atOnce)))];
        }

        return $waves;
    }

    /**
     * A telephone that calls cannot be called, nor say of two calls which is meant.
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
                if (!isset($busy[$n][$test->caller ?? '']) && !isset($busy[$n][$test->called ?? ''])) {
                    $at = $n;
                    break;
                }
            }
            $at ??= \count($waves);
            $waves[$at][] = $test;
            $busy[$at][$test->caller ?? ''] = $busy[$at][$test->called ?? ''] = true;
            $open[$at] = \count($waves[$at]);
            if ($open[$at] >= $atOnce) {
                unset($open[$at]);
            }
        }

        return array_values($waves);
    }
}
