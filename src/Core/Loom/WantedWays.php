<?php

declare(strict_types=1);

namespace Vorhut\Core\Loom;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Walk\NetworkModel;
use Vorhut\Core\Walk\Walk;
use Vorhut\Core\Walk\Walker;

/** Every way that the job needs, by the first and the last of its ports, with its walk. Of ways that are alike one is walked. */
final class WantedWays
{
    /** @return \Generator<int, array{Flow, Port, Walk}> */
    public static function of(NetworkModel $model): \Generator
    {
        $likeness = new Likeness($model);
        /** @var array<string, Walk> $walks */
        $walks = [];
        foreach (Flows::of($model->plan) as $flow) {
            $alike = (str_starts_with($flow->from, 'outposts/') ? $flow->from : $likeness->of($flow->from)).'>'.$likeness->of($flow->to);
            foreach (array_unique([$flow->port->number, $flow->last]) as $number) {
                $port = Port::of($flow->port->transport, $number);
                yield [$flow, $port, $walks["$alike $port"] ??= Walker::between($model, $flow->from, $flow->to, $port)];
            }
        }
    }
}
