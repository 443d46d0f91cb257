<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Setting;

/**
 * The settings of one record by slot, each made on demand: a large job has tens of thousands of them, a page shows a few.
 *
 * @phpstan-import-type RowData from Edit
 */
final class Settings
{
    /** @var array<string, TrackedValue> */
    private array $made = [];

    /**
     * @param array<string, RowData>       $rows      slot → stored values
     * @param array<string, Setting>       $declared  slot → properties; other slots are strays
     * @param \Closure(Setting): (string|null) $inherited what the plan takes where the setting is silent
     */
    public function __construct(private readonly array $rows, private readonly array $declared, private readonly \Closure $inherited)
    {
    }

    public function get(string $slot): TrackedValue
    {
        return $this->made[$slot] ??= $this->make($slot);
    }

    /** @return array<string, TrackedValue> the declared settings, then the strays */
    public function all(): array
    {
        $all = [];
        foreach ($this->declared + $this->rows as $slot => $ignored) {
            $all[$slot] = $this->get($slot);
        }

        return $all;
    }

    private function make(string $slot): TrackedValue
    {
        $row = $this->rows[$slot] ?? null;
        $value = null === $row ? new TrackedValue() : TrackedValue::fromRow(new Row($row));
        $setting = $this->declared[$slot] ?? null;

        return null === $setting ? $value : $value->withDefault(($this->inherited)($setting));
    }
}
