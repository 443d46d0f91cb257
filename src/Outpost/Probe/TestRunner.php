<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\Future;
use Vorhut\Core\Analysis\TestBatches;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Text\Message;
use Vorhut\Socket\Background;

use function Amp\async;

/** Runs tests from here, a limited number of each kind at a time, and passes each result on as soon as it is known. It stores nothing. */
final readonly class TestRunner
{
    /** Seconds for which a device of the lab that is still starting is waited for. */
    private const START_SECONDS = 20.0;

    private RangeSearch $search;
    private LabStart $labStart;
    private Http $http;

    /**
     * @param \Closure(string): ?string $secretOf account key, or `devices/KEY` with or without `#PURPOSE` → secret
     * @param float                     $startSeconds for which a device of the lab that is still starting is waited for
     */
    public function __construct(
        private NetworkAccess $access,
        private VantagePoints $places,
        private \Closure $secretOf,
        ?Http $http = null,
        float $startSeconds = self::START_SECONDS,
    ) {
        $this->http = $http ?? new Http($access);
        $this->search = new RangeSearch($access);
        $this->labStart = new LabStart($access, $startSeconds);
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
     * The stored result of a test: the outcome, and the place it was run from.
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

    /** Makes one test from its place, and brings home the evidence. */
    public function probe(ProofTest $test): Evidence
    {
        if (!isset($this->places->plan->devices[$test->to]) || !$test->canBeAsked(!$this->access->isOnSite())) {
            return Evidence::notAsked(new Message('there is nothing here that a probe could ask'));
        }
        $trial = $this->access->isOnSite() ? null : $test->trial();
        try {
            return null === $trial ? $this->byProbe($test) : $this->byLabCall(LabCall::of($this->places->plan, $trial), $test);
        } catch (NoAnswer $e) {
            return Evidence::notAsked($e->message());
        }
    }

    /** @throws NoAnswer */
    private function byProbe(ProofTest $test): Evidence
    {
        $probe = ShippedProbes::of($test->kind) ?? throw NoAnswer::notAsked(new Message('only a person can tell'));
        $context = $this->from($this->places->on((string) OutpostKey::segment($test->from)), $test);

        return $probe->run($context, $test)->from($context->place);
    }

    /** @throws NoAnswer */
    private function byLabCall(LabCall $call, ProofTest $test): Evidence
    {
        $refusal = $call->refusal();
        if (null !== $refusal) {
            return Evidence::notAsked($refusal);
        }
        $context = $this->from($call->place($this->places), $test);

        return $call->make($context)->from($context->place);
    }

    /** @throws NoAnswer where a device of the lab is still starting */
    private function from(VantagePoint $place, ProofTest $test): ProbeContext
    {
        $this->labStart->wait($this->places->plan, $place, $test);

        return new ProbeContext($this->places->plan, $place, $this->access, $this->http, $this->search, $this->secretOf);
    }

    /** @return Future<Evidence> */
    private function start(ProofTest $test): Future
    {
        return async(fn (): Evidence => $this->probe($test));
    }
}
