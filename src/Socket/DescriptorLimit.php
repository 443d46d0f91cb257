<?php

declare(strict_types=1);

namespace Vorhut\Socket;

/**
 * How many files and sockets this process may still open: select() supports 1,024 of them, and one more ends the whole lab. Counted at each
 * opening, not tracked: connections are closed in many places.
 */
final class DescriptorLimit
{
    /** What select() takes (FD_SETSIZE). */
    public const MOST = 1024;

    /** @param int $kept how many are to stay free for others */
    public static function isLeft(int $kept): bool
    {
        $open = @scandir('/proc/self/fd');

        return false === $open || \count($open) - 2 < self::MOST - $kept;
    }
}
