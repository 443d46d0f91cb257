<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;

/** Every way that the job needs, by each part of its ports that a filter tells apart, with its walk; of those alike one is walked. */
final class RequiredPaths
{
    /**
     * @param bool $onlyPlanned without flows that only tests need, flows to an address outside the plan, and pairs of segments beyond
     * neighbours
     *
     * @return \Generator<int, array{Flow, Port, Walk}>
     */
    public static function of(NetworkModel $model, bool $onlyPlanned = false): \Generator
    {
        $equivalence = new HostEquivalence($model);
        /** @var array<string, Walk> $walks */
        $walks = [];
        foreach (RequiredFlows::of($model->plan) as $flow) {
            if ($onlyPlanned && ($flow->isTest || $flow->isAnywhere || $flow->isOneOfMany)) {
                continue;
            }
            $alike = $equivalence->ofFlow($flow);
            foreach ($equivalence->portsOf($flow) as $port) {
                yield [$flow, $port, $walks["$alike $port"] ??= $flow->walk($model, $port)];
            }
        }
    }
}
