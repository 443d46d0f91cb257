<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Unreadable;

/** Reads back from a device what it holds, from a place on its own segment: there even a device with a wrong gateway answers. */
final readonly class Reader
{
    public function __construct(private Http $http)
    {
    }

    /**
     * @param list<string> $passwords to try, the likeliest first
     *
     * @return array<string, string>|null local name of a setting → value; null when it could not be asked
     */
    public function read(Places $places, Device $device, array $passwords): ?array
    {
        $admin = $device->kind->admin;
        $nic = $device->nic();
        $service = $device->kind->serviceNamed('admin');
        $plan = $places->plan;
        $place = null === $nic ? null : $places->tryOn($nic->segment);
        if (null === $admin || null === $nic || null === $service || null === $place) {
            return null;
        }
        foreach (array_unique([$nic->setting('address')->effective(Face::Set) ?? '', $nic->setting('address')->planned ?? '']) as $text) {
            $address = Ipv4::tryFromString($text);
            if (null === $address || !$place->mayAsk($address)) {
                continue;
            }
            foreach ($passwords as $password) {
                try {
                    $response = $this->http->ask(
                        $place,
                        $address,
                        $service->port->number,
                        'GET',
                        $admin->status,
                        [$device->loginUser(), $password],
                    );
                } catch (NoAnswer|Unreadable) {
                    continue 2;
                }
                $status = json_decode($response->body, true);
                if (200 === $response->status && \is_array($status)) {
                    return self::ours($device->kind, $status);
                }
            }
        }

        return null;
    }

    /**
     * What was seen, as a change; empty where nothing new was seen.
     *
     * @param array<string, string> $seen local name of a setting → value
     */
    public static function change(Plan $plan, Device $device, array $seen): Change
    {
        $edits = [];
        foreach ($seen as $local => $value) {
            $slot = $plan->slot($device, $local);
            if (null === $slot) {
                continue;
            }
            $held = $slot->value;
            $odd = self::isOdd($slot->setting, $value) ? $value : null;
            if (null !== $odd) {
                // What it said before is not what it says now.
                $value = null;
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

    /**
     * @param array<mixed> $status what the device says, by its own names
     *
     * @return array<string, string> local name → value in our form, or as it came where it is not what its type allows
     */
    private static function ours(Kind $kind, array $status): array
    {
        $seen = [];
        $settings = $kind->locals();
        foreach ($kind->adminFields() as $local => $own) {
            $value = $status[$own] ?? null;
            if (!\is_string($value) && !\is_int($value)) {
                continue;
            }
            try {
                $seen[$local] = '' === (string) $value ? '' : $settings[$local]->read((string) $value);
            } catch (Malformed) {
                $seen[$local] = mb_substr((string) $value, 0, Setting::LONGEST);
            }
        }

        return $seen;
    }

    /** Whether a setting cannot be what was said of it. */
    private static function isOdd(Setting $setting, string $value): bool
    {
        try {
            '' === $value || $setting->read($value);
        } catch (Malformed) {
            return true;
        }

        return false;
    }
}
