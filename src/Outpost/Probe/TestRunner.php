<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\Future;
use Vorhut\Core\Analysis\TestBatches;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Text\Message;
use Vorhut\Socket\Background;

use function Amp\async;

/** Runs tests from here, so many of a sort at a time, and hands on what was found of each as soon as it is known. It enters nothing. */
final readonly class TestRunner
{
    private Prover $prover;

    /** @param \Closure(string): ?string $secretOf account key → SIP secret */
    public function __construct(private NetworkAccess $access, private VantagePoints $places, private \Closure $secretOf)
    {
        $this->prover = new Prover($access, new Http($access));
    }

    /**
     * @param list<string>|null $keys null for all
     *
     * @return list<ProofTest> those of them that a probe can make
     */
    public static function testsOf(Plan $plan, ?array $keys, bool $inTheLab): array
    {
        $wanted = null === $keys ? null : array_fill_keys($keys, true);

        return array_values(array_filter(
            TestPlan::of($plan)->tests,
            static fn (ProofTest $test): bool => $test->canBeAsked($inTheLab) && (null === $wanted || isset($wanted[$test->key])),
        ));
    }

    /**
     * @param list<ProofTest>                     $tests
     * @param \Closure(ProofTest, Evidence): bool $found false ends the round
     *
     * @return bool whether it came to its end
     */
    public function run(array $tests, \Closure $found): bool
    {
        foreach (TestBatches::of($tests) as $some) {
            $running = array_map($this->start(...), $some);
            foreach ($some as $i => $test) {
                try {
                    $evidence = $running[$i]->await();
                } catch (\Throwable $e) {
                    // A fault of ours at one device: the others are asked all the same, and it is said where it would be looked for.
                    Background::report('test '.$test->key, $e);
                    $evidence = Evidence::notAsked(new Message('the outpost failed at it: {reason}', ['reason' => $e->getMessage()]));
                }
                if (!$found($test, $evidence)) {
                    return false;
                }
            }
        }

        return true;
    }

    /**
     * What is written down of a test: the outcome, and the place that it was asked from.
     *
     * @return array<string, scalar|list<mixed>|null>
     */
    public function row(ProofTest $test, Evidence $evidence, string $by, string $at): array
    {
        return [
            'key' => bin2hex(random_bytes(10)),
            'test' => $test->key,
            'at' => $at,
            'by' => $by,
            'from' => $test->from,
            'onSite' => $this->access->isOnSite(),
            'outpost' => $evidence->from->outpost ?? '',
            'adapter' => $evidence->from->adapter->name ?? '',
            'address' => (string) $evidence->from?->address,
            'outcome' => $evidence->outcome->value,
            'detail' => $evidence->detail->toStored(),
            'basis' => $test->facts()->texts(),
            'evidence' => $evidence->lines,
        ];
    }

    /** @return Future<Evidence> */
    private function start(ProofTest $test): Future
    {
        return async(fn (): Evidence => $this->prover->prove($this->places, $test, $this->secretOf));
    }
}
