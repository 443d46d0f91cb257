<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Schema;
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
     * @return array<string, string>|null our field → value; null when it could not be asked
     */
    public function read(Plan $plan, Device $device, array $passwords): ?array
    {
        $admin = $device->kind->admin;
        $nic = $device->nic();
        $service = $device->kind->serviceNamed('admin');
        $place = null === $nic?->segment ? null : Place::on($plan, $nic->segment);
        if (null === $admin || null === $service || null === $place) {
            return null;
        }
        foreach (array_unique([$nic->address->asOf(Face::Set) ?? '', $nic->address->planned ?? '']) as $text) {
            $address = Ipv4::tryFromString($text);
            if (null === $address || !$place->mayAsk($address)) {
                continue;
            }
            foreach ($passwords as $password) {
                try {
                    $response = $this->http->ask($place, $address, $service->port->number, 'GET', $admin->status, [$device->kind->loginUser, $password]);
                } catch (NoAnswer|Unreadable) {
                    continue 2;
                }
                $status = json_decode($response->body, true);
                if (200 === $response->status && \is_array($status)) {
                    return self::ours($admin->fields, $status);
                }
            }
        }

        return null;
    }

    /**
     * What was seen, as a change; empty where nothing new was seen.
     *
     * @param array<string, string> $seen
     */
    public static function change(Device $device, array $seen): Change
    {
        $edits = [];
        foreach ($seen as $field => $value) {
            $onNic = isset(Schema::FACED['nics'][$field]);
            $owner = $onNic ? 'nics/'.($device->nic()->key ?? '') : 'devices/'.$device->key;
            $known = $onNic ? $device->nic()?->value($field) : $device->value($field);
            if (null !== $known && $known->seen !== $value && ($onNic || isset(Schema::FACED['devices'][$field]))) {
                $edits[] = Edit::value($owner, $field, Face::Seen, $known->seen, $value);
            }
        }

        return new Change(new Message('Read back from {tag}.', ['tag' => $device->tag]), $edits);
    }

    /**
     * @param array<string, string> $fields
     * @param array<mixed>          $status
     *
     * @return array<string, string>
     */
    private static function ours(array $fields, array $status): array
    {
        $seen = [];
        foreach ($fields + ['firmware' => 'firmware'] as $ours => $own) {
            $value = $status[$own] ?? null;
            if (\is_string($value)) {
                $seen[$ours] = 'mask' === $ours ? (string) (Mask::tryFromString($value) ?? $value) : $value;
            }
        }

        return $seen;
    }
}
