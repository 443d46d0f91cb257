<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Bench\WritePlan;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Entity\Job;
use Vorhut\Entity\WorkOrder;
use Vorhut\Outpost\Orders\Orders;

/** Has an outpost write the planned settings to devices that take them over the network. */
final readonly class WriteDevice
{
    public function __construct(private Orders $orders)
    {
    }

    /** @return array<string, WritePlan> of all devices that take something over the network and do not hold it yet, by their keys */
    public static function plans(Plan $plan): array
    {
        return array_filter(
            array_map(static fn (Device $device): WritePlan => WritePlan::of($plan, $device), $plan->devices),
            static fn (WritePlan $one): bool => [] !== $one->toDo() && null !== $one->device->nic()?->segment,
        );
    }

    /**
     * @param list<string> $devices keys; one that is not to be written to, or has an order already, is passed over
     *
     * @return int how many were ordered
     */
    public function order(Job $job, Plan $plan, array $devices, string $by): int
    {
        $count = 0;
        $waiting = $this->waiting($job);
        $plans = self::plans($plan);
        foreach (array_unique($devices) as $key) {
            if (isset($plans[$key]) && !isset($waiting[$key])) {
                $this->orderOne($job, $key, $by);
                ++$count;
            }
        }

        return $count;
    }

    /** @param list<string> $tests keys of tests that are run once it is written */
    public function orderOne(Job $job, string $device, string $by, array $tests = []): void
    {
        $this->orders->give($job, WorkOrder::WRITE, ['device' => $device, 'tests' => $tests], $by);
    }

    /** @return int how many orders were cancelled; writes that have begun are finished */
    public function stop(Job $job, string $by): int
    {
        return $this->orders->callOff($job, WorkOrder::WRITE, $by);
    }

    /** @return array<string, true> devices that have an order which is not finished */
    private function waiting(Job $job): array
    {
        $waiting = [];
        foreach ($this->orders->open($job) as $order) {
            $waiting[\is_string($order->what['device'] ?? null) ? $order->what['device'] : ''] = true;
        }

        return $waiting;
    }
}
