<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Countries;
use Vorhut\Core\Catalogue\Country;
use Vorhut\Core\Voice\Dialling\OutsideNumber;

/**
 * The emergency numbers of a site: those that every phone must be able to dial, and all digits that Vorhut never dials.
 *
 * More than the numbers in the job are never dialled: every number that the numbering plan of the country reserves for emergencies, and
 * while the country is not known, the emergency numbers of all countries.
 */
final class EmergencyNumbers
{
    /** @var array<array-key, string|null> dialled digits → the number they ring */
    private array $known = [];

    /**
     * @param list<string> $numbers   as the job names them, else as its country has them; none where neither is known
     * @param Country|null $country   of the site; null where the job does not say, or says something that is not a country
     * @param string       $outside   the outside-line prefix; empty for none
     * @param bool         $inherited the country supplies the numbers, not the job
     */
    private function __construct(
        public readonly array $numbers,
        public readonly bool $inherited,
        private readonly ?Country $country,
        private readonly Countries $countries,
        private readonly string $outside,
    ) {
    }

    public static function of(Plan $plan): self
    {
        $named = $plan->job->texts('emergencyNumbers');
        $country = $plan->country();

        return new self(
            [] === $named ? $country->emergencyNumbers ?? [] : $named,
            [] === $named,
            $country,
            $plan->catalogue->countries,
            $plan->job->text('outsideDigit'),
        );
    }

    /** The emergency number that dialled digits ring, with or without the outside-line prefix; null where they ring none. */
    public function match(string $digits): ?string
    {
        if (!\array_key_exists($digits, $this->known)) {
            $this->known[$digits] = $this->resolve($digits);
        }

        return $this->known[$digits];
    }

    public function isMeant(string $digits): bool
    {
        return null !== $this->match($digits);
    }

    /** @return list<string> the numbers of the site, each with and without the outside-line prefix */
    public function all(): array
    {
        return $this->withPrefix($this->numbers);
    }

    /** @return list<string> the numbers of the site and of its country, in every country where it is not known, with and without prefix */
    public function neverDialled(): array
    {
        $more = null === $this->country ? $this->countries->emergencyNumbers() : $this->country->emergencyNumbers;

        return $this->withPrefix(array_values(array_unique([...$this->numbers, ...$more])));
    }

    /** Whether digits ring an emergency centre as soon as enough of them were pressed. */
    public function isMeantOnTheWay(string $digits): bool
    {
        for ($length = 1; $length <= \strlen($digits); ++$length) {
            if ($this->isMeant(substr($digits, 0, $length))) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param list<string> $numbers
     *
     * @return list<string>
     */
    private function withPrefix(array $numbers): array
    {
        $dialled = [];
        foreach ($numbers as $number) {
            $dialled[] = $number;
            if ('' !== $this->outside) {
                $dialled[] = $this->outside.$number;
            }
        }

        return $dialled;
    }

    private function resolve(string $digits): ?string
    {
        if ($this->isEmergency($digits)) {
            return $digits;
        }
        if ('' === $this->outside || !str_starts_with($digits, $this->outside)) {
            return null;
        }
        $number = substr($digits, \strlen($this->outside));

        return $this->isEmergency($number) ? $number : null;
    }

    private function isEmergency(string $number): bool
    {
        if (\in_array($number, $this->numbers, true)) {
            return true;
        }
        if (null === $this->country) {
            return $this->countries->isEmergencyAnywhere($number);
        }

        return \in_array($number, $this->country->emergencyNumbers, true)
            || true === OutsideNumber::isEmergency($number, $this->country->code);
    }
}
