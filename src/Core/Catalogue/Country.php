<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Malformed;

/** What the country of a site decides where the job itself says nothing else: its mains and its emergency numbers. */
final readonly class Country
{
    /**
     * @param string                $code             ISO 3166-1 alpha-2
     * @param int|null              $hertz            mains frequency; null where it differs within the country or is not known
     * @param int|null              $volts            nominal mains voltage of a socket; null as above
     * @param list<string>          $emergencyNumbers that ring a centre from a fixed line; none where they are not known
     * @param array<string, string> $sources          `mains` and `emergency`: where each was taken from
     */
    private function __construct(
        public string $code,
        public string $name,
        public ?int $hertz,
        public ?int $volts,
        public array $emergencyNumbers,
        public array $sources,
    ) {
    }

    /**
     * @param array<mixed> $data
     *
     * @throws Malformed naming the field
     */
    public static function fromArray(string $code, array $data): self
    {
        $read = new Reading($data, \sprintf('country %s', $code));
        $country = new self(
            $code,
            $read->requireText('name'),
            $read->has('hertz') ? (int) $read->number('hertz', 0.0) : null,
            $read->has('volts') ? (int) $read->number('volts', 0.0) : null,
            $read->texts('emergency'),
            $read->map('sources'),
        );
        $hasMains = null !== $country->hertz || null !== $country->volts;
        $hasNumbers = [] !== $country->emergencyNumbers;
        if ($hasMains !== isset($country->sources['mains']) || $hasNumbers !== isset($country->sources['emergency'])) {
            throw Malformed::because('{of}: every value needs its source.', ['of' => $read->of()]);
        }

        return $country;
    }

    /** The default of a device setting that depends on the country; null where the country does not decide it. */
    public function settingDefault(string $name): ?string
    {
        return match ($name) {
            'mainsFrequency' => null === $this->hertz ? null : (string) $this->hertz,
            // One picture for every two half waves, so that lamps do not flicker in it.
            'frameRate' => null === $this->hertz ? null : (string) intdiv($this->hertz, 2),
            default => null,
        };
    }
}
