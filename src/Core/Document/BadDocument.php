<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Text\Message;

/** A document that is not a job: every error with its JSON pointer (RFC 6901). Nothing of it was taken. */
final class BadDocument extends \InvalidArgumentException implements DocumentError
{
    /** @param non-empty-list<array{pointer: string, message: Message}> $errors */
    public function __construct(public readonly array $errors)
    {
        parent::__construct((string) $this->message());
    }

    /** The first error, and how many more there are. */
    public function message(): Message
    {
        $first = $this->errors[0];
        $at = [
            'where' => '' === $first['pointer'] ? new Message('document') : $first['pointer'],
            'what' => $first['message'],
            'n' => \count($this->errors) - 1,
        ];

        return 0 === $at['n'] ? new Message('{where}: {what}', $at) : new Message('{where}: {what} (and {n} more)', $at);
    }
}
