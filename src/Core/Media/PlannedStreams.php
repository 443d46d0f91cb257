<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Stream;

/** Every stream of a job: those in the plan, and pushes that a sender is set to although the plan has no stream for them. */
final class PlannedStreams
{
    private const PUSHED = 'push-';

    /** @return array<string, Stream> by key */
    public static function of(Plan $plan, Face $face = Face::Set): array
    {
        $streams = $plan->streams;
        $hosts = null;
        foreach ($plan->devices as $device) {
            $url = StreamUrl::pushedBy($device, $face);
            // An SRT listener has no destination in its URL.
            if (null === $url || '' === $url->host) {
                continue;
            }
            $hosts ??= NamedHosts::of($plan, $face);
            $pushed = self::pushStream($plan, $device, $url, $hosts->find($url->host, $device));
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

    /** @return Stream|null null where the plan has a stream of the same sender to the same place */
    private static function pushStream(Plan $plan, Device $sender, StreamUrl $url, ?Device $taker): ?Stream
    {
        foreach ($plan->streamsOf($sender->key) as $stream) {
            if (null === $taker ? $stream->outside : \in_array($taker->key, $stream->receivers, true)) {
                return null;
            }
        }

        return Stream::fromRow(new Row([
            'key' => self::PUSHED.$sender->key,
            'name' => $sender->tag.' → '.$url->host,
            'sender' => $sender->key,
            'transport' => 'srt' === $url->scheme ? 'SRT' : 'RTMP',
            'cast' => 'unicast',
            'port' => $url->port,
            'outside' => null === $taker && !$url->isWithin($plan),
        ]), null === $taker ? [] : [$taker->key]);
    }
}
