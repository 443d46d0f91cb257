<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** How many calls between phones are planned, and how few could do: each calls and is called once, each pair of segments is crossed. */
final readonly class CallCover
{
    /**
     * @param int $phones   that call and are called
     * @param int $segments they stand on
     * @param int $planned  calls
     * @param int $least    no plan has fewer
     */
    private function __construct(public int $phones, public int $segments, public int $planned, public int $least)
    {
    }

    /** @param list<ProofTest> $tests of a plan */
    public static function of(Plan $plan, array $tests): self
    {
        $calls = array_filter(
            $tests,
            static fn (ProofTest $test): bool => 'dial' !== $test->what && null !== $test->caller && null !== $test->called,
        );
        $callers = [];
        foreach ($calls as $test) {
            $callers[$test->caller ?? ''] = true;
        }
        $by = [];
        foreach (array_keys($callers) as $number) {
            $phone = $plan->devices[$plan->extensionNumbered((string) $number)->phone ?? ''] ?? null;
            $by[$phone?->nic()->segment ?? ''] = 1 + ($by[$phone?->nic()->segment ?? ''] ?? 0);
        }
        // The phones of a segment make one call each, and together one to each other segment: whichever is more.
        $least = array_sum(array_map(static fn (int $n): int => max($n, \count($by) - 1), $by));

        return new self(\count($callers), \count($by), \count($calls), $least);
    }

    public function said(): Message
    {
        $at = ['n' => $this->planned, 'phones' => $this->phones, 'segments' => $this->segments, 'least' => $this->least];

        return 0 === $this->planned
            ? new Message('No call between phones is planned yet: it takes two that have a number.')
            : new Message(
                '{n} calls: each of {phones} phones calls once and is called once, each pair of {segments} segments is crossed. '
                    .'No plan has fewer than {least}.',
                $at,
            );
    }
}
