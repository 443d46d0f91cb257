<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Network\Reachability\Flow;
use Vorhut\Core\Network\Reachability\RequiredFirewallRule;
use Vorhut\Core\Network\Reachability\RequiredFirewallRules;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\ProofTest;

/**
 * Checks the rules that a job needs: with only these rules, every required flow and every test of the plan must pass, and none of the
 * rules may be redundant.
 */
final readonly class RulesProof implements \JsonSerializable
{
    /**
     * @param list<Flow>       $brokenFlows
     * @param list<ProofTest>  $brokenTests that come out as required without any filter, and not with these rules
     * @param list<RequiredFirewallRule> $redundant
     * @param int              $tests       how many tests were walked
     */
    private function __construct(public array $brokenFlows, public array $brokenTests, public array $redundant, public int $tests)
    {
    }

    /** Checks the required flows only: in a large job, predicting every test twice takes seconds. */
    public static function ofFlows(RequiredFirewallRules $rules): self
    {
        ['broken' => $flows, 'spare' => $redundant] = $rules->proof();

        return new self($flows, [], $redundant, 0);
    }

    public static function of(Plan $plan, RequiredFirewallRules $rules): self
    {
        ['broken' => $flows, 'spare' => $redundant] = $rules->proof();
        $open = self::tests(RequiredFirewallRules::without($plan, 'allow'));
        $filtered = self::tests($plan->with($rules->change()));
        $broken = [];
        foreach ($open as $key => $test) {
            $other = $filtered[$key] ?? null;
            if (null !== $other && !$test->isForeseenToFail() && $other->isForeseenToFail()) {
                $broken[] = $other;
            }
        }

        return new self($flows, $broken, $redundant, \count($open));
    }

    /** @return array<string, ProofTest> by key; predicted from planned values, as the rules are */
    private static function tests(Plan $plan): array
    {
        $model = null;
        $tests = [];
        foreach (TestPlan::of($plan, static function () use ($plan, &$model): NetworkModel {
            return $model ??= NetworkModel::of($plan, Face::Planned);
        })->tests as $test) {
            $tests[$test->key] = $test;
        }

        return $tests;
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'broken' => array_map(static fn (Flow $one): string => $one->key(), $this->brokenFlows),
            'brokenTests' => array_map(static fn (ProofTest $one): string => $one->key, $this->brokenTests),
            'tests' => $this->tests,
            'spare' => $this->redundant,
        ];
    }
}
