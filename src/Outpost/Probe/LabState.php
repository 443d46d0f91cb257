<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;

/** How far the lab is with the devices of a job. */
final readonly class LabState
{
    private const NAMED = 5;

    public function __construct(private NetworkAccessChoice $accesses)
    {
    }

    /** The reason to wait, or an error; null if every device is up. */
    public function of(Job $job, Plan $plan): ?Message
    {
        $access = $this->accesses->for($job);
        $model = NetworkModel::of($plan, Face::Set);
        foreach ($plan->segments as $segment) {
            $place = $model->outpost($segment->key)?->ipv4();
            if (null === $place) {
                continue;
            }
            try {
                $access->adapter($segment->network, $place);
            } catch (NoAnswer $e) {
                return $e->message();
            }

            return self::starting($plan, $access->starting($place));
        }

        return null;
    }

    /** @param list<string> $devices */
    private static function starting(Plan $plan, array $devices): ?Message
    {
        $tags = array_map(static fn (string $key): string => $plan->devices[$key]->tag ?? $key, $devices);
        sort($tags, \SORT_NATURAL);

        return match (true) {
            [] === $tags => null,
            \count($tags) <= self::NAMED => new Message('still starting: {devices}', ['devices' => implode(', ', $tags)]),
            default => new Message('still starting: {devices} and {n} more', [
                'devices' => implode(', ', \array_slice($tags, 0, self::NAMED)),
                'n' => \count($tags) - self::NAMED,
            ]),
        };
    }
}
