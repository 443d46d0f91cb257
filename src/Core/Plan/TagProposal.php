<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Kind;

/** The tag for the next device of a kind: the highest one in the job plus one, else the letters of the kind with 01. */
final class TagProposal
{
    /** @param array<array-key, string> $further tag → code of the kind, of devices that are about to be added */
    public static function next(Plan $plan, Kind $kind, array $further = []): string
    {
        [$prefix, $number, $digits] = [$kind->tagPrefix.'-', 0, 2];
        foreach (self::tags($plan, $kind, $further) as $tag) {
            if (1 !== preg_match('/^(.*?)(\d{1,6})$/D', $tag, $found)) {
                continue;
            }
            if ((int) $found[2] >= $number) {
                [$prefix, $number, $digits] = [$found[1], (int) $found[2], \strlen($found[2])];
            }
        }
        do {
            $tag = $prefix.str_pad((string) ++$number, $digits, '0', \STR_PAD_LEFT);
        } while (null !== $plan->deviceTagged($tag) || isset($further[$tag]));

        return $tag;
    }

    /**
     * @param array<array-key, string> $further
     *
     * @return list<string> of this kind
     */
    private static function tags(Plan $plan, Kind $kind, array $further): array
    {
        $tags = [];
        foreach ($plan->devices as $device) {
            if ($device->kind->code === $kind->code) {
                $tags[] = $device->tag;
            }
        }

        return [...$tags, ...array_map(strval(...), array_keys($further, $kind->code, true))];
    }
}
