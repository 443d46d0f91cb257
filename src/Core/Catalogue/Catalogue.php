<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** The library: kinds of devices, and the agreements between their settings. All of it is data. */
final readonly class Catalogue
{
    /**
     * @param array<string, Kind>      $kinds      by code
     * @param array<string, Agreement> $agreements by code
     */
    private function __construct(public array $kinds, public array $agreements)
    {
    }

    /**
     * @param array<string, array<mixed>>                 $kinds      code → decoded data file
     * @param array<string, array<string, array<mixed>>> $sets       settings that several kinds share: set → name → data
     * @param array<string, array<mixed>>                 $agreements code → decoded data file
     */
    public static function fromArrays(array $kinds, array $sets = [], array $agreements = []): self
    {
        ksort($kinds);
        ksort($agreements);
        $read = [];
        foreach ($kinds as $code => $data) {
            $read[$code] = Kind::fromArray($code, $data, $sets);
        }
        $agreed = [];
        foreach ($agreements as $code => $data) {
            $agreed[$code] = Agreement::fromArray($code, $data);
        }

        return new self($read, $agreed);
    }

    public function kind(string $code): ?Kind
    {
        return $this->kinds[$code] ?? null;
    }

    /** Finds a kind by its code or its name, as a person writes it in a pasted table. */
    public function kindNamed(string $text): ?Kind
    {
        $wanted = mb_strtolower(trim($text));
        foreach ($this->kinds as $kind) {
            if ($kind->code === $wanted || mb_strtolower($kind->name) === $wanted) {
                return $kind;
            }
        }

        return null;
    }

    /**
     * Settings by name, over all kinds; where two kinds mean different things by one name the first stands for both.
     *
     * @return array<string, Setting>
     */
    public function settings(): array
    {
        $all = [];
        foreach ($this->kinds as $kind) {
            $all += $kind->settings;
        }

        return $all;
    }
}
