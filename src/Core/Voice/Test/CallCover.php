<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Test;

use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;

/** How many calls between phones are planned, and how few could do: each calls and is called once, each pair of segments is crossed. */
final readonly class CallCover
{
    /**
     * @param int $phones   that call and are called
     * @param int $segments their segments
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
            static fn (ProofTest $test): bool => TestKind::Dial !== $test->kind && null !== $test->caller && null !== $test->called,
        );
        $callers = [];
        foreach ($calls as $test) {
            $callers[$test->caller ?? ''] = true;
        }
        // Hosted phones call only phones of the same provider.
        $by = $segments = [];
        foreach (array_keys($callers) as $number) {
            $extension = $plan->extensionNumbered((string) $number);
            $phone = $plan->devices[$extension->phone ?? ''] ?? null;
            $registrar = null === $extension ? null : $plan->devices[$plan->accountOf($extension->key)->registrar ?? ''] ?? null;
            $group = true === $registrar?->kind->isHosted() ? $registrar->key : '';
            $segment = $phone?->nic()->segment ?? '';
            $by[$group][$segment] = 1 + ($by[$group][$segment] ?? 0);
            $segments[$segment] = true;
        }
        $least = 0;
        foreach ($by as $group) {
            // The phones of a segment make one call each, and together one to each other segment: whichever is more.
            $least += array_sum(array_map(static fn (int $n): int => max($n, \count($group) - 1), $group));
        }

        return new self(\count($callers), \count($segments), \count($calls), $least);
    }

    public function message(): Message
    {
        $at = ['n' => $this->planned, 'phones' => $this->phones, 'segments' => $this->segments, 'least' => $this->least];

        return 0 === $this->planned
            ? new Message('No call between phones is planned yet: it takes two that have a number.')
            : new Message(
                '[n call|calls]: each of {phones} phones calls and is called once, over each pair of {segments} segments. '
                    .'The minimum is {least}.',
                $at,
            );
    }
}
