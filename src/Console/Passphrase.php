<?php

declare(strict_types=1);

namespace Vorhut\Console;

/** A passphrase from a file: on a command line everybody on the machine could read it. */
final class Passphrase
{
    public static function fromFile(?string $file): ?string
    {
        if (null === $file) {
            return null;
        }
        $text = is_file($file)
            ? rtrim((string) file_get_contents($file), "\r\n")
            : throw BadInput::because('File "{file}" cannot be read.', ['file' => $file]);

        return \strlen($text) >= 8 ? $text : throw new BadInput('The passphrase needs at least eight characters.');
    }
}
