<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingSlot;

/**
 * What a device that takes its settings over the network would be sent: looked at before it is done, and held against what it says after.
 *
 * @phpstan-type Write array{local: string, own: string, slot: SettingSlot, value: string}
 */
final readonly class WritePlan
{
    /** @param list<Write> $fields local name, its own name for it, planned value */
    private function __construct(public Device $device, public array $fields)
    {
    }

    public static function of(Plan $plan, Device $device): self
    {
        $fields = [];
        $settings = $device->kind->locals();
        if ($device->kind->writable) {
            foreach ($device->kind->adminFields() as $local => $own) {
                $slot = $plan->settings()->slot($device, $local);
                $value = $slot?->value->planned;
                if (null !== $slot && null !== $value && !$settings[$local]->found) {
                    $fields[] = ['local' => $local, 'own' => $own, 'slot' => $slot, 'value' => $value];
                }
            }
        }

        return new self($device, $fields);
    }

    /** @return list<Write> those that it does not hold yet, as far as is known */
    public function toDo(): array
    {
        return array_values(array_filter(
            $this->fields,
            static fn (array $one): bool => ($one['slot']->value->seen ?? $one['slot']->value->set) !== $one['value'],
        ));
    }

    /** The part that gives it its address: it restarts for that, and is elsewhere after it. */
    public function addressing(): self
    {
        return new self($this->device, array_values(array_filter(
            $this->fields,
            static fn (array $one): bool => SettingScope::Port === $one['slot']->setting->scope,
        )));
    }

    /** @return array<string, string> as its form takes them: its own name → value as it is typed */
    public function form(): array
    {
        $form = [];
        foreach ($this->fields as $one) {
            $form[$one['own']] = $one['slot']->setting->type->format($one['value']);
        }

        return $form;
    }

    /** @return array<string, string> local name → planned value */
    public function values(): array
    {
        return array_column($this->fields, 'value', 'local');
    }

    /**
     * Which of them it did not take, by what it says after.
     *
     * @param array<string, string> $seen local name → value
     *
     * @return list<string> labels
     */
    public function notTaken(array $seen): array
    {
        $labels = [];
        foreach ($this->fields as $one) {
            if (isset($seen[$one['local']]) && $seen[$one['local']] !== $one['value']) {
                $labels[] = $one['slot']->setting->label;
            }
        }

        return $labels;
    }
}
