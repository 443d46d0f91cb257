<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Device;

use Vorhut\Core\Bench\BenchSegment;
use Vorhut\Core\Bench\FactoryReach;
use Vorhut\Core\Bench\WritePlan;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Outpost\Probe\Http;
use Vorhut\Outpost\Probe\NetworkAccess;
use Vorhut\Outpost\Probe\NoAnswer;
use Vorhut\Outpost\Probe\VantagePoint;
use Vorhut\Outpost\Probe\VantagePoints;

use function Amp\delay;

/**
 * Puts the planned settings into a device that takes them over HTTP, waits for its restart and reads them back. A device that still has
 * its factory address gets its own address first, from the bench, and everything else at that address.
 */
final class Writer
{
    private const PATIENCE = 20.0;
    private const GONE = 0.8;
    private const CONNECT = 3.0;

    /** @var list<Message> why each attempt so far came to nothing */
    private array $failures = [];
    private bool $isMet = false;

    /** @param float $patience seconds for which a device may stay away to restart */
    public function __construct(
        private readonly NetworkAccess $access,
        private readonly Http $http,
        private readonly Reader $reader,
        private readonly float $patience = self::PATIENCE,
    ) {
    }

    /**
     * @param array<string, string> $passwords whose it is → password
     *
     * @return array{change: Change, seen: Readback|null, said: Message}
     *
     * @throws NotWritten with what every attempt came to
     */
    public function write(VantagePoints $places, Device $device, array $passwords): array
    {
        $this->failures = [];
        $this->isMet = false;
        $nic = $device->nic();
        if (null === $nic || null === $nic->segment || !$device->kind->writable) {
            throw new NotWritten(new Message('{tag} takes no settings over the network: use its run sheet.', ['tag' => $device->tag]));
        }
        $address = $nic->setting('address');
        $isNew = null === $address->set && null === $address->seen;
        $result = $isNew ? $this->fromTheBench($places, $device, $nic, $passwords) : null;
        $result ??= $this->atItsAddress($places, $device, $nic, $passwords);
        // It may have been reset since.
        $result ??= $isNew || $this->isMet() ? null : $this->fromTheBench($places, $device, $nic, $passwords);

        return $result ?? throw new NotWritten(new Message('Nothing was written into {tag}. {failures}', [
            'tag' => $device->tag,
            'failures' => Message::join($this->failures),
        ]));
    }

    /**
     * @param array<string, string> $passwords
     *
     * @return array{change: Change, seen: Readback|null, said: Message}|null null where the device was not met there
     */
    private function fromTheBench(VantagePoints $places, Device $device, Nic $nic, array $passwords): ?array
    {
        $reach = FactoryReach::of($places->plan, $device);
        $new = Ipv4::tryFromString($nic->setting('address')->planned ?? '');
        if (null === $reach || null === $new) {
            return null;
        }
        $this->access->setUpBench($reach->bench);
        $at = [
            'address' => (string) $reach->address,
            'laptop' => $reach->bench->laptop.'/'.$reach->bench->network->mask->prefix,
            'stop' => $reach->stop,
        ];
        try {
            $place = (new VantagePoints($reach->bench->in($places->plan), $this->access))->on(BenchSegment::KEY);
        } catch (NoAnswer $e) {
            $this->failures[] = new Message(
                'At its factory address {address}: {reason}. Set the laptop to {laptop}, as for stop {stop}.',
                $at + ['reason' => $e->message()],
            );

            return null;
        }
        $writes = WritePlan::of($places->plan, $device);
        $taken = $this->put($place, $reach->address, $device, $passwords, $writes->addressing(), true);
        if (!$taken) {
            return null;
        }
        $wanted = $writes->addressing()->values();
        $seen = $this->wait($places, $device, $passwords, $wanted);
        if (null !== $seen) {
            // It is at its own address now: everything else goes there.
            $rest = $this->atItsAddress($places, $device, $nic, $passwords);
            if (null !== $rest) {
                return $rest;
            }
        }
        $where = ['tag' => $device->tag, 'new' => (string) $new, 'n' => (int) $this->patience];

        return [
            'change' => self::change($places->plan, $device, $wanted),
            'seen' => $seen,
            'said' => null === $places->tryOn($nic->segment)
                ? new Message(
                    '{tag} got its address {new}. No adapter of this machine is in that network: set one there and write again.',
                    $where,
                )
                : new Message(
                    '{tag} got its address {new} and does not answer there after {n} s: look at its cable, its lamps and the VLAN of its '
                        .'port.',
                    $where,
                ),
        ];
    }

    /**
     * @param array<string, string> $passwords
     *
     * @return array{change: Change, seen: Readback|null, said: Message}|null null where the device was not met there
     */
    private function atItsAddress(VantagePoints $places, Device $device, Nic $nic, array $passwords): ?array
    {
        try {
            $place = $places->on((string) $nic->segment);
        } catch (NoAnswer $e) {
            $this->failures[] = new Message('On its own segment: {reason}.', ['reason' => $e->message()]);

            return null;
        }
        $writes = WritePlan::of($places->plan, $device);
        foreach (self::addressesOf($device, $nic) as $address) {
            if ($place->mayAsk($address) && $this->put($place, $address, $device, $passwords, $writes, false)) {
                $seen = $this->wait($places, $device, $passwords, $writes->values());

                return [
                    'change' => self::change($places->plan, $device, $writes->values()),
                    'seen' => $seen,
                    'said' => $this->report($device, $address, $writes, $seen),
                ];
            }
        }

        return null;
    }

    /** @return list<Ipv4> where it may be, the likeliest first */
    private static function addressesOf(Device $device, Nic $nic): array
    {
        $value = $nic->setting('address');
        $texts = [$value->effective(Face::Seen), $value->effective(Face::Set), $value->planned, (string) $device->factory->address];

        return array_values(array_filter(array_map(
            static fn (?string $text): ?Ipv4 => Ipv4::tryFromString($text ?? ''),
            array_unique($texts),
        )));
    }

    /**
     * @param array<string, string> $passwords
     * @param bool                  $isFactory whether others of its kind may answer there as well
     *
     * @return bool whether the device took it; where it did not, the reason is among the failures
     *
     * @throws NotWritten where another device answers there
     */
    private function put(VantagePoint $place, Ipv4 $address, Device $device, array $passwords, WritePlan $writes, bool $isFactory): bool
    {
        $door = DeviceDoor::of($this->http, $place, $address, $device);
        if (null === $door) {
            return false;
        }
        $at = ['address' => (string) $address];
        $status = null;
        try {
            if ($isFactory) {
                // Who holds the address is known only once something was sent there.
                $this->access->connect($place->address, $address, $door->port(), self::CONNECT)->close();
                $this->http->identity($address, $device)->mustNotBeAnother();
            }
            foreach ($passwords + ['' => ''] as $whose => $password) {
                if ('' === $whose && $device->kind->login->exists()) {
                    continue;
                }
                $response = $door->put($password, $writes->form(), isSecret: Reader::FACTORY !== $whose);
                if ($door->took($response)) {
                    return true;
                }
                $status = $response->status;
                $this->isMet = true;
            }
            $this->failures[] = \in_array($status, [401, 403], true)
                ? new Message('At {address} it refused every password that is known of it.', $at)
                : new Message('At {address} it did not take the settings (HTTP {status}): read it back before you go on.', $at + [
                    'status' => $status ?? 0,
                ]);
        } catch (UnidentifiedDevice $e) {
            throw new NotWritten($e->message());
        } catch (NoAnswer $e) {
            $this->failures[] = new Message('At {address}: {reason}. {hint}', $at + [
                'reason' => $e->message(),
                'hint' => self::hint($e->outcome),
            ]);
        } catch (ParseError $e) {
            $this->failures[] = new Message('At {address} something answers that is not its admin page: {reason}', $at + [
                'reason' => $e->getMessage(),
            ]);
        }

        return false;
    }

    /** Whether the device has answered anywhere. */
    private function isMet(): bool
    {
        return $this->isMet;
    }

    /** What to look at first. */
    private static function hint(Outcome $outcome): Message
    {
        return new Message(match ($outcome) {
            Outcome::Silent => 'It may be off, still starting, at another address, or its port in another VLAN.',
            Outcome::Unreachable => 'No device has this address in the segment: check its cable, lamps and power.',
            Outcome::Refuses => 'Its admin page may be off, or another device holds this address.',
            Outcome::BrokenOff => 'It may be busy or starting: wait and write again.',
            Outcome::BadCertificate => 'Compare its certificate at the device before you accept the new one.',
            default => 'Set this machine up for that network and write again.',
        });
    }

    /** The result: all values accepted, some of them, or unknown. */
    private function report(Device $device, Ipv4 $address, WritePlan $writes, ?Readback $seen): Message
    {
        $at = ['tag' => $device->tag, 'address' => (string) $address, 'n' => (int) $this->patience];
        $left = null === $seen ? [] : $writes->notTaken($seen->seen);

        return match (true) {
            null === $seen => new Message('Written to {tag} at {address}; it did not come back within {n} s: read it again.', $at),
            [] === $left => new Message('Written to {tag} at {address}.', $at),
            default => new Message('Written to {tag} at {address}; not taken: {fields}.', $at + ['fields' => implode(', ', $left)]),
        };
    }

    /** @param array<string, string> $wanted local name of a setting → value */
    private static function change(Plan $plan, Device $device, array $wanted): Change
    {
        $edits = [];
        foreach ($wanted as $local => $value) {
            $slot = $plan->settings()->slot($device, $local);
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
    private function wait(VantagePoints $places, Device $device, array $passwords, array $wanted): ?Readback
    {
        // It answers once more with the new settings before it restarts; what counts is that it comes back with them.
        delay(self::GONE);
        $last = null;
        for ($until = microtime(true) + $this->patience; microtime(true) < $until; delay(0.4)) {
            $seen = $this->reader->read($places, $device, $passwords);
            if (null !== $seen && [] === array_diff_assoc($wanted, $seen->seen)) {
                return $seen;
            }
            $last = $seen ?? $last;
        }

        return $last;
    }
}
