<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Malformed;

/** The library: kinds of devices, and the agreements between their settings. All of it is data. */
final readonly class Catalogue
{
    /** Versions of kinds of jobs that are kept read. */
    private const KEPT = 20;

    private ReadKinds $made;

    /**
     * @param array<string, Kind>      $kinds      by code
     * @param array<string, Agreement>                    $agreements by code
     * @param array<string, array<string, array<mixed>>> $sets       settings that several kinds share
     * @param self|null                                   $ships      what it was without kinds of one job
     */
    private function __construct(
        public array $kinds,
        public array $agreements,
        private array $sets = [],
        private ?self $ships = null,
    ) {
        $this->made = new ReadKinds();
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

        return new self($read, $agreed, $sets);
    }

    /**
     * With the kinds of one job over what ships. What cannot be read is left out: who writes one is told, and who reads it later is not
     * stopped by it.
     *
     * @param array<array-key, string> $sources code → description, as JSON
     */
    public function with(array $sources): self
    {
        $ships = $this->ships ?? $this;
        if ([] === $sources) {
            return $ships;
        }
        $hash = hash('xxh128', serialize($sources));
        $known = $ships->made->kept;
        if (!isset($known[$hash])) {
            $kinds = $ships->kinds;
            foreach ($sources as $code => $source) {
                try {
                    $kinds[(string) $code] = $ships->read((string) $code, self::decoded($source));
                } catch (Malformed) {
                    continue;
                }
            }
            ksort($kinds);
            /** @var array<string, Kind> $kinds codes begin with a letter or are texts all the same */
            $known = \array_slice($known, -self::KEPT, null, true);
            $known[$hash] = new self($kinds, $ships->agreements, $ships->sets, $ships);
            $ships->made->kept = $known;
        }

        return $known[$hash];
    }

    /**
     * @param array<mixed> $data a whole description
     *
     * @throws Malformed
     */
    public function read(string $code, array $data): Kind
    {
        return Kind::fromArray($code, $data, $this->sets);
    }

    public static function encoded(mixed $data): string
    {
        return (string) json_encode($data, \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_PARTIAL_OUTPUT_ON_ERROR);
    }

    /** @return array<mixed> */
    public static function decoded(string $source): array
    {
        $data = json_decode($source, true, 32);

        return \is_array($data) ? $data : [];
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
