<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Bench\ConfirmedChange;
use Vorhut\Core\Plan\AtDevices;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\EditRight;
use Vorhut\Journal\Refused;

/**
 * Applies a fix to the plan, and has an outpost write it to the devices that take settings over the network. What a person enters at a
 * device is recorded when that person says so.
 */
final readonly class ApplyFix
{
    public function __construct(private ChangeWriter $changes, private WriteDevice $writeDevice)
    {
    }

    /**
     * @param bool        $isEntered     whether the person has entered the values at the devices already
     * @param string|null $test          key of the test that is to run once the devices are written
     * @param bool        $mayChangePlan whether the person is a lead engineer of the job
     *
     * @return list<Device> devices that are not connected yet, so that nothing was recorded as entered there
     *
     * @throws Conflict
     * @throws Refused
     */
    public function apply(
        Job $job,
        Plan $plan,
        Change $fix,
        User $by,
        bool $mayChangePlan,
        bool $isEntered = false,
        ?string $test = null,
    ): array {
        if (!$mayChangePlan && EditRight::changeNeedsLead($fix)) {
            throw Refused::because('This fix changes the plan. Only a lead engineer can apply it.');
        }
        $confirmed = ConfirmedChange::of($plan, $fix, $isEntered);
        $this->changes->write($job, $confirmed->change, $by);
        foreach (AtDevices::of($plan, $fix)->byNetwork as $device) {
            $this->writeDevice->orderOne($job, $device->key, $by->name, null === $test ? [] : [$test]);
        }

        return $confirmed->boxed;
    }
}
