<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Stream;

/** Every stream of a job: those that the plan names, and what a sender pushes although nobody drew it as a stream. */
final class PlannedStreams
{
    private const PUSHED = 'push-';

    /** @return array<string, Stream> by key */
    public static function of(Plan $plan, Face $face = Face::Set): array
    {
        $streams = $plan->streams;
        foreach ($plan->devices as $device) {
            $pushed = self::pushedBy($plan, $device, $face);
            if (null !== $pushed) {
                $streams[$pushed->key] = $pushed;
            }
        }

        return $streams;
    }

    /** The record that a stream is shown with: its own, or the sender of one that was never drawn. */
    public static function recordOf(Plan $plan, Stream $stream): string
    {
        return isset($plan->streams[$stream->key]) ? 'streams/'.$stream->key : 'devices/'.$stream->sender;
    }

    /** Mbit/s that leave the site. */
    public static function pushedOut(Plan $plan, Face $face = Face::Set): float
    {
        $mbps = 0.0;
        foreach (self::of($plan, $face) as $stream) {
            $mbps += $stream->outside ? StreamRate::of($plan, $stream, $face)->mbps() : 0.0;
        }

        return $mbps;
    }

    private static function pushedBy(Plan $plan, Device $device, Face $face): ?Stream
    {
        $protocol = null === $device->kind->setting('pushUrl') ? 'off' : $device->setting('pushProtocol')->effective($face) ?? 'off';
        if ('off' === $protocol) {
            return null;
        }
        try {
            $url = StreamUrl::fromString((string) $device->setting('pushUrl')->effective($face));
        } catch (Malformed) {
            return null;
        }
        $taker = self::taker($plan, $url, $face);
        foreach ($plan->streamsOf($device->key) as $stream) {
            // Drawn already: the same sender, to the same place.
            if (null === $taker ? $stream->outside : \in_array($taker, $stream->receivers, true)) {
                return null;
            }
        }

        return Stream::fromRow(new Row([
            'key' => self::PUSHED.$device->key,
            'name' => $device->tag.' → '.$url->host,
            'sender' => $device->key,
            'transport' => 'SRT' === $protocol ? 'SRT' : 'RTMP',
            'cast' => 'unicast',
            'port' => $url->port,
            'outside' => null === $taker,
        ]), null === $taker ? [] : [$taker]);
    }

    private static function taker(Plan $plan, StreamUrl $url, Face $face): ?string
    {
        $address = Ipv4::tryFromString($url->host);
        foreach ($plan->devices as $device) {
            $held = $device->nic()?->setting('address')->effective($face);
            $name = null === $device->kind->setting('hostName') ? null : $device->setting('hostName')->effective($face);
            $isHeld = null !== $address && (string) $address === $held;
            if ($isHeld || (null !== $name && '' !== $name && 0 === strcasecmp($name, $url->host))) {
                return $device->key;
            }
        }

        return null;
    }
}
