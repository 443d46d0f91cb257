<?php

declare(strict_types=1);

namespace Vorhut\Core\Power;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;

/** What one switch feeds, against what it has: by class or by draw, as it is set to share out. */
final readonly class PoeBudget implements \JsonSerializable
{
    /** A cable without a measured length counts as the longest one permitted to a socket (ISO/IEC 11801). */
    public const ASSUMED_METRES = 90;
    /** Of what a switch has, so much stays free: cables get longer and warmer, devices get more. */
    public const RESERVE = 0.15;

    /**
     * @param list<PoeLoad> $loads by the order in which they are shed, the last first
     * @param float         $has   watts of the switch for its ports
     */
    private function __construct(
        public Device $switch,
        public array $loads,
        public float $has,
        public string $by,
        public float $sum,
        public float $peak,
    ) {
    }

    /** @return list<self> of all switches that power a device */
    public static function all(Plan $plan, Face $face = Face::Set, float $celsius = 20.0): array
    {
        $at = [];
        foreach ($plan->cables as $cable) {
            $device = $plan->devices[$cable->device] ?? null;
            if (!$cable->spare && null !== $device?->kind->power?->poe()) {
                // Two cables to one device feed it once.
                $at[$cable->switch][$device->key] ??= $cable;
            }
        }
        $all = [];
        foreach ($at as $switch => $cables) {
            $one = $plan->devices[$switch] ?? null;
            if (null === $one) {
                continue;
            }
            $by = (string) ($one->setting('poeAllotment')->effective($face) ?? 'class');
            $loads = [];
            foreach ($cables as $key => $cable) {
                $device = $plan->devices[$key];
                $power = $device->kind->power;
                $class = $power?->poe();
                if (null === $power || null === $class) {
                    continue;
                }
                $metres = $cable->metres ?? self::ASSUMED_METRES;
                $draw = PoeDraw::byClass($class, $power->watts, $metres, $celsius)?->watts;
                $loads[] = new PoeLoad(
                    $device,
                    $cable,
                    $class,
                    $power->watts,
                    $metres,
                    null === $cable->metres,
                    $draw,
                    $class->atPort(),
                    'draw' === $by ? $draw ?? $class->atPort() : $class->atPort(),
                    PoeDraw::longest($class, $power->watts, $celsius),
                );
            }
            usort(
                $loads,
                static fn (PoeLoad $a, PoeLoad $b): int => [self::rank($a), $a->device->tag] <=> [self::rank($b), $b->device->tag],
            );
            $all[] = new self(
                $one,
                $loads,
                (float) ($one->setting('poeBudget')->effective($face) ?? 0),
                $by,
                array_sum(array_map(static fn (PoeLoad $load): float => $load->counted, $loads)),
                array_sum(array_map(static fn (PoeLoad $load): float => $load->peak, $loads)),
            );
        }
        usort($all, static fn (self $a, self $b): int => strnatcasecmp($a->switch->tag, $b->switch->tag));

        return $all;
    }

    /** @return list<Device> those powered over their data cable, without a known switch */
    public static function withoutSwitch(Plan $plan): array
    {
        $cabled = [];
        foreach ($plan->cables as $cable) {
            $cabled[$cable->device] = true;
        }

        return array_values(array_filter(
            $plan->devices,
            static fn (Device $one): bool => null !== $one->kind->power?->poe() && !isset($cabled[$one->key]),
        ));
    }

    public function usable(): float
    {
        return $this->has * (1 - self::RESERVE);
    }

    public function isOver(): bool
    {
        return $this->sum > $this->has + 0.005;
    }

    public function eatsReserve(): bool
    {
        return $this->sum > $this->usable() + 0.005;
    }

    /** All start at once after a power cut: by their classes it is more than the switch has. */
    public function startsInTurn(): bool
    {
        return $this->peak > $this->has + 0.005;
    }

    /** @return list<PoeLoad> who stays dark while the sum is more than there is: those that are shed first, from the end of the order */
    public function shedFirst(): array
    {
        $left = $this->sum;
        $shed = [];
        foreach (array_reverse($this->loads) as $load) {
            if ($left <= $this->has + 0.005) {
                break;
            }
            $left -= $load->counted;
            $shed[] = $load;
        }

        return $shed;
    }

    /** By how many ways people reach for help: what calls is fed last of all to go dark, pictures before it, all else first. */
    private static function rank(PoeLoad $load): int
    {
        return match (true) {
            $load->device->kind->has(Role::Registrar), $load->device->kind->has(Role::Switches) => 0,
            $load->device->kind->has(Role::Caller), $load->device->kind->has(Role::Callee) => 1,
            $load->device->kind->has(Role::Controlled) => 2,
            default => 3,
        };
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'switch' => $this->switch->tag,
            'has' => $this->has,
            'usable' => round($this->usable(), 2),
            'by' => $this->by,
            'sum' => round($this->sum, 2),
            'peak' => round($this->peak, 2),
            'over' => $this->isOver(),
            'shed' => array_map(static fn (PoeLoad $load): string => $load->device->tag, $this->shedFirst()),
            'loads' => $this->loads,
        ];
    }
}
