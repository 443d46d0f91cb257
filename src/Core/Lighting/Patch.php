<?php

declare(strict_types=1);

namespace Vorhut\Core\Lighting;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;

/** All universes of a job, from the settings of its devices: start address and channels, universes sent or output, priority. */
final readonly class Patch
{
    /**
     * @param array<int, UniversePatch> $universes by number
     * @param list<Device>              $unplaced  fixtures without a start address
     */
    private function __construct(public array $universes, public array $unplaced)
    {
    }

    public static function of(Plan $plan, Face $face = Face::Set): self
    {
        $fixtures = $senders = $receivers = $unplaced = [];
        foreach ($plan->devices as $device) {
            $kind = $device->kind;
            if (null !== $kind->setting('startAddress')) {
                $start = self::number($device, 'startAddress', $face);
                $universe = self::number($device, 'universe', $face);
                if (null === $start || null === $universe) {
                    $unplaced[] = $device;
                } else {
                    $fixtures[$universe][] = new Fixture($device, $start, max(1, self::number($device, 'footprint', $face) ?? 1));
                }
                continue;
            }
            if ($kind->has(Role::LightSender)) {
                foreach (self::sentUniverses($device, $face) as $universe) {
                    $senders[$universe][] = [$device, self::number($device, 'priority', $face) ?? 100];
                }
            }
            if ($kind->has(Role::LightReceiver)) {
                foreach (self::outputPorts($device, $face) as $universe => $ports) {
                    $receivers[$universe][] = [$device, $ports];
                }
            }
        }
        $universes = [];
        foreach (array_keys($fixtures + $senders + $receivers) as $number) {
            $universe = Universe::tryOf($number);
            if (null === $universe) {
                continue;
            }
            $here = $fixtures[$number] ?? [];
            usort($here, static fn (Fixture $a, Fixture $b): int => [$a->start, $a->device->tag] <=> [$b->start, $b->device->tag]);
            $by = $senders[$number] ?? [];
            usort($by, static fn (array $a, array $b): int => [$b[1], $a[0]->tag] <=> [$a[1], $b[0]->tag]);
            $universes[$number] = new UniversePatch($universe, $here, $by, $receivers[$number] ?? []);
        }
        ksort($universes);

        return new self($universes, $unplaced);
    }

    /** @return list<int> */
    private static function sentUniverses(Device $device, Face $face): array
    {
        return self::parseUniverses(
            null === $device->kind->setting('universe') ? '' : (string) self::number($device, 'universe', $face),
            null === $device->kind->setting('universesSent') ? '' : (string) $device->setting('universesSent')->effective($face),
        );
    }

    /**
     * @param string $one  the universe of a record that has one
     * @param string $list universes and ranges of them, of what sends many
     *
     * @return list<int> the universes sent
     */
    public static function parseUniverses(string $one, string $list): array
    {
        $sent = 1 === preg_match('/^[0-9]{1,5}$/D', $one) ? [(int) $one] : [];
        foreach (preg_split('/[\s,;]+/', $list) ?: [] as $part) {
            if (1 === preg_match('/^([0-9]{1,5})(?:-([0-9]{1,5}))?$/D', $part, $found)) {
                $last = min((int) ($found[2] ?? $found[1]), (int) $found[1] + Universe::SLOTS);
                for ($number = (int) $found[1]; $number <= $last; ++$number) {
                    $sent[] = $number;
                }
            }
        }

        return array_values(array_unique($sent));
    }

    /** @return array<int, list<int>> universe → ports that give it out */
    private static function outputPorts(Device $device, Face $face): array
    {
        $setting = $device->kind->setting('universe');
        if (null === $setting) {
            return [];
        }
        if (SettingScope::Item !== $setting->scope) {
            $one = self::number($device, 'universe', $face);

            return null === $one ? [] : [$one => []];
        }
        $given = [];
        for ($port = 1; $port <= $setting->count; ++$port) {
            $one = self::number($device, 'universe.'.$port, $face);
            if (null !== $one) {
                $given[$one][] = $port;
            }
        }

        return $given;
    }

    private static function number(Device $device, string $slot, Face $face): ?int
    {
        $value = $device->setting($slot)->effective($face);

        return null === $value || 1 !== preg_match('/^[0-9]{1,6}$/D', $value) ? null : (int) $value;
    }
}
