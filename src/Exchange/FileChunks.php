<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

/** The bytes of a file as they are read, never all of them at once. */
final class FileChunks
{
    private const BYTES = 65536;

    /**
     * @param resource $stream
     *
     * @return \Generator<int, string>
     */
    public static function of($stream): \Generator
    {
        while (!feof($stream)) {
            $chunk = fread($stream, self::BYTES);
            if (false === $chunk) {
                return;
            }
            yield $chunk;
        }
    }
}
