<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Segment;

/**
 * Every place × every service of every device: whether requests arrive and replies return. One walk serves all equivalent devices and all
 * ports that no rule distinguishes, so that the cells of five thousand devices cost a few thousand walks.
 */
final class ReachabilityMatrix
{
    private readonly HostEquivalence $equivalence;
    /** @var array<string, Cell> place, equivalence class and class of port → result */
    private array $cells = [];
    /** @var array<string, Crossing> */
    private array $crossings = [];
    /** @var array<string, array<string, list<Device>>>|null segment → sort → devices that answer alike to everybody */
    private ?array $sorts = null;

    /** How many walks were gone for it. */
    public int $walked = 0;

    public function __construct(public readonly NetworkModel $model)
    {
        $this->equivalence = new HostEquivalence($model);
    }

    /** @param Service|null $service null for the path without a service */
    public function cell(string $place, Device $device, ?Service $service): Cell
    {
        $port = $service?->port;
        $like = $this->equivalence;
        $class = $like->ofPlace($place, $device->key).' '.$like->of($device->key).' '.$like->ofPort($port)
            .(true === $service?->ownSubnetOnly ? ' own' : '');

        return $this->cells[$class] ??= $this->walk($place, $device, $port);
    }

    /** @return array<string, Segment> the places that one can look from */
    public function places(): array
    {
        return array_filter(
            $this->model->plan->segments,
            fn (Segment $segment): bool => null !== $this->model->outpost($segment->key),
        );
    }

    /** @return list<Device> those that live on a segment and answer to something */
    public function devicesOn(string $segment): array
    {
        return array_merge([], ...array_values($this->classes()[$segment] ?? []));
    }

    /** The targets of one place: the services of all devices of a segment. */
    public function crossing(string $place, string $segment): Crossing
    {
        $sorts = $this->classes()[$segment] ?? [];
        // Places that are alike for all who live there see the same.
        $alike = [];
        foreach ($sorts as $devices) {
            $alike[$this->equivalence->ofPlace($place, $devices[0]->key)] = true;
        }
        $key = $segment.' '.implode('+', array_keys($alike));
        if (!isset($this->crossings[$key])) {
            $crossing = new Crossing();
            foreach ($sorts as $devices) {
                foreach (self::servicesOf($devices[0]) as $service) {
                    $crossing = $crossing->with($this->cell($place, $devices[0], $service), \count($devices));
                }
            }
            $this->crossings[$key] = $crossing;
        }

        return $this->crossings[$key];
    }

    /**
     * What would begin or cease to work, were the network another: every cell that differs, devices that are alike together.
     *
     * @return list<Difference>
     */
    public function against(self $after): array
    {
        $found = [];
        foreach ($this->classes() as $segment => $sorts) {
            foreach ($sorts as $devices) {
                $groups = [];
                foreach ($devices as $device) {
                    $groups[$after->equivalence->of($device->key)][] = $device;
                }
                foreach ($groups as $alike) {
                    $found = [...$found, ...$this->differences($after, (string) $segment, $alike)];
                }
            }
        }

        return $found;
    }

    /**
     * @param non-empty-list<Device> $alike
     *
     * @return list<Difference>
     */
    private function differences(self $after, string $segment, array $alike): array
    {
        $found = [];
        if (!isset($after->model->plan->devices[$alike[0]->key])) {
            return [];
        }
        foreach (array_intersect_key($this->places(), $after->places()) as $place) {
            foreach (self::servicesOf($alike[0]) as $service) {
                $was = $this->cell($place->key, $alike[0], $service);
                $is = $after->cell($place->key, $alike[0], $service);
                if (!$was->equals($is)) {
                    $found[] = new Difference($place, $segment, $alike, $service, $was, $is);
                }
            }
        }

        return $found;
    }

    /** @return list<Service|null> the services to try at a device; null for a device without services, to try the path only */
    public static function servicesOf(Device $device): array
    {
        return [] === $device->services() ? [null] : $device->services();
    }

    /** @return string what tells a device from others of its kind: the ports that its own settings move */
    private static function portOverrides(Device $device): string
    {
        $moved = '';
        foreach ($device->kind->services as $service) {
            $moved .= null === $service->follows ? '' : ' '.$device->setting($service->follows)->planned;
        }

        return $moved;
    }

    private function walk(string $place, Device $device, ?Port $port): Cell
    {
        ++$this->walked;

        return Cell::of(Walker::between($this->model, OutpostKey::on($place), $device->key, $port));
    }

    /** @return array<string, array<string, list<Device>>> */
    private function classes(): array
    {
        if (null === $this->sorts) {
            $this->sorts = [];
            foreach ($this->model->plan->devices as $device) {
                $segment = $device->nic()->segment ?? null;
                if (null !== $segment && [] !== $this->model->hostsOf($device->key)) {
                    $class = $this->equivalence->of($device->key).' '.$device->kind->code.self::portOverrides($device);
                    $this->sorts[$segment][$class][] = $device;
                }
            }
        }

        return $this->sorts;
    }
}
