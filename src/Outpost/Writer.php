<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Unreadable;

use function Amp\delay;

/** Puts the planned settings into a device that takes them over HTTP, waits for its restart and reads them back. */
final readonly class Writer
{
    private const PATIENCE = 20.0;
    private const GONE = 0.8;

    public function __construct(private Http $http, private Reader $reader)
    {
    }

    /**
     * @param list<string> $passwords
     *
     * @return array{change: Change|null, seen: array<string, string>|null, said: Message}
     */
    public function write(Places $places, Device $device, array $passwords): array
    {
        $admin = $device->kind->admin;
        $nic = $device->nic();
        $service = $device->kind->serviceNamed('admin');
        $plan = $places->plan;
        $place = $places->tryOn($nic?->segment);
        if (null === $admin || null === $nic || null === $service || null === $place || !$device->kind->writable) {
            return [
                'change' => null,
                'seen' => null,
                'said' => new Message('{tag} takes no settings over the network: use its run sheet.', ['tag' => $device->tag]),
            ];
        }
        $wanted = [];
        $form = [];
        $settings = $device->kind->locals();
        foreach ($device->kind->adminFields() as $local => $own) {
            $value = $plan->slot($device, $local)?->value->planned;
            if (null !== $value && !$settings[$local]->found) {
                $wanted[$local] = $value;
                $form[$own] = $settings[$local]->type->typed($value);
            }
        }
        foreach (array_unique(
            [
                $nic->setting('address')->effective(Face::Seen) ?? '',
                $nic->setting('address')->effective(Face::Set) ?? '',
                $nic->setting('address')->planned ?? '',
            ],
        ) as $text) {
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
                        'POST',
                        $admin->settings,
                        [$device->loginUser(), $password],
                        http_build_query($form),
                    );
                } catch (NoAnswer|Unreadable) {
                    continue 2;
                }
                if (200 === $response->status) {
                    return [
                        'change' => self::change($plan, $device, $wanted),
                        'seen' => $this->wait($places, $device, $passwords, $wanted),
                        'said' => new Message('Written to {tag} at {address}.', ['tag' => $device->tag, 'address' => $address]),
                    ];
                }
            }
        }

        return [
            'change' => null,
            'seen' => null,
            'said' => new Message('{tag} did not answer on its own segment: use its run sheet.', ['tag' => $device->tag]),
        ];
    }

    /**
     * @param array<string, string> $wanted local name of a setting → value
     */
    private static function change(Plan $plan, Device $device, array $wanted): Change
    {
        $edits = [];
        foreach ($wanted as $local => $value) {
            $slot = $plan->slot($device, $local);
            if (null !== $slot) {
                $edits[] = Edit::setting($slot->ref, Face::Set, $slot->value->set, $value);
            }
        }

        return new Change(new Message('Settings written into {tag}.', ['tag' => $device->tag]), $edits);
    }

    /**
     * @param list<string>          $passwords
     * @param array<string, string> $wanted
     *
     * @return array<string, string>|null
     */
    private function wait(Places $places, Device $device, array $passwords, array $wanted): ?array
    {
        // It answers once more with the new settings before it restarts; what counts is that it comes back with them.
        delay(self::GONE);
        for ($until = microtime(true) + self::PATIENCE; microtime(true) < $until; delay(0.4)) {
            $seen = $this->reader->read($places, $device, $passwords);
            if (null !== $seen && [] === array_diff_assoc($wanted, $seen)) {
                return $seen;
            }
        }

        return null;
    }
}
