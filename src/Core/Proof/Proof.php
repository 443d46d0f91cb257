<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Plan\Device;
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
            foreach ($wasThere ? [] : self::needed($plan, $line) as $device) {
                $since = RunSheet::of($plan, $device)->hookedUpSince();
                if (null === $since) {
                    $lines[] = new Proved($line, Verdict::NotYet, $latest, [], $device->tag);
                    continue 2;
                }
                if ($latest->at < $since) {
                    // It was plugged in only after that look: the look says nothing about it any more.
                    $lines[] = new Proved($line, Verdict::Stale, $latest, [new Fact('devices/'.$device->key.':pluggedIn', $since)]);
                    continue 2;
                }
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

    /** @return list<Device> what has to be plugged in before silence is a fault: the PBX of the caller, and the far end */
    private static function needed(Plan $plan, TestLine $line): array
    {
        $caller = null === $line->caller ? null : $plan->extensionNumbered($line->caller);
        $registrar = null === $caller ? null : $plan->accountOf($caller->key)?->registrar;

        return array_values(array_filter([$plan->devices[$registrar ?? ''] ?? null, $plan->devices[$line->to] ?? null]));
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
