<?php

declare(strict_types=1);

namespace Vorhut\Core\Audio;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Media\Cabling;
use Vorhut\Core\Media\Latency;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SoundPatch;

/**
 * Audio patches as a table: senders and receivers per channel, inputs patched twice, channels that do not exist, processor inputs that are
 * not routed to an output, and the latency of each path. The input of a processor channel is routed to the output with the same number.
 */
final readonly class PatchBay implements \JsonSerializable
{
    /** Bits of the longest frame that a switch takes in whole before it passes it on (IEEE 802.3 §3.1.1, with preamble). */
    private const FRAME = 1526 * 8;
    /** A path is followed this far: more processors in a row mean a loop. */
    private const FARTHEST = 64;
    /** So many channels are followed; patches beyond them are reported as left out. */
    private const MOST_CHANNELS = 100_000;
    /** So many ways are told of a job, whatever its outputs fan out to. */
    private const MOST_WAYS = 5_000;

    /**
     * @param list<SoundWay>                                                     $ways
     * @param list<array{device: Device, channel: int, count: int, patches: list<SoundPatch>}> $twice  channels that several send to
     * @param list<array{device: Device, patch: SoundPatch, sends: bool, has: int}>            $past   patches over the end of a device
     * @param list<array{device: Device, channel: int, count: int, given: bool}>               $holes  channels of a processor that are
     *                                                                           given and not taken on, or taken and not given
     * @param list<SoundPatch>                                                   $apart  between devices of two networks
     * @param list<list<Device>>                                                 $circles
     * @param int                                                                $left  patches that are not followed any more
     * @param bool                                                               $isCut there are more ways than are told
     */
    private function __construct(
        public array $ways,
        public array $twice,
        public array $past,
        public array $holes,
        public array $apart,
        public array $circles,
        public int $left,
        public bool $isCut,
    ) {
    }

    /** Null where nothing is patched. */
    public static function ifPatched(Plan $plan): ?self
    {
        return [] === $plan->soundPatches ? null : self::of($plan);
    }

    public static function of(Plan $plan, Face $face = Face::Set): self
    {
        /** @var array<string, array<int, list<SoundPatch>>> $given device → channel → patches that send there */
        $given = [];
        /** @var array<string, array<int, list<SoundPatch>>> $taken device → channel → what takes it from there */
        $taken = [];
        $past = $apart = [];
        $patches = self::followable($plan);
        foreach ($patches as $patch) {
            [$from, $to] = [$plan->devices[$patch->from], $plan->devices[$patch->to]];
            foreach ([[$from, $patch->fromChannel, true], [$to, $patch->toChannel, false]] as [$device, $first, $sends]) {
                $has = self::channels($device, $face);
                if (null !== $has && $first + $patch->count - 1 > $has) {
                    $past[] = ['device' => $device, 'patch' => $patch, 'sends' => $sends, 'has' => $has];
                }
            }
            if ($from->nic()?->segment !== $to->nic()?->segment) {
                $apart[] = $patch;
            }
            for ($i = 0; $i < $patch->count; ++$i) {
                $given[$patch->to][$patch->toChannel + $i][] = $patch;
                $taken[$patch->from][$patch->fromChannel + $i][] = $patch;
            }
        }
        $twice = $holes = [];
        foreach ($plan->devices as $key => $device) {
            [$in, $out] = [$given[$key] ?? [], $taken[$key] ?? []];
            array_push($twice, ...self::twice($device, $in));
            if ($device->kind->has(Role::ProcessesSound)) {
                array_push(
                    $holes,
                    ...self::holes($device, array_diff_key($in, $out), true),
                    ...self::holes($device, array_diff_key($out, $in), false),
                );
            }
        }
        $legs = new \ArrayObject();
        $cabling = Cabling::of($plan);
        $ways = [];
        $left = self::MOST_WAYS;
        foreach (self::begins($plan, $patches, $given) as [$patch, $first, $count]) {
            foreach (self::follow($plan, $taken, [[$patch, $first]], $count, $left) as [$steps, $ends, $width]) {
                $ways[] = self::way($plan, $cabling, $steps, $width, $ends, $face, $legs);
            }
        }
        $beyond = \count($plan->soundPatches) - \count($patches);

        return new self($ways, $twice, $past, $holes, $apart, self::circles($plan, $patches), $beyond, $left < 0);
    }

    /** @return list<SoundPatch> of devices that are there, as many as are followed */
    private static function followable(Plan $plan): array
    {
        $patches = [];
        $channels = 0;
        foreach ($plan->soundPatches as $patch) {
            $isThere = isset($plan->devices[$patch->from], $plan->devices[$patch->to]);
            $channels += $patch->count;
            if ($isThere && $channels <= self::MOST_CHANNELS) {
                $patches[] = $patch;
            }
        }

        return $patches;
    }

    public function isWhole(): bool
    {
        return [] === [...$this->twice, ...$this->past, ...$this->holes, ...$this->apart, ...$this->circles]
            && 0 === $this->left && !$this->isCut;
    }

    /** How many channels a device has on the network; null where its kind does not say. */
    public static function channels(Device $device, Face $face = Face::Set): ?int
    {
        foreach (['channels', 'racks'] as $name) {
            if (null !== $device->kind->setting($name)) {
                return (int) $device->setting($name)->effective($face);
            }
        }

        return null;
    }

    /**
     * @param array<int, list<SoundPatch>> $in
     *
     * @return list<array{device: Device, channel: int, count: int, patches: list<SoundPatch>}>
     */
    private static function twice(Device $device, array $in): array
    {
        ksort($in);
        $twice = [];
        foreach ($in as $channel => $patches) {
            $last = \count($twice) - 1;
            if (\count($patches) < 2) {
                continue;
            }
            if ($last >= 0 && $twice[$last]['patches'] === $patches && $twice[$last]['channel'] + $twice[$last]['count'] === $channel) {
                ++$twice[$last]['count'];
            } else {
                $twice[] = ['device' => $device, 'channel' => $channel, 'count' => 1, 'patches' => $patches];
            }
        }

        return $twice;
    }

    /**
     * @param array<int, mixed> $channels
     *
     * @return list<array{device: Device, channel: int, count: int, given: bool}>
     */
    private static function holes(Device $device, array $channels, bool $given): array
    {
        ksort($channels);
        $holes = [];
        $first = $count = 0;
        foreach (array_keys($channels) as $channel) {
            if ($count > 0 && $first + $count === $channel) {
                ++$count;
                continue;
            }
            if ($count > 0) {
                $holes[] = ['device' => $device, 'channel' => $first, 'count' => $count, 'given' => $given];
            }
            [$first, $count] = [$channel, 1];
        }
        if ($count > 0) {
            $holes[] = ['device' => $device, 'channel' => $first, 'count' => $count, 'given' => $given];
        }

        return $holes;
    }

    /**
     * Where sound begins: at devices that work on nothing, and at channels of a processor that nothing comes into.
     *
     * @param list<SoundPatch>                            $patches
     * @param array<string, array<int, list<SoundPatch>>> $given
     *
     * @return list<array{SoundPatch, int, int}> patch, offset of its first channel, how many of it in a row
     */
    private static function begins(Plan $plan, array $patches, array $given): array
    {
        $begins = [];
        foreach ($patches as $patch) {
            if (!$plan->devices[$patch->from]->kind->has(Role::ProcessesSound)) {
                $begins[] = [$patch, 0, $patch->count];
                continue;
            }
            for ($i = 0; $i < $patch->count; ++$i) {
                $last = \count($begins) - 1;
                if (isset($given[$patch->from][$patch->fromChannel + $i])) {
                    continue;
                }
                if ($last >= 0 && $begins[$last][0] === $patch && $begins[$last][1] + $begins[$last][2] === $i) {
                    ++$begins[$last][2];
                } else {
                    $begins[] = [$patch, $i, 1];
                }
            }
        }

        return $begins;
    }

    /**
     * All that becomes of channels in a row; they part where a processor's outputs go different ways.
     *
     * @param array<string, array<int, list<SoundPatch>>>   $taken
     * @param non-empty-list<array{SoundPatch, int}> $steps patch and the offset in it, so far
     *
     * @param int                                           $left  how many more ways are told
     *
     * @return list<array{non-empty-list<array{SoundPatch, int}>, bool, int}> the way, whether it ends well, how many channels
     */
    private static function follow(Plan $plan, array $taken, array $steps, int $count, int &$left): array
    {
        if (--$left < 0) {
            return [];
        }
        [$patch, $offset] = $steps[\count($steps) - 1];
        $device = $plan->devices[$patch->to];
        if (!$device->kind->has(Role::ProcessesSound)) {
            return [[$steps, true, $count]];
        }
        $first = $patch->toChannel + $offset;
        $ways = [];
        /** @var list<array{list<SoundPatch>, int, int}> $parts what takes it on, first channel, how many in a row */
        $parts = [];
        for ($channel = $first; $channel < $first + $count; ++$channel) {
            $next = $taken[$device->key][$channel] ?? [];
            $last = \count($parts) - 1;
            if ($last >= 0 && $parts[$last][0] === $next) {
                ++$parts[$last][2];
            } else {
                $parts[] = [$next, $channel, 1];
            }
        }
        foreach ($parts as [$next, $channel, $width]) {
            // The part of the earlier channels that continues here.
            $so = array_map(static fn (array $step): array => [$step[0], $step[1] + $channel - $first], $steps);
            if ([] === $next || \count($steps) >= self::FARTHEST) {
                $ways[] = [$so, false, $width];
                continue;
            }
            foreach ($next as $one) {
                $been = array_filter($so, static fn (array $step): bool => $step[0] === $one);
                if ([] !== $been) {
                    $ways[] = [$so, false, $width];
                    continue;
                }
                array_push($ways, ...self::follow($plan, $taken, [...$so, [$one, $channel - $one->fromChannel]], $width, $left));
            }
        }

        return $ways;
    }

    /**
     * @param non-empty-list<array{SoundPatch, int}>  $steps
     * @param \ArrayObject<string, float> $legs ms of a way over cables, computed once
     */
    private static function way(
        Plan $plan,
        Cabling $cabling,
        array $steps,
        int $count,
        bool $ends,
        Face $face,
        \ArrayObject $legs,
    ): SoundWay {
        [$patch, $offset] = $steps[0];
        $begin = $plan->devices[$patch->from];
        $stations = [['tag' => $begin->tag, 'device' => $begin->key, 'first' => $patch->fromChannel + $offset]];
        $samples = $hops = [];
        foreach ($steps as [$patch, $offset]) {
            $device = $plan->devices[$patch->to];
            $stations[] = ['tag' => $device->tag, 'device' => $device->key, 'first' => $patch->toChannel + $offset];
            $samples[] = self::number($device, 'networkBuffer', $face) ?? 0;
            $samples[] = self::number($device, 'plugInSamples', $face) ?? 0;
            $leg = $patch->from.'>'.$patch->to;
            $legs[$leg] ??= self::overCables($cabling, $patch->from, $patch->to);
            $hops[] = $legs[$leg];
        }
        $kilo = (float) (null === $begin->kind->setting('sampleRate') ? 48 : $begin->setting('sampleRate')->effective($face) ?? 48);

        return new SoundWay(
            $stations,
            $count,
            array_map(static fn (array $step): SoundPatch => $step[0], $steps),
            $ends,
            Latency::of(max(1, (int) round(1000 * $kilo)), $samples, $hops),
            $plan->job->intOrNull('soundLimit'),
        );
    }

    /** ms: each switch takes a frame in whole before it passes it on. */
    private static function overCables(Cabling $cabling, string $from, string $to): float
    {
        $ms = 0.0;
        foreach ($cabling->way($from, $to) ?? [] as $hop) {
            $ms += self::FRAME / (1000 * ($hop->cable->mbps ?? Cabling::USUAL_MBPS));
        }

        return $ms;
    }

    private static function number(Device $device, string $setting, Face $face): ?int
    {
        $value = null === $device->kind->setting($setting) ? null : $device->setting($setting)->effective($face);

        return null === $value || '' === $value ? null : (int) $value;
    }

    /**
     * Processors that hand their sound on to one another until it comes back: it whistles, or is silent.
     *
     * @param list<SoundPatch> $patches
     *
     * @return list<list<Device>>
     */
    private static function circles(Plan $plan, array $patches): array
    {
        /** @var array<string, array<string, true>> $next channel of a processor → where it goes on */
        $next = [];
        $works = static fn (string $device): bool => $plan->devices[$device]->kind->has(Role::ProcessesSound);
        foreach ($patches as $patch) {
            if (!$works($patch->from) || !$works($patch->to)) {
                continue;
            }
            for ($i = 0; $i < $patch->count; ++$i) {
                $next[$patch->from.'#'.($patch->fromChannel + $i)][$patch->to.'#'.($patch->toChannel + $i)] = true;
            }
        }
        $circles = $state = [];
        foreach (array_keys($next) as $start) {
            /** @var list<array{string, list<string>}> $stack */
            $stack = isset($state[$start]) ? [] : [[$start, array_keys($next[$start])]];
            while ([] !== $stack) {
                [$at, $left] = array_pop($stack);
                $state[$at] = 'open';
                $to = array_shift($left);
                if (null === $to) {
                    $state[$at] = 'done';
                    continue;
                }
                $stack[] = [$at, $left];
                if ('open' === ($state[$to] ?? null)) {
                    $round = array_map(static fn (array $one): string => $one[0], $stack);
                    $round = \array_slice($round, (int) array_search($to, $round, true));
                    $devices = array_unique(array_map(static fn (string $one): string => explode('#', $one)[0], $round));
                    sort($devices);
                    $circles[implode(' ', $devices)] = array_map(static fn (string $key): Device => $plan->devices[$key], $devices);
                } elseif (!isset($state[$to])) {
                    $stack[] = [$to, array_keys($next[$to] ?? [])];
                }
            }
        }

        return array_values($circles);
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'ways' => $this->ways,
            'twice' => array_map(static fn (array $one): array => [
                'device' => $one['device']->tag,
                'channels' => SoundPatch::span($one['channel'], $one['count']),
                'patches' => array_map(static fn (SoundPatch $patch): string => $patch->key, $one['patches']),
            ], $this->twice),
            'past' => array_map(static fn (array $one): array => [
                'device' => $one['device']->tag, 'patch' => $one['patch']->key, 'has' => $one['has'],
            ], $this->past),
            'holes' => array_map(static fn (array $one): array => [
                'device' => $one['device']->tag,
                'channels' => SoundPatch::span($one['channel'], $one['count']),
                'given' => $one['given'],
            ], $this->holes),
            'apart' => array_map(static fn (SoundPatch $patch): string => $patch->key, $this->apart),
            'left' => $this->left,
            'cut' => $this->isCut,
            'circles' => array_map(
                static fn (array $devices): array => array_map(static fn (Device $one): string => $one->tag, $devices),
                $this->circles,
            ),
        ];
    }
}
