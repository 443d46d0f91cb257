<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/**
 * The key of an outpost as the end of a walk, a flow or a test: `outposts/SEGMENT`. A device there has its own key, so that one string can
 * name either.
 */
final class OutpostKey
{
    private const PREFIX = 'outposts/';

    /** @param string $segment key of its segment */
    public static function on(string $segment): string
    {
        return self::PREFIX.$segment;
    }

    /** @return string|null key of the segment of an outpost; null where the end is a device */
    public static function segment(string $end): ?string
    {
        return str_starts_with($end, self::PREFIX) ? substr($end, \strlen(self::PREFIX)) : null;
    }
}
