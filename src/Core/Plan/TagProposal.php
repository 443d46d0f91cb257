<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Kind;

/** The tag for the next device of a kind: the highest one in the job plus one, else the letters of the kind with 01. */
final class TagProposal
{
    public static function next(Plan $plan, Kind $kind): string
    {
        [$prefix, $number, $digits] = [$kind->tagPrefix.'-', 0, 2];
        foreach ($plan->devices as $device) {
            if ($device->kind->code !== $kind->code || 1 !== preg_match('/^(.*?)(\d{1,6})$/D', $device->tag, $found)) {
                continue;
            }
            if ((int) $found[2] >= $number) {
                [$prefix, $number, $digits] = [$found[1], (int) $found[2], \strlen($found[2])];
            }
        }
        do {
            $tag = $prefix.str_pad((string) ++$number, $digits, '0', \STR_PAD_LEFT);
        } while (null !== $plan->deviceTagged($tag));

        return $tag;
    }
}
