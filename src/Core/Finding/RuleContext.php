<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding;

use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Core\Text\Message;

/** The input of the rules: the plan, and results computed from it once for all of them. */
final class RuleContext
{
    /** @var array<class-string, object|null> */
    private array $computed = [];
    /** @var list<array{Device, SettingSlot}>|null */
    private ?array $slots = null;

    public function __construct(public readonly Plan $plan)
    {
    }

    /**
     * What several rules need of the plan, computed when the first of them asks.
     *
     * @template T of object
     *
     * @param class-string<T>    $class   what it is kept under
     * @param \Closure(Plan): ?T $compute
     *
     * @return T|null
     */
    public function once(string $class, \Closure $compute): ?object
    {
        if (!\array_key_exists($class, $this->computed)) {
            $this->computed[$class] = $compute($this->plan);
        }
        $result = $this->computed[$class];

        return $result instanceof $class ? $result : null;
    }

    /** @return list<array{Device, SettingSlot}> every setting that a device was told or says, in roster order; secrets left out */
    public function slots(): array
    {
        if (null === $this->slots) {
            $this->slots = [];
            foreach ($this->plan->devices as $device) {
                foreach ($this->plan->settings()->slots($device, true) as $slot) {
                    $value = $slot->value;
                    if (null === $slot->setting->secret && null !== ($value->set ?? $value->seen ?? $value->odd)) {
                        $this->slots[] = [$device, $slot];
                    }
                }
            }
        }

        return $this->slots;
    }

    /** A value as a person reads it. */
    public function display(SettingSlot $slot, string $value): string|Message
    {
        return '' === $value ? new Message('(blank)') : $slot->setting->withUnit($this->plan->settings()->show($slot->setting, $value));
    }

    /** @return list<array{Device, Nic}> every nic that carries an address, with its device, in roster order */
    public function nics(): array
    {
        $all = [];
        foreach ($this->plan->devices as $device) {
            foreach ($device->nics as $nic) {
                if (!$nic->passive) {
                    $all[] = [$device, $nic];
                }
            }
        }

        return $all;
    }

    /**
     * Groups of things that share a text which must be unique.
     *
     * @template T
     *
     * @param iterable<array{string, T}> $pairs text → thing; empty texts are left out
     *
     * @return array<string, non-empty-list<T>> only where two or more share
     */
    public static function duplicates(iterable $pairs): array
    {
        $groups = [];
        foreach ($pairs as [$text, $thing]) {
            if ('' !== $text) {
                $groups[$text][] = $thing;
            }
        }

        return array_filter($groups, static fn (array $group): bool => \count($group) > 1);
    }
}
