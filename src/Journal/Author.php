<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Entity\JournalEntry;
use Vorhut\Entity\User;

/** Who changes a job: a person by their login, whatever name they go by, or a part of the program. */
final readonly class Author
{
    /** The parts of the program that change a job by themselves. */
    public const OUTPOST = 'Outpost';
    public const FILE_SERVER = 'File server';

    private function __construct(public string $name, public ?string $login)
    {
    }

    public static function of(User|string $who): self
    {
        return $who instanceof User ? new self($who->name, $who->login) : new self($who, null);
    }

    /** A program part without a login, under one of their names. */
    public static function isMachine(string $name, ?string $login): bool
    {
        return null === $login && \in_array($name, [self::OUTPOST, self::FILE_SERVER], true);
    }

    public function wrote(JournalEntry $entry): bool
    {
        return $this->isNamed($entry->by, $entry->login);
    }

    /** By the login. Names are not unique, so an entry without a login belongs only to a part of the program. */
    public function isNamed(string $name, ?string $login): bool
    {
        return $login === $this->login && (null !== $login || $name === $this->name);
    }
}
