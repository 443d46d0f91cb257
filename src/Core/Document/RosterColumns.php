<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Plan\Plan;

/** What a column of a pasted roster may mean: a field of the kit list, or any setting of any kind, by its name or its label. */
final readonly class RosterColumns
{
    public const FIELDS = ['tag', 'kind', 'room', 'segment', 'mac', 'serial'];

    /** @param array<string, string> $meanings heading in small letters → field, or name of a setting */
    private function __construct(private array $meanings)
    {
    }

    public static function of(Plan $plan): self
    {
        $meanings = array_combine(self::FIELDS, self::FIELDS);
        foreach ($plan->catalogue->kinds() as $kind) {
            foreach ($kind->settings as $setting) {
                if (null !== $setting->secret || SettingScope::Account === $setting->scope) {
                    continue;
                }
                foreach ($setting->slots() as $slot) {
                    $meanings[mb_strtolower($slot)] ??= $slot;
                    $number = substr($slot, \strlen($setting->name));
                    $meanings[mb_strtolower($setting->label).str_replace('.', ' ', $number)] ??= $slot;
                    if (SettingScope::Port === $setting->scope) {
                        foreach ($kind->ports as $port) {
                            if (!$port->passive) {
                                $meanings[mb_strtolower($port->name.'.'.$slot)] = $port->name.'.'.$slot;
                            }
                        }
                    }
                }
            }
        }

        return new self($meanings);
    }

    public function meaning(string $heading): ?string
    {
        return $this->meanings[mb_strtolower(trim($heading))] ?? null;
    }

    /** @return list<string> everything a column may mean, for one to choose from */
    public function all(): array
    {
        $all = array_values(array_unique($this->meanings));
        sort($all);

        return $all;
    }
}
