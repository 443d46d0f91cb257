<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Malformed;

/** All countries that the library has data of. */
final class Countries
{
    /** @var array<array-key, true>|null */
    private ?array $emergencyNumbers = null;

    /** @param array<string, Country> $byCode */
    private function __construct(private readonly array $byCode)
    {
    }

    /**
     * @param array<mixed> $data ISO 3166-1 code → entry
     *
     * @throws Malformed naming the entry
     */
    public static function fromArray(array $data): self
    {
        $countries = [];
        foreach ($data as $code => $entry) {
            $countries[(string) $code] = Country::fromArray((string) $code, \is_array($entry) ? $entry : []);
        }

        return new self($countries);
    }

    /** @return array<string, Country> */
    public function all(): array
    {
        return $this->byCode;
    }

    /** Finds a country by its code, in any case, or by its English name. */
    public function find(string $text): ?Country
    {
        $text = trim($text);
        if ('' === $text) {
            return null;
        }
        $byCode = $this->byCode[strtoupper($text)] ?? null;
        if (null !== $byCode) {
            return $byCode;
        }
        foreach ($this->byCode as $country) {
            if (0 === strcasecmp($country->name, $text)) {
                return $country;
            }
        }

        return null;
    }

    /** Whether digits ring an emergency centre in at least one country. */
    public function isEmergencyAnywhere(string $digits): bool
    {
        $this->emergencyNumbers ??= array_fill_keys($this->emergencyNumbers(), true);

        return isset($this->emergencyNumbers[$digits]);
    }

    /** @return list<string> of all countries */
    public function emergencyNumbers(): array
    {
        $numbers = array_map(static fn (Country $country): array => $country->emergencyNumbers, array_values($this->byCode));

        return array_values(array_unique(array_merge(...$numbers)));
    }
}
