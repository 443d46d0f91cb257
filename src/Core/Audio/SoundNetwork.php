<?php

declare(strict_types=1);

namespace Vorhut\Core\Audio;

use Vorhut\Core\Media\StreamRate;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;

/** The devices of one segment that share sound over it: their rates, and the one whose clock all follow (IEEE 1588, AES67 §4). */
final readonly class SoundNetwork implements \JsonSerializable
{
    /**
     * @param list<Device>                                $devices by tag
     * @param array<string, list<Device>>                 $rates   kHz → who runs at it, the most common first
     * @param list<Device>                                $leaders those that are set to lead
     * @param Device|null                                 $leader  the clock leader; null if there is none, or more than one
     * @param array<string, array{sends: int, has: int|null}> $channels device → channels that its streams or patches carry, and its own
     * @param float                                       $mbps    of all that is sent here
     */
    private function __construct(
        public string $segment,
        public array $devices,
        public array $rates,
        public array $leaders,
        public ?Device $leader,
        public array $channels,
        public float $mbps,
    ) {
    }

    /** @return list<self> */
    public static function all(Plan $plan, Face $face = Face::Set): array
    {
        $on = [];
        foreach ($plan->devices as $device) {
            $segment = null === $device->kind->setting('sampleRate') ? null : $device->nic()?->segment;
            if (null !== $segment) {
                $on[$segment][] = $device;
            }
        }
        $sent = $mbps = [];
        foreach ($plan->streams as $stream) {
            $rate = StreamRate::of($plan, $stream, $face);
            if ('L24' === $rate->codec) {
                $sent[$stream->sender] = ($sent[$stream->sender] ?? 0) + ($stream->channels ?? 2);
                $mbps[$stream->sender] = ($mbps[$stream->sender] ?? 0.0) + $rate->mbps();
            }
        }
        $all = [];
        foreach ($on as $segment => $devices) {
            usort($devices, static fn (Device $a, Device $b): int => strnatcasecmp($a->tag, $b->tag));
            $rates = $channels = [];
            foreach ($devices as $device) {
                $rates[(string) $device->setting('sampleRate')->effective($face)][] = $device;
                $channels[$device->key] = [
                    'sends' => max($sent[$device->key] ?? 0, self::patchedChannels($plan, $device)),
                    'has' => null === $device->kind->setting('channels') ? null : (int) $device->setting('channels')->effective($face),
                ];
            }
            uasort($rates, static fn (array $a, array $b): int => \count($b) <=> \count($a));
            $leaders = array_values(array_filter($devices, static fn (Device $one): bool => 'leader' === self::role($one, $face)));
            $all[] = new self(
                (string) $segment,
                $devices,
                $rates,
                $leaders,
                match (\count($leaders)) {
                    0 => self::electClock($devices, $face),
                    1 => $leaders[0],
                    default => null,
                },
                $channels,
                array_sum(array_map(static fn (Device $one): float => $mbps[$one->key] ?? 0.0, $devices)),
            );
        }

        return $all;
    }

    /** How many different channels of a device are patched to another one, as far as it has them. */
    private static function patchedChannels(Plan $plan, Device $device): int
    {
        $has = null === $device->kind->setting('channels') ? 0 : (int) $device->setting('channels')->effective(Face::Set);
        $channels = [];
        foreach ($plan->soundPatches as $patch) {
            for ($i = 0; $patch->from === $device->key && $i < $patch->count; ++$i) {
                $channels[$patch->fromChannel + $i] = true;
            }
        }

        return \count(array_filter(array_keys($channels), static fn (int $channel): bool => $channel <= $has));
    }

    /** Whether the plan says who leads: by itself, or by numbers of cards that are all known. */
    public function isLeaderKnown(): bool
    {
        $may = array_filter($this->devices, static fn (Device $one): bool => 'automatic' === self::role($one));

        return [] !== $this->leaders
            || \count($may) < 2
            || [] === array_filter($may, static fn (Device $one): bool => null === $one->nic()?->mac);
    }

    /** @return list<Device> devices that may be the clock leader: those set to lead, else those that are allowed to */
    public function mayLead(): array
    {
        return match (true) {
            [] !== $this->leaders => $this->leaders,
            $this->isLeaderKnown() => null === $this->leader ? [] : [$this->leader],
            default => array_values(array_filter($this->devices, static fn (Device $one): bool => 'automatic' === self::role($one))),
        };
    }

    /** A single device needs no clock leader. */
    public function isLed(): bool
    {
        return null !== $this->leader || \count($this->devices) < 2;
    }

    /** @return list<Device> devices that send more channels than they have */
    public function overfull(): array
    {
        return array_values(array_filter(
            $this->devices,
            fn (Device $one): bool => null !== $this->channels[$one->key]['has']
                && $this->channels[$one->key]['sends'] > $this->channels[$one->key]['has'],
        ));
    }

    public static function role(Device $device, Face $face = Face::Set): string
    {
        return null === $device->kind->setting('clockRole')
            ? 'follower'
            : (string) ($device->setting('clockRole')->effective($face) ?? 'automatic');
    }

    /**
     * Of those that may, the one with the least identity, which is made of its MAC, where nothing else tells them apart (IEEE 1588 §9.3).
     *
     * @param list<Device> $devices
     */
    private static function electClock(array $devices, Face $face): ?Device
    {
        $may = array_values(array_filter($devices, static fn (Device $one): bool => 'automatic' === self::role($one, $face)));
        usort(
            $may,
            static fn (Device $a, Device $b): int => [$a->nic()->mac->digits ?? 'g', $a->tag] <=> [$b->nic()->mac->digits ?? 'g', $b->tag],
        );

        return $may[0] ?? null;
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'segment' => $this->segment,
            'rates' => array_map(
                static fn (array $of): array => array_map(static fn (Device $one): string => $one->tag, $of),
                $this->rates,
            ),
            'leader' => $this->leader?->tag,
            'leaders' => array_map(static fn (Device $one): string => $one->tag, $this->leaders),
            'mbps' => round($this->mbps, 3),
        ];
    }
}
