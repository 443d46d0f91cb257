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
     * @param array<string, Agreement> $agreements by code
     * @param self|null                $ships      what it was without kinds of one job
     */
    private function __construct(
        private Kinds $kinds,
        public array $agreements,
        public Countries $countries,
        private SharedSettings $shared,
        private ?self $ships = null,
    ) {
        $this->made = new ReadKinds();
    }

    /**
     * @param array<string, array<mixed>>                 $kinds      code → decoded data file
     * @param array<string, array<string, array<mixed>>> $sets       settings that several kinds share: set → name → data
     * @param array<string, array<mixed>>                 $agreements code → decoded data file
     * @param array<string, array<mixed>>                 $countries  name of a data file → its entries by ISO 3166-1 code
     */
    public static function fromArrays(array $kinds, array $sets = [], array $agreements = [], array $countries = []): self
    {
        ksort($agreements);
        $shared = new SharedSettings($sets);
        $agreed = [];
        foreach ($agreements as $code => $data) {
            $agreed[$code] = Agreement::fromArray($code, $data);
        }

        return new self(Kinds::of($kinds, $shared), $agreed, Countries::fromArray(array_merge(...array_values($countries))), $shared);
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
            /** @var array<string, Kind> $own codes begin with a letter or are texts all the same */
            $own = [];
            foreach ($sources as $code => $source) {
                try {
                    $own[(string) $code] = $ships->read((string) $code, self::decode($source));
                } catch (Malformed) {
                    continue;
                }
            }
            $known = \array_slice($known, -self::KEPT, null, true);
            $known[$hash] = new self($ships->kinds->under($own), $ships->agreements, $ships->countries, $ships->shared, $ships);
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
        return Kind::fromArray($code, $data, $this->shared);
    }

    public static function encode(mixed $data): string
    {
        return (string) json_encode($data, \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_PARTIAL_OUTPUT_ON_ERROR);
    }

    /** @return array<mixed> */
    public static function decode(string $source): array
    {
        $data = json_decode($source, true, 32);

        return \is_array($data) ? $data : [];
    }

    public function kind(string $code): ?Kind
    {
        return $this->kinds->find($code);
    }

    /**
     * @return array<string, Kind> all of them, by code and in its order
     *
     * @throws Malformed where one of them is none
     */
    public function kinds(): array
    {
        return $this->kinds->all();
    }

    /** @return list<string> */
    public function codes(): array
    {
        return $this->kinds->codes();
    }

    /** @return list<string> the names of kinds and other words for them, in alphabetical order */
    public function words(): array
    {
        $ofKind = static fn (Kind $kind): array => [$kind->name, ...$kind->words];
        $words = array_merge(...array_map($ofKind, array_values($this->kinds->all())));
        natcasesort($words);

        return array_values($words);
    }

    /** Finds a kind by its code, its name or another word for it, as a person writes it. */
    public function kindNamed(string $text): ?Kind
    {
        return $this->kinds->named($text);
    }

    /**
     * Settings by name, over all kinds; where two kinds use one name differently the first represents both.
     *
     * @return array<string, Setting>
     */
    public function settings(): array
    {
        $all = [];
        foreach ($this->kinds->all() as $kind) {
            $all += $kind->settings;
        }

        return $all;
    }
}
