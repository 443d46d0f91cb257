<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Verdict;

/** Observations of the tests from one segment to the devices of another: on site, and in rehearsal only. */
final readonly class Seen
{
    private function __construct(public int $tests, public int $held, public int $failed, public int $rehearsed)
    {
    }

    /** @return array<string, self> "from>to" → observations there; no entry without a test */
    public static function of(Proof $proof, Plan $plan): array
    {
        $seen = [];
        foreach ($proof->results as $result) {
            $to = ($plan->devices[$result->test->to] ?? null)?->nic()?->segment;
            $from = OutpostKey::segment($result->test->from);
            if (null === $to || null === $from) {
                continue;
            }
            $pair = $from.'>'.$to;
            $before = $seen[$pair] ?? new self(0, 0, 0, 0);
            $seen[$pair] = new self(
                $before->tests + 1,
                $before->held + (int) (Verdict::Passed === $result->verdict),
                $before->failed + (int) (Verdict::Failed === $result->verdict),
                $before->rehearsed + (int) ($result->isOnlyRehearsed() && $result->isRehearsed()),
            );
        }

        return $seen;
    }

    /** Hundredths of the tests that are as planned on site. */
    public function share(): int
    {
        return intdiv(100 * $this->held, $this->tests);
    }

    /** No result from the site yet, but one from the lab. */
    public function isOnlyRehearsed(): bool
    {
        return 0 === $this->held + $this->failed && $this->rehearsed > 0;
    }
}
