<?php

declare(strict_types=1);

namespace Vorhut\Lab\Part;

use Vorhut\Core\Catalogue\Play;
use Vorhut\Lab\Simulation;
use Vorhut\Lab\StandIn;

/** The families there are, by the names that kinds use for them. */
final class Parts
{
    /** family → what it wants to know of a kind: word → whether that names a setting of the kind */
    public const FAMILIES = [
        'links' => ['to' => true, 'equal' => false, 'needs' => false, 'segment' => false, 'after' => false, 'waits' => false],
        'unlock' => ['setting' => true, 'temporary' => false, 'days' => false, 'guards' => true],
        'licence' => ['code' => false, 'setting' => true, 'included' => false],
        'relay' => ['hears' => true, 'socket' => true, 'output' => false, 'drives' => true],
        'fires' => ['contact' => true, 'mode' => false, 'for' => true],
        'scenes' => ['name' => true, 'hold' => true],
        'keys' => ['scene' => true, 'of' => true],
    ];

    /** @return list<Part> */
    public static function of(StandIn $standIn, Simulation $job): array
    {
        // A company's own kind may have a family that this lab does not know: it simulates less, and no other job stops for it.
        return array_values(array_filter(array_map(
            static fn (Play $play): ?Part => match ($play->family) {
                'links' => new Links($standIn, $job, $play),
                'unlock' => new Unlock($standIn, $play),
                'licence' => new Licence($standIn, $play),
                'relay' => new Relay($standIn, $job, $play),
                'fires' => new Fires($standIn, $play),
                'scenes' => new Scenes($standIn, $play),
                'keys' => new Keys($standIn, $job, $play),
                default => null,
            },
            $standIn->kind->plays,
        )));
    }
}
