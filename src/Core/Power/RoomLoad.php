<?php

declare(strict_types=1);

namespace Vorhut\Core\Power;

use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;

/**
 * What the devices of one room or rack take from the mains, how warm they make it, and what they weigh. All that goes in comes out as heat
 * where it is used: what a switch feeds is drawn where the switch is, and warms where the fed device is.
 */
final readonly class RoomLoad implements \JsonSerializable
{
    /** BTU per hour of a watt (ISO 80000-5: 1 BTU is 1055.06 J). */
    private const BTU_PER_HOUR = 3600 / 1055.056;
    /** The share of a circuit used for a load of several hours; the local code decides. */
    public const LASTING = 0.8;

    /**
     * @param float        $mains   watts at sockets, with what its switches feed
     * @param float        $fed     of these, watts that its switches feed
     * @param float        $heat    watts
     * @param float        $weight  total kg of those whose weight is known
     * @param int          $inlets  mains plugs
     * @param int          $units   total rack units of those whose height is known
     * @param float        $paired  watts of those with two supplies: either circuit must carry them without the other
     * @param list<Device> $unknown those with unknown consumption
     */
    private function __construct(
        public string $room,
        public int $devices,
        public float $mains,
        public float $fed,
        public float $heat,
        public float $weight,
        public int $inlets,
        public int $units,
        public float $paired,
        public array $unknown,
    ) {
    }

    /**
     * @param list<PoeBudget> $budgets of the plan's switches
     *
     * @return list<self> the warmest first; devices without a room make one of their own, without a name
     */
    public static function all(Plan $plan, array $budgets): array
    {
        $fedBy = $lost = [];
        foreach ($budgets as $budget) {
            foreach ($budget->loads as $load) {
                $draw = $load->draw ?? $load->watts;
                $fedBy[$budget->switch->key] = ($fedBy[$budget->switch->key] ?? 0.0) + $draw;
                // The loss in the cable heats it; it is counted where it is drawn.
                $lost[$budget->switch->key] = ($lost[$budget->switch->key] ?? 0.0) + $draw - $load->watts;
            }
        }
        $rooms = [];
        foreach ($plan->devices as $device) {
            // A device without a box needs no room: a registrar at a provider, a detector on a cord.
            if ([] !== $device->kind->ports || null !== $device->kind->power) {
                $rooms[$device->room][] = $device;
            }
        }
        $all = [];
        foreach ($rooms as $room => $devices) {
            $all[] = self::of((string) $room, $devices, $fedBy, $lost);
        }
        usort($all, static fn (self $a, self $b): int => [$b->heat, $a->room] <=> [$a->heat, $b->room]);

        return $all;
    }

    /**
     * @param list<Device>         $devices
     * @param array<string, float> $fedBy  switch → watts that it feeds
     * @param array<string, float> $lost   switch → watts that its cables take
     */
    private static function of(string $room, array $devices, array $fedBy, array $lost): self
    {
        $mains = $fed = $heat = $weight = $paired = 0.0;
        $inlets = $units = 0;
        $unknown = [];
        foreach ($devices as $device) {
            $power = $device->kind->power;
            $weight += $device->kind->weight ?? 0.0;
            $units += $device->kind->units ?? 0;
            if (null === $power || $power->watts <= 0) {
                $unknown[] = $device;
                continue;
            }
            $heat += $power->watts + ($lost[$device->key] ?? 0.0);
            if (null !== $power->poe() || 'battery' === $power->by) {
                continue;
            }
            $mains += $power->watts + ($fedBy[$device->key] ?? 0.0);
            $fed += $fedBy[$device->key] ?? 0.0;
            $inlets += $power->inlets;
            $paired += $power->inlets > 1 ? $power->watts + ($fedBy[$device->key] ?? 0.0) : 0.0;
        }

        return new self($room, \count($devices), $mains, $fed, $heat, $weight, $inlets, $units, $paired, $unknown);
    }

    public function btuPerHour(): float
    {
        return $this->heat * self::BTU_PER_HOUR;
    }

    /** Ampere at so many volts of the mains; power factors, and what flows at switching on, apart. */
    public function ampere(float $volts): float
    {
        return $this->mains / $volts;
    }

    /** kg on each unit of a rack; null where nothing of it goes into one. */
    public function weightPerUnit(): ?float
    {
        return 0 === $this->units ? null : $this->weight / $this->units;
    }

    /** The number of circuits with so many amperes, each loaded for hours, where any of them may fail for devices with two supplies. */
    public function circuits(float $volts, float $ampere): int
    {
        $count = static fn (float $watts): int => (int) ceil($watts / $volts / ($ampere * self::LASTING) - 1e-9);

        // With two supplies each side must carry the full load when the other fails.
        return max($count($this->mains), 2 * $count($this->paired));
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'room' => $this->room,
            'devices' => $this->devices,
            'mains' => round($this->mains, 1),
            'fed' => round($this->fed, 1),
            'heat' => round($this->heat, 1),
            'btuPerHour' => round($this->btuPerHour()),
            'weight' => round($this->weight, 1),
            'inlets' => $this->inlets,
            'units' => $this->units,
            'paired' => round($this->paired, 1),
            'unknown' => array_map(static fn (Device $one): string => $one->tag, $this->unknown),
        ];
    }
}
