<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Fact;
use Vorhut\Core\Plan\Observation;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestResult;
use Vorhut\Core\Proof\Verdict;

/**
 * Every test with its verdict: passed when the observation meets the requirement of the job. A test that was predicted to fail, and did,
 * has failed, with its reason known. Only fresh evidence counts: an observation is outdated when one of *its* facts has another value
 * now, and not when anything else changed. A test without an answer is not yet proved, and not failed, where a device is not plugged in yet
 * or the test could not be sent from its place. Results from the lab are a rehearsal, with a verdict of their own next to that of the site.
 */
final readonly class Proof
{
    /** @var array<string, int> verdict → how many */
    private array $counts;
    /** @var array<string, TestResult> */
    private array $byKey;
    /** @var array<string, list<TestResult>> device → what ends at it */
    private array $atDevice;

    /** @param list<TestResult> $results */
    private function __construct(public array $results)
    {
        $byKey = $atDevice = $counts = [];
        foreach ($results as $result) {
            $byKey[$result->test->key] ??= $result;
            $atDevice[$result->test->to][] = $result;
            $counts[$result->verdict->value] = ($counts[$result->verdict->value] ?? 0) + 1;
        }
        $this->counts = $counts;
        $this->byKey = $byKey;
        $this->atDevice = $atDevice;
    }

    /** Computed once for the rules and all other users of the context. */
    public static function inContext(RuleContext $context): self
    {
        return $context->once(
            self::class,
            static fn (Plan $plan): self => self::of($plan, static fn (): NetworkModel => NetworkAsSet::of($context)),
        ) ?? self::of($context->plan);
    }

    /** @param (\Closure(): NetworkModel)|null $model of the values set, if the caller has it already */
    public static function of(Plan $plan, ?\Closure $model = null): self
    {
        $results = [];
        foreach (TestPlan::of($plan, $model)->tests as $test) {
            $here = $there = [];
            foreach ($plan->observations[$test->key] ?? [] as $one) {
                // Of a practice job the lab is the site.
                if ($one->onSite || $plan->isPractice()) {
                    $here[] = $one;
                } else {
                    $there[] = $one;
                }
            }
            $result = self::judge($plan, $test, $here);
            $results[] = [] === $there ? $result : $result->withRehearsal(self::judge($plan, $test, $there));
        }

        return new self($results);
    }

    /** @param list<Observation> $all of one test and one sort, in the order in which they came */
    private static function judge(Plan $plan, ProofTest $test, array $all): TestResult
    {
        $asked = array_values(array_filter($all, static fn (Observation $one): bool => Outcome::NotAsked->value !== $one->outcome));
        $last = [] === $all ? null : $all[array_key_last($all)];
        $latest = [] === $asked ? null : $asked[array_key_last($asked)];
        $unasked = $last === $latest ? null : $last;
        if (null === $latest) {
            return new TestResult($test, Verdict::NotRun, null, [], null, $unasked);
        }
        $wasThere = [] !== array_filter(
            $asked,
            static fn (Observation $one): bool => false === Outcome::tryFrom($one->outcome)?->isAbsence(),
        );
        if (!$wasThere) {
            foreach (self::neededDevices($plan, $test) as $device) {
                $since = RunSheet::of($plan, $device)->hookedUpSince();
                if (null === $since) {
                    return new TestResult($test, Verdict::NotRun, $latest, [], $device->tag, $unasked);
                }
                if ($latest->at < $since) {
                    // It was plugged in only after that look: the look says nothing about it any more.
                    $moved = [new Fact('devices/'.$device->key.':pluggedIn', $since)];

                    return new TestResult($test, Verdict::Outdated, $latest, $moved, null, $unasked);
                }
            }
        }
        $facts = $test->facts()->texts();
        $moved = array_map(Fact::fromString(...), array_values(array_diff($facts, $latest->basis)));
        $gone = array_diff($latest->basis, $facts);

        return new TestResult($test, match (true) {
            [] !== $moved, [] !== $gone => Verdict::Outdated,
            $test->isMetBy(Outcome::tryFrom($latest->outcome)) => Verdict::Passed,
            default => Verdict::Failed,
        }, $latest, $moved, null, $unasked);
    }

    /** @return list<Device> devices that must be plugged in before silence is a fault: the PBX of the caller, and the far end */
    private static function neededDevices(Plan $plan, ProofTest $test): array
    {
        $caller = null === $test->caller ? null : $plan->extensionNumbered($test->caller);
        $registrar = null === $caller ? null : $plan->accountOf($caller->key)?->registrar;

        return array_values(array_filter(array_map(
            static fn (?string $key): ?Device => $plan->devices[$key ?? ''] ?? null,
            [$registrar, $test->to, ...($test->trial()->needs ?? [])],
        )));
    }

    /** @return list<TestResult> */
    public function with(Verdict ...$verdicts): array
    {
        return array_values(array_filter(
            $this->results,
            static fn (TestResult $result): bool => \in_array($result->verdict, $verdicts, true),
        ));
    }

    /** How many have this verdict. */
    public function count(Verdict $verdict): int
    {
        return $this->counts[$verdict->value] ?? 0;
    }

    public function find(string $key): ?TestResult
    {
        return $this->byKey[$key] ?? null;
    }

    /** How many tests passed in the lab, whatever the site says. */
    public function rehearsalCount(): int
    {
        return \count(array_filter($this->results, static fn (TestResult $result): bool => $result->isRehearsed()));
    }

    /**
     * What an outpost has still to find out: automatic tests that failed, are outdated or were not run in its place.
     *
     * @param bool $rehearsing the test ran in the lab, and its result proves nothing about the site
     * @param bool $inTheLab   the outside is simulated too, and may be called
     *
     * @return list<TestResult>
     */
    public function open(bool $rehearsing = false, bool $inTheLab = false): array
    {
        return array_values(array_filter($this->results, static fn (TestResult $result): bool => $result->test->canBeAsked($inTheLab)
            && Verdict::Passed !== ($rehearsing ? $result->rehearsal?->verdict : $result->verdict)));
    }

    /** @return list<string> keys of the failed and outdated tests that end at a device: what to ask anew once it was written to */
    public function toAskAnewAt(string $device, bool $rehearsing = false): array
    {
        return array_values(array_map(
            static fn (TestResult $result): string => $result->test->key,
            array_filter($this->at($device), static fn (TestResult $result): bool => !$result->test->isByHand() && \in_array(
                $rehearsing ? $result->rehearsal?->verdict : $result->verdict,
                [Verdict::Failed, Verdict::Outdated],
                true,
            )),
        ));
    }

    /** @return list<TestResult> the tests that end at a device */
    public function at(string $device): array
    {
        return $this->atDevice[$device] ?? [];
    }
}
