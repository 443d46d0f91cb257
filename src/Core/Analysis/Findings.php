<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\FindingGroup;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Plan;

/** All findings of a plan, heaviest first, then in the order of the work. */
final readonly class Findings
{
    /** @param list<Finding> $all */
    private function __construct(public array $all)
    {
    }

    /**
     * @param iterable<Rule>   $rules
     * @param RuleContext|null $context results computed earlier, to be reused
     */
    public static function of(Plan $plan, iterable $rules, ?RuleContext $context = null): self
    {
        $context ??= new RuleContext($plan);
        $all = [];
        foreach ($rules as $rule) {
            foreach ($rule->find($context) as $finding) {
                $all[$finding->key()] = $finding;
            }
        }
        $stages = array_flip(array_map(static fn (Stage $stage): string => $stage->value, Stage::cases()));
        usort(
            $all,
            static fn (Finding $a, Finding $b): int => [
                $a->severity->rank(),
                $stages[$a->stage->value],
                $a->key(),
            ] <=> [$b->severity->rank(), $stages[$b->stage->value], $b->key()],
        );

        return new self($all);
    }

    /** @return list<Finding> */
    public function about(string $record): array
    {
        return array_values(array_filter($this->all, static fn (Finding $finding): bool => $finding->isAbout($record)));
    }

    /** @return list<Finding> */
    public function at(Stage $stage): array
    {
        return array_values(array_filter($this->all, static fn (Finding $finding): bool => $finding->stage === $stage));
    }

    public function find(string $key): ?Finding
    {
        foreach ($this->all as $finding) {
            if ($finding->key() === $key) {
                return $finding;
            }
        }

        return null;
    }

    /** The group of findings with this key, or the one finding as a group. */
    public function group(string $key): ?FindingGroup
    {
        $finding = $this->find($key);
        foreach (FindingGroup::all(null === $finding ? $this->all : [$finding]) as $group) {
            if ($group->key() === $key || null !== $finding) {
                return $group;
            }
        }

        return null;
    }

    public function block(): bool
    {
        return [] !== array_filter($this->all, static fn (Finding $finding): bool => Severity::Blocks === $finding->severity);
    }
}
