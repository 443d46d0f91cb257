<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Plan\Field;
use Vorhut\Core\Text\Message;

/** The name of a job, as users type it. */
final class JobName
{
    private const LONGEST = 200;

    /** @return Message|null null if it can be used */
    public static function whyNot(string $name): ?Message
    {
        return match (true) {
            Field::isBlank($name) => new Message('A job needs a name.'),
            mb_strlen($name) > self::LONGEST => new Message('That is longer than [n character|characters].', ['n' => self::LONGEST]),
            default => null,
        };
    }
}
