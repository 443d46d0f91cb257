<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Device;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Outpost\Probe\Http;
use Vorhut\Outpost\Probe\NoAnswer;
use Vorhut\Outpost\Probe\VantagePoints;

/** Tells a phone by its own page to take its file again. That it did is seen at the file server, not here. */
final readonly class RefetchTrigger
{
    public function __construct(private Http $http)
    {
    }

    /**
     * @param array<string, string> $passwords whose it is → password
     *
     * @throws NotWritten
     */
    public function tell(VantagePoints $places, Device $device, array $passwords): Message
    {
        $at = ['tag' => $device->tag];
        $nic = $device->nic();
        $place = $places->tryOn($nic?->segment);
        if (null === $nic || null === $place || null === $device->kind->admin?->refetch) {
            throw new NotWritten(new Message('{tag} cannot be told to take its file again: restart it by hand.', $at));
        }
        $address = Ipv4::tryFromString($nic->setting('address')->effective(Face::Seen) ?? '');
        $door = null === $address || !$place->mayAsk($address) ? null : DeviceDoor::of($this->http, $place, $address, $device);
        if (null === $door) {
            throw new NotWritten(new Message('{tag} has no address in a network of this job.', $at));
        }
        $at['address'] = (string) $address;
        try {
            foreach ($passwords as $whose => $password) {
                if (self::isInCall($door, $device, $password, Reader::FACTORY !== $whose)) {
                    throw new NotWritten(new Message('{tag} is in a call, and taking its file again would end it. Try again later.', $at));
                }
                $status = $door->refetch($password, Reader::FACTORY !== $whose);
                if (!\in_array($status, [401, 403], true)) {
                    return $status >= 200 && $status < 300
                        ? new Message('{tag} was told to take its file again.', $at)
                        : throw new NotWritten(new Message('{tag} did not take the order ({status}).', $at + ['status' => $status]));
                }
            }
        } catch (UnidentifiedDevice $e) {
            throw new NotWritten($e->message());
        } catch (NoAnswer|ParseError) {
            throw new NotWritten(new Message('{tag} did not answer at {address}: restart it by hand.', $at));
        }
        throw new NotWritten(new Message('{tag} refused every password that is known of it: restart it by hand.', $at));
    }

    /**
     * A phone that fetches its file again restarts: it must not be told to during a call, least of all one with an emergency centre. One
     * whose page does not report its calls, or not with this password, counts as idle.
     *
     * @throws NoAnswer
     * @throws UnidentifiedDevice
     */
    private static function isInCall(DeviceDoor $door, Device $device, string $password, bool $isSecret): bool
    {
        $request = $device->kind->admin?->call;
        if (null === $request) {
            return false;
        }
        try {
            $call = $door->call($request, $password, $isSecret);
        } catch (ParseError) {
            return false;
        }

        return null !== $call && \in_array($call['state'], [$request->talks, $request->waits], true);
    }
}
