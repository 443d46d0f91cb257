<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Vorhut\Core\Bench\WritePlan;
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
     * @param array<string, string> $passwords whose it is → password
     *
     * @return array{change: Change, seen: Readback|null, said: Message}
     *
     * @throws NotWritten
     */
    public function write(Places $places, Device $device, array $passwords): array
    {
        $nic = $device->nic();
        $plan = $places->plan;
        $place = $places->tryOn($nic?->segment);
        if (null === $nic || null === $place || !$device->kind->writable) {
            throw new NotWritten(new Message('{tag} takes no settings over the network: use its run sheet.', ['tag' => $device->tag]));
        }
        $refused = null;
        $writes = WritePlan::of($plan, $device);
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
            $door = DeviceDoor::of($this->http, $place, $address, $device);
            if (null === $door) {
                continue;
            }
            try {
                foreach ($passwords + ['' => ''] as $whose => $password) {
                    if ('' === $whose && $device->kind->login->exists()) {
                        continue;
                    }
                    $response = $door->put($password, $writes->form(), isSecret: Reader::FACTORY !== $whose);
                    if (!$door->took($response)) {
                        $refused = [$address, $response->status];
                        continue;
                    }
                    $seen = $this->wait($places, $device, $passwords, $writes->wanted());

                    return [
                        'change' => self::change($plan, $device, $writes->wanted()),
                        'seen' => $seen,
                        'said' => self::said($device, $address, $writes, $seen),
                    ];
                }
            } catch (Stranger $e) {
                throw new NotWritten($e->said());
            } catch (NoAnswer|Unreadable) {
                continue;
            }
        }

        throw new NotWritten(match (true) {
            null === $refused => new Message('{tag} did not answer on its own segment: use its run sheet.', ['tag' => $device->tag]),
            \in_array($refused[1], [401, 403], true) => new Message(
                '{tag} answered at {address} and refused every password that is known of it: nothing was written.',
                ['tag' => $device->tag, 'address' => (string) $refused[0]],
            ),
            default => new Message(
                '{tag} answered at {address} and did not take it ({status}): read it back before you go on.',
                ['tag' => $device->tag, 'address' => (string) $refused[0], 'status' => $refused[1]],
            ),
        });
    }

    /**
     * What became of it: all taken, some of it, or nobody knows.
     */
    private static function said(Device $device, Ipv4 $address, WritePlan $writes, ?Readback $seen): Message
    {
        $at = ['tag' => $device->tag, 'address' => $address, 'n' => (int) self::PATIENCE];
        $left = null === $seen ? [] : $writes->notTaken($seen->seen);

        return match (true) {
            null === $seen => new Message('Written to {tag} at {address}; it did not come back within {n} s: read it again.', $at),
            [] === $left => new Message('Written to {tag} at {address}.', $at),
            default => new Message('Written to {tag} at {address}; not taken: {fields}.', $at + ['fields' => implode(', ', $left)]),
        };
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
     * @param array<string, string> $passwords
     * @param array<string, string> $wanted
     *
     * @return Readback|null what it says at last; null where it did not come back
     */
    private function wait(Places $places, Device $device, array $passwords, array $wanted): ?Readback
    {
        // It answers once more with the new settings before it restarts; what counts is that it comes back with them.
        delay(self::GONE);
        $last = null;
        for ($until = microtime(true) + self::PATIENCE; microtime(true) < $until; delay(0.4)) {
            $seen = $this->reader->read($places, $device, $passwords);
            if (null !== $seen && [] === array_diff_assoc($wanted, $seen->seen)) {
                return $seen;
            }
            $last = $seen ?? $last;
        }

        return $last;
    }
}
