<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Text\Message;

/** Values that were typed into a form and cannot be stored, each with its reason. */
final class FieldErrors extends \RuntimeException implements ApplicationError
{
    /** @param non-empty-array<string, Message> $errors field → its error */
    public function __construct(public readonly array $errors)
    {
        parent::__construct((string) $this->message());
    }

    public function message(): Message
    {
        return $this->errors[array_key_first($this->errors)];
    }
}
