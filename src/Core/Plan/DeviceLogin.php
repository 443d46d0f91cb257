<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Kind;

/** A secret of a device in addition to its administrator's password: one that its kind has a field for, or one that a user recorded. */
final readonly class DeviceLogin
{
    /** @param string|null $label what the kind calls it; null where the kind knows nothing of it */
    private function __construct(public string $purpose, public ?string $label, public ?Credential $credential)
    {
    }

    /** @return list<self> those of the kind first, each by its purpose */
    public static function of(Plan $plan, Device $device): array
    {
        $logins = [];
        foreach (self::purposesOf($device->kind) as $purpose => $label) {
            $logins[$purpose] = new self($purpose, $label, $plan->credential($device->record(), $purpose));
        }
        $noted = [];
        foreach ($plan->credentials() as $credential) {
            $isFurther = !isset($logins[$credential->purpose]) && !FurtherLogin::isReserved($credential->purpose);
            if ($isFurther && $credential->owner === $device->record()) {
                $noted[$credential->purpose] = new self($credential->purpose, null, $credential);
            }
        }
        ksort($noted, \SORT_STRING);

        return array_values([...$logins, ...$noted]);
    }

    /** @return array<string, string> purpose → label of each secret that a kind has a field for, but those the program keeps itself */
    public static function purposesOf(Kind $kind): array
    {
        $wanted = [];
        foreach ($kind->settings as $setting) {
            if (null !== $setting->secret && !FurtherLogin::isReserved($setting->secret)) {
                $wanted[$setting->secret] = $setting->label;
            }
        }

        return $wanted;
    }

    /** Whether it was typed or generated. */
    public function isKnown(): bool
    {
        return ($this->credential->length ?? 0) > 0;
    }
}
