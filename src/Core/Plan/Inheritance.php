<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Country;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\Setting;

/**
 * The value of a setting that the plan leaves open: from the job, the country, the segment, the provider, the number of its peers, or from
 * what other records say about the device.
 *
 * @phpstan-import-type RowData from Edit
 * @phpstan-import-type Rows from Plan
 */
final class Inheritance
{
    /** Settings of a provider's file that a prediction of its phones needs. */
    private const DECIDES_REGISTRATION = ['transport', 'registrarPort'];

    /** @var array<string, int> role → how many devices have it, of those that were asked for */
    private array $having = [];
    /** @var array<string, string>|null phone → the hosted registrar of its number */
    private ?array $providers = null;
    private ?Country $country = null;
    private readonly DeviceSources $sources;

    /**
     * @param Rows                                  $rows
     * @param array<string, array<string, RowData>> $values record → slot → stored values
     */
    public function __construct(
        private readonly Row $job,
        private readonly array $rows,
        private readonly array $values,
        private readonly Catalogue $catalogue,
    ) {
        $this->sources = new DeviceSources($rows, $values, $catalogue);
    }

    /** The country of the site; null where the job does not say, or names something that is not a country. */
    public function country(): ?Country
    {
        return $this->country ??= $this->catalogue->countries->find($this->job->text('country'));
    }

    /** How many devices have a role; asked for only by the few settings that follow from it. */
    private function having(string $role): int
    {
        return $this->having[$role] ??= \count(array_filter(
            $this->rows['devices'] ?? [],
            fn (array $row): bool => [] !== array_filter(
                $this->catalogue->kind((new Row($row))->text('kind'))->roles ?? [],
                static fn (Role $one): bool => $one->value === $role,
            ),
        ));
    }

    /**
     * What a device takes where a setting is silent. A phone of a provider has its settings from the provider's file: of those only the
     * address of the file is known here, and what decides whether it can register.
     */
    public function ofDevice(string $device, Setting $setting): ?string
    {
        $provider = $this->providerOf($device);
        if (null === $provider) {
            return $this->ofSegment($setting, null, $device);
        }
        foreach ($setting->inherits as [$of, $field]) {
            if ('registrar' === $of) {
                $row = new Row($this->values['devices/'.$provider][$field] ?? []);
                $given = $row->textOrNull('seen') ?? $row->textOrNull('set') ?? $row->textOrNull('planned');

                return '' === $given ? null : $given;
            }
        }
        $isSupplied = ['file'] === $setting->written && !\in_array($setting->name, self::DECIDES_REGISTRATION, true);

        return $isSupplied ? null : $this->ofSegment($setting, null, $device);
    }

    /** The hosted registrar of a phone's number; null where it has none. */
    public function providerOf(string $device): ?string
    {
        if (null === $this->providers) {
            $this->providers = [];
            $phones = array_map(static fn (array $row): string => (new Row($row))->text('phone'), $this->rows['extensions'] ?? []);
            foreach ($this->rows['accounts'] ?? [] as $account) {
                $row = new Row($account);
                $registrar = $row->text('registrar');
                $phone = $phones[$row->text('extension')] ?? '';
                $kind = $this->catalogue->kind((new Row($this->rows['devices'][$registrar] ?? []))->text('kind'));
                if ('' !== $phone && true === $kind?->isHosted()) {
                    $this->providers[$phone] = $registrar;
                }
            }
        }

        return $this->providers[$device] ?? null;
    }

    /** As menus of devices list it: in English. */
    private function languageName(): ?string
    {
        $language = $this->job->text('language');
        $name = '' === $language ? $language : (string) \Locale::getDisplayLanguage($language, 'en');

        return '' === $name ? null : $name;
    }

    /** @return string|null empty where there is none, null where it is not known */
    private function ofJob(string $field): ?string
    {
        if ('languageName' === $field) {
            return $this->languageName();
        }

        return match ($value = $this->job->textOrNull($field)) {
            FieldType::NONE => '',
            '' => null,
            default => $value,
        };
    }

    /** The first source of a setting that knows a value, else the default of the kind. */
    public function ofSegment(Setting $setting, ?Segment $segment, ?string $device = null): ?string
    {
        foreach ($setting->inherits as [$of, $field]) {
            $value = match ($of) {
                'job' => $this->ofJob($field),
                'country' => $this->country()?->settingDefault($field),
                // Of a registrar only a phone of a provider inherits anything.
                'registrar' => null,
                'peers' => (string) max(0, $this->having($field) - 1),
                'segment' => $segment?->dhcpValue($field),
                default => null === $device ? null : $this->sources->value($device, $of, $field),
            };
            if (null !== $value) {
                return $value;
            }
        }

        return $setting->default;
    }
}
