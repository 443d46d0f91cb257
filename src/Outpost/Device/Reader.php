<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Device;

use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Outpost\Probe\Http;
use Vorhut\Outpost\Probe\NoAnswer;
use Vorhut\Outpost\Probe\VantagePoint;
use Vorhut\Outpost\Probe\VantagePoints;

/** Reads back from a device what it holds, from a place on its own segment: there even a device with a wrong gateway answers. */
final readonly class Reader
{
    /** The owner of a password that is the default of all such devices. */
    public const FACTORY = 'factory';

    public function __construct(private Http $http)
    {
    }

    /**
     * @param array<string, string> $passwords to try, the likeliest first: whose it is (`admin`, `label`, `factory`) → password
     *
     * @return Readback|null null when it could not be asked
     */
    public function read(VantagePoints $places, Device $device, array $passwords): ?Readback
    {
        $nic = $device->nic();
        $place = null === $nic ? null : $places->tryOn($nic->segment);
        if (null === $nic || null === $place) {
            return null;
        }
        foreach (array_unique([$nic->setting('address')->effective(Face::Set) ?? '', $nic->setting('address')->planned ?? '']) as $text) {
            $address = Ipv4::tryFromString($text);
            $read = null === $address || !$place->mayAsk($address) ? null : $this->at($place, $address, $device, $passwords);
            if (null !== $read) {
                return $read;
            }
        }

        return null;
    }

    /** @param array<string, string> $passwords */
    private function at(VantagePoint $place, Ipv4 $address, Device $device, array $passwords): ?Readback
    {
        $door = DeviceDoor::of($this->http, $place, $address, $device);
        if (null === $door) {
            return null;
        }
        try {
            foreach ($passwords + ['' => ''] as $whose => $password) {
                // The last means no password: for a device without a login.
                $status = '' === $whose && $device->kind->login->exists() ? null : $door->status($password, self::FACTORY !== $whose);
                if (null !== $status) {
                    return new Readback(
                        self::ours($device->kind, $status) + self::certificateOf($device, $door->certificate()),
                        $device->kind->login->exists() ? (string) $whose : '',
                    );
                }
            }
        } catch (NoAnswer $e) {
            // A certificate of another device is an answer too: it is stored next to the one seen before.
            return Outcome::BadCertificate === $e->outcome
                ? new Readback(self::certificateOf($device, $door->certificate()), '')
                : null;
        } catch (UnidentifiedDevice $e) {
            return null === $e->mac ? null : new Readback([], '', $e->mac);
        } catch (ParseError) {
            return null;
        }

        return null;
    }

    /** @return array<string, string> */
    private static function certificateOf(Device $device, ?string $fingerprint): array
    {
        return null === $fingerprint || null === $device->kind->setting(DeviceDoor::CERTIFICATE)
            ? []
            : [DeviceDoor::CERTIFICATE => $fingerprint];
    }

    /** The values read, as a change; empty if there are none. An accepted password shows whether the first one was replaced. */
    public static function change(Plan $plan, Device $device, Readback $readback): Change
    {
        $edits = self::passwordEdits($plan, $device, $readback->took);
        $place = $device->nic()?->setting('address');
        $slot = null === $readback->stranger ? null : $plan->settings()->slot($device, $device->nic()?->name.'.address');
        if (null !== $slot && $place?->odd !== (string) $readback->stranger) {
            $edits[] = Edit::put('settings', (string) $slot->ref, 'odd', $place?->odd, (string) $readback->stranger);
        }
        foreach ($readback->seen as $local => $value) {
            $slot = $plan->settings()->slot($device, $local);
            if (null === $slot) {
                continue;
            }
            $held = $slot->value;
            $odd = self::isOdd($slot->setting, $value) ? $value : null;
            // A reading replaces an earlier one; but a certificate is compared with that of first contact until a person confirms a new
            // one.
            if (null !== $odd) {
                $value = null;
            } elseif (DeviceDoor::CERTIFICATE === $local && null !== $held->seen && $held->seen !== $value) {
                $odd = $value;
                $value = $held->seen;
            }
            if ($held->seen !== $value) {
                $edits[] = Edit::setting($slot->ref, Face::Seen, $held->seen, $value);
            }
            if ($held->odd !== $odd) {
                $edits[] = Edit::put('settings', (string) $slot->ref, 'odd', $held->odd, $odd);
            }
        }

        return new Change(new Message('Read back from {tag}.', ['tag' => $device->tag]), $edits);
    }

    /** @return list<Edit> */
    private static function passwordEdits(Plan $plan, Device $device, string $took): array
    {
        $credential = $plan->credential($device->record(), 'admin');
        $state = match ($took) {
            'admin' => 'changed',
            'label', 'factory' => 'default',
            default => null,
        };
        if (null === $credential || null === $state || $credential->isDefault === ('default' === $state)) {
            return [];
        }

        return [Edit::put('credentials', $credential->key, 'state', 'default' === $state ? 'changed' : 'default', $state)];
    }

    /**
     * @param array<string, string> $status what the device says, by its own names
     *
     * @return array<string, string> local name → value in our form, or as it came where it is not what its type allows
     */
    private static function ours(Kind $kind, array $status): array
    {
        $seen = [];
        $settings = $kind->locals();
        foreach ($kind->adminFields() as $local => $own) {
            $value = $status[$own] ?? null;
            if (null === $value || null !== $settings[$local]->secret) {
                continue;
            }
            try {
                $seen[$local] = '' === $value ? '' : $settings[$local]->read($value);
            } catch (Malformed) {
                $seen[$local] = mb_substr($value, 0, Setting::LONGEST);
            }
        }

        return $seen;
    }

    /** Whether a setting cannot have the value read. */
    private static function isOdd(Setting $setting, string $value): bool
    {
        try {
            if ('' !== $value) {
                $setting->read($value);
            }
        } catch (Malformed) {
            return true;
        }

        return false;
    }
}
