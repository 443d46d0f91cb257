<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Plan\CallMenu;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RingGroup;

/** The meaning of each number of a PBX; of several with one number the first counts. */
final readonly class Numbering
{
    /** @param array<string, array<array-key, Extension|RingGroup|CallMenu>> $at PBX → number → what it is */
    private function __construct(private array $at)
    {
    }

    public static function of(Plan $plan): self
    {
        $at = [];
        foreach ([...array_values($plan->extensions), ...array_values($plan->ringGroups), ...array_values($plan->menus)] as $one) {
            $at[$one->pbx ?? ''][$one->number] ??= $one;
        }

        return new self($at);
    }

    public function at(string $pbx, string $number): Extension|RingGroup|CallMenu|null
    {
        return $this->at[$pbx][$number] ?? null;
    }

    /** Whether a longer number begins with these digits. */
    public function goesOn(string $pbx, string $digits): bool
    {
        foreach (array_keys($this->at[$pbx] ?? []) as $number) {
            $number = (string) $number;
            if ($number !== $digits && str_starts_with($number, $digits)) {
                return true;
            }
        }

        return false;
    }

    /** @return list<string> */
    public function numbers(string $pbx): array
    {
        return array_map(strval(...), array_keys($this->at[$pbx] ?? []));
    }

    public static function recordOf(Extension|RingGroup|CallMenu $one): string
    {
        return match (true) {
            $one instanceof Extension => 'extensions/',
            $one instanceof RingGroup => 'ringGroups/',
            default => 'menus/',
        }.$one->key;
    }
}
