<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Text\Message;

use function Amp\delay;

/** Waits for devices of the lab that are still starting: until they are up, they say nothing about the plan. */
final readonly class LabStart
{
    private const STEP = 0.5;

    /** @param float $seconds for which a device is waited for */
    public function __construct(private NetworkAccess $access, private float $seconds)
    {
    }

    /** @throws NoAnswer where a device that the test depends on is still starting then */
    public function wait(Plan $plan, VantagePoint $place, ProofTest $test): void
    {
        $involved = [];
        for ($waited = 0.0; [] !== $starting = $this->access->starting($place->address); $waited += self::STEP) {
            $involved = [] === $involved ? self::involvedDevices($plan, $test) : $involved;
            $starting = array_values(array_intersect($starting, $involved));
            if ([] === $starting) {
                return;
            }
            if ($waited >= $this->seconds) {
                $tags = array_map(static fn (string $key): string => $plan->devices[$key]->tag, $starting);
                throw NoAnswer::notAsked(new Message('still starting: {devices}', ['devices' => implode(', ', $tags)]));
            }
            delay(self::STEP);
        }
    }

    /** @return list<string> the devices whose values the prediction of a test depends on */
    private static function involvedDevices(Plan $plan, ProofTest $test): array
    {
        $devices = [$test->to => true];
        foreach ($test->facts()->all() as $fact) {
            [$section, $key] = explode('/', explode('#', $fact->record())[0], 2) + [1 => ''];
            $device = match ($section) {
                'devices' => $key,
                'nics' => $plan->nics[$key]->device ?? '',
                'extensions' => $plan->extensions[$key]->phone ?? '',
                default => '',
            };
            $devices[$device] = true;
        }

        return array_values(array_filter(
            array_map(strval(...), array_keys($devices)),
            static fn (string $device): bool => isset($plan->devices[$device]),
        ));
    }
}
