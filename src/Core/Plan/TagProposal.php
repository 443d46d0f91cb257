<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Kind;

/** The tag for the next device of a kind: the highest one in the job plus one, else the letters of the kind with 01. */
final class TagProposal
{
    private const NUMBERED = '/^(.*?)(\d{1,6})$/D';

    /** @param string|null $after the tag that was proposed before, where it is not in the job yet */
    public static function next(Plan $plan, Kind $kind, ?string $after = null): string
    {
        [$prefix, $number, $digits] = self::parts($after ?? self::highest($plan, $kind));
        do {
            $tag = $prefix.str_pad((string) ++$number, $digits, '0', \STR_PAD_LEFT);
        } while (null !== $plan->deviceTagged($tag));

        return $tag;
    }

    private static function highest(Plan $plan, Kind $kind): string
    {
        $highest = $kind->tagPrefix.'-00';
        foreach ($plan->devices as $device) {
            if ($device->kind->code === $kind->code && 1 === preg_match(self::NUMBERED, $device->tag)) {
                $highest = self::parts($device->tag)[1] >= self::parts($highest)[1] ? $device->tag : $highest;
            }
        }

        return $highest;
    }

    /** @return array{string, int, int} what precedes the number, the number, its digits */
    private static function parts(string $tag): array
    {
        preg_match(self::NUMBERED, $tag, $found);

        return [$found[1] ?? $tag, (int) ($found[2] ?? 0), \strlen($found[2] ?? '00')];
    }
}
