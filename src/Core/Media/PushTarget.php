<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** Where a device pushes a stream by SRT, and who of the job takes it there. */
final readonly class PushTarget
{
    /** What those who take a stream by SRT offer. */
    public const SERVICE = 'srt';
    /** Of both ends: with what the stream is sealed. */
    public const SEALED = 'a passphrase';

    private function __construct(public Device $from, public StreamUrl $url, public Port $port, public ?Device $taker)
    {
    }

    /** @return array<string, self> by the device that pushes, in roster order */
    public static function all(Plan $plan, Face $face = Face::Set): array
    {
        $targets = [];
        $hosts = null;
        foreach ($plan->devices as $device) {
            $url = StreamUrl::pushedBy($device, $face);
            if ('srt' !== $url?->scheme || null === $url->port || 'SRT' !== $device->setting('pushProtocol')->effective($face)) {
                continue;
            }
            $hosts ??= NamedHosts::of($plan, $face);
            $targets[$device->key] = new self($device, $url, Port::udp($url->port), $hosts->find($url->host, $device));
        }

        return $targets;
    }

    /**
     * Settings for the sender that pushes to a device of the job.
     *
     * @return list<array{device: Device, url: StreamUrl, sealed: bool}> those that take a stream by SRT and have an address
     */
    public static function targets(Plan $plan, Face $face = Face::Set): array
    {
        $offered = [];
        foreach ($plan->devices as $device) {
            $address = $device->nic()?->setting('address')->effective($face);
            if (null !== $address && '' !== $address) {
                foreach ($device->services($face) as $service) {
                    if (self::SERVICE === $service->name) {
                        $latency = null === $device->kind->setting('latency') ? null : $device->setting('latency')->effective($face);
                        $offered[] = [
                            'device' => $device,
                            'url' => StreamUrl::of('srt', (string) $address, $service->port->number, '', ['mode' => 'caller']
                                + (null === $latency || '' === $latency ? [] : ['latency' => $latency])),
                            'sealed' => null !== $device->kind->setting('takesWith')
                                && self::SEALED === $device->setting('takesWith')->effective($face),
                        ];
                    }
                }
            }
        }

        return $offered;
    }

    /** Whether it is a device in the networks of this job. */
    public function isOnSite(Plan $plan): bool
    {
        return null !== $this->taker || $this->url->isWithin($plan);
    }

    public function isSealed(Face $face = Face::Set): bool
    {
        return self::SEALED === $this->from->setting('pushesWith')->effective($face);
    }

    /** Whether who takes it asks for a passphrase. */
    public function asksForSeal(Face $face = Face::Set): bool
    {
        return null !== $this->taker?->kind->setting('takesWith')
            && self::SEALED === $this->taker->setting('takesWith')->effective($face);
    }

    /** Whether the two ends match; null if no device of this job receives it. */
    public function meets(Face $face = Face::Set): ?bool
    {
        return null === $this->taker ? null : null === $this->apart($face);
    }

    /** Why the two ends do not come together; null where they do, or the far one is none of this job. */
    public function apart(Face $face = Face::Set): ?Message
    {
        $taken = $this->takenAt($face);
        $at = [
            'tag' => $this->from->tag,
            'taker' => $this->taker->tag ?? '',
            'port' => $this->port->number,
            'taken' => $taken->number ?? 0,
        ];

        return match (true) {
            null === $this->taker => null,
            null === $taken => new Message('{tag} pushes by SRT to {taker}, which takes none.', $at),
            'caller' !== $this->url->mode() => new Message('{tag} and {taker} both wait to be called.', $at),
            !$taken->equals($this->port) => new Message('{tag} pushes to port {port} of {taker}, which takes it at {taken}.', $at),
            $this->isSealed($face) === $this->asksForSeal($face) => null,
            default => new Message($this->isSealed($face)
                ? '{tag} pushes with a passphrase, and {taker} has none.'
                : '{taker} asks for a passphrase, and {tag} has none.', $at),
        };
    }

    /** Only the port tells them apart: that of the far end; null if it is not a port, or empty. */
    public function missedPort(Face $face = Face::Set): ?Port
    {
        $taken = $this->takenAt($face);

        return 'caller' === $this->url->mode() && true !== $taken?->equals($this->port) ? $taken : null;
    }

    /** Where it is taken; null where it takes nothing by SRT. */
    public function takenAt(Face $face = Face::Set): ?Port
    {
        foreach ($this->taker?->services($face) ?? [] as $service) {
            if (self::SERVICE === $service->name) {
                return $service->port;
            }
        }

        return null;
    }
}
