<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;

/** Which devices have to be finished before a step of another can be done, as far as the plan tells. */
final readonly class Precedence
{
    public function __construct(private Plan $plan)
    {
    }

    /** @return array<string, list<string>> code of the step → keys of the devices that have to be finished before */
    public function of(Device $device): array
    {
        $before = [];
        foreach ($device->steps as $step) {
            foreach ($step->needs as $need) {
                $keys = match ($need->word) {
                    'staged' => [$this->plan->settings()->slot($device, $need->of)?->value->planned ?? ''],
                    'registrar-entry' => $this->registrars($device),
                    default => [],
                };
                foreach ($keys as $key) {
                    if (isset($this->plan->devices[$key]) && $key !== $device->key) {
                        $before[$step->code][] = $key;
                    }
                }
            }
        }

        return $before;
    }

    /** @return list<string> */
    private function registrars(Device $device): array
    {
        $registrars = [];
        foreach ($this->plan->extensionsOf($device->key) as $extension) {
            $registrars[] = $this->plan->accountOf($extension->key)->registrar ?? $extension->pbx ?? '';
        }

        return array_values(array_unique($registrars));
    }
}
