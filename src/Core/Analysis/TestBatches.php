<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;

/** Which tests are made at the same time: some of one sort, and of calls no two with one telephone. */
final readonly class TestBatches
{
    /**
     * @param array<ProofTest> $tests
     * @param int              $times where there is more room than a site gives: so many times as many
     *
     * @return list<non-empty-list<ProofTest>> one after the other; in the order of their kinds
     */
    public static function of(array $tests, int $times = 1): array
    {
        $batches = [];
        foreach (TestKind::cases() as $kind) {
            $of = array_values(array_filter($tests, static fn (ProofTest $test): bool => $test->kind === $kind));
            $atOnce = max(1, $times * $kind->atOnce());
            array_push($batches, ...($kind->occupiesPhones() ? self::apart($of, $atOnce) : array_chunk($of, $atOnce)));
        }

        return $batches;
    }

    /**
     * A phone that makes a call cannot be called, and cannot tell two calls apart; one that is called twice at once is busy.
     *
     * @param list<ProofTest> $tests
     *
     * @return list<non-empty-list<ProofTest>>
     */
    private static function apart(array $tests, int $atOnce): array
    {
        $batches = $busy = $open = [];
        foreach ($tests as $test) {
            $at = null;
            foreach ($open as $n => $count) {
                if ([] === array_intersect_key($busy[$n], self::parties($test))) {
                    $at = $n;
                    break;
                }
            }
            $at ??= \count($batches);
            $batches[$at][] = $test;
            $busy[$at] = self::parties($test) + ($busy[$at] ?? []);
            $open[$at] = \count($batches[$at]);
            if ($open[$at] >= $atOnce) {
                unset($open[$at]);
            }
        }

        return array_values($batches);
    }

    /** @return array<array-key, true> who can be in no other call meanwhile: an outpost is not the phone whose account it calls with */
    private static function parties(ProofTest $test): array
    {
        return TestKind::Dial === $test->kind
            ? [($test->caller ?? '') => true, ($test->called ?? '') => true]
            : [($test->called ?? 'devices/'.$test->to) => true];
    }
}
