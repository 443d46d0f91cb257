<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Plan\Fact;
use Vorhut\Core\Plan\Observation;
use Vorhut\Core\Plan\Plan;

/**
 * Every test line with its verdict: as planned when what was observed is what the job needs. A line that was foreseen to fail, and did, is
 * contrary all the same, with its reason known. Only fresh evidence counts: an observation is stale when one of *its* facts has another value now, and not when
 * anything else changed. Where nothing answered because nothing is plugged in yet, the line is not yet proved, and not failed.
 */
final readonly class Proof
{
    /** @param list<Proved> $lines */
    private function __construct(public array $lines)
    {
    }

    public static function of(Plan $plan): self
    {
        $lines = [];
        foreach (TestPlan::of($plan)->lines as $line) {
            $all = $plan->observations[$line->key] ?? [];
            $latest = [] === $all ? null : $all[array_key_last($all)];
            if (null === $latest) {
                $lines[] = new Proved($line, Verdict::NotYet, null, []);
                continue;
            }
            $wasThere = [] !== array_filter($all, static fn (Observation $one): bool => false === Outcome::tryFrom($one->outcome)?->isAbsence());
            $missing = $wasThere ? null : self::notHookedUp($plan, $line);
            if (null !== $missing) {
                $lines[] = new Proved($line, Verdict::NotYet, $latest, [], $missing);
                continue;
            }
            $moved = array_map(Fact::fromString(...), array_values(array_diff($line->facts->texts(), $latest->ground)));
            $gone = array_diff($latest->ground, $line->facts->texts());
            $lines[] = new Proved($line, match (true) {
                [] !== $moved, [] !== $gone => Verdict::Stale,
                $latest->outcome === $line->wanted->value => Verdict::AsPlanned,
                default => Verdict::Contrary,
            }, $latest, $moved);
        }

        return new self($lines);
    }

    /** The first of the devices that a line needs which nobody plugged in yet: a tester that meets none there has found no fault. */
    private static function notHookedUp(Plan $plan, TestLine $line): ?string
    {
        $caller = null === $line->caller ? null : $plan->extensionNumbered($line->caller);
        $registrar = null === $caller ? null : $plan->accountOf($caller->key)?->registrar;
        foreach ([$registrar, $line->to] as $key) {
            $device = $plan->devices[$key ?? ''] ?? null;
            if (null !== $device && !RunSheet::of($plan, $device)->isHookedUp()) {
                return $device->tag;
            }
        }

        return null;
    }

    /** @return list<Proved> */
    public function with(Verdict ...$verdicts): array
    {
        return array_values(array_filter($this->lines, static fn (Proved $proved): bool => \in_array($proved->verdict, $verdicts, true)));
    }

    public function find(string $key): ?Proved
    {
        foreach ($this->lines as $proved) {
            if ($proved->line->key === $key) {
                return $proved;
            }
        }

        return null;
    }

    /** @return list<Proved> the lines that end at a device */
    public function at(string $device): array
    {
        return array_values(array_filter($this->lines, static fn (Proved $proved): bool => $proved->line->to === $device));
    }
}
