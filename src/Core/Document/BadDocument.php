<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

/** A document that is not a job: every error with its JSON pointer (RFC 6901). Nothing of it was taken. */
final class BadDocument extends \InvalidArgumentException
{
    /** @param non-empty-list<array{pointer: string, message: string}> $errors */
    public function __construct(public readonly array $errors)
    {
        $first = $errors[0];
        parent::__construct(\sprintf('%s: %s%s', '' === $first['pointer'] ? 'document' : $first['pointer'], $first['message'], \count($errors) > 1 ? \sprintf(' (and %d more)', \count($errors) - 1) : ''));
    }
}
