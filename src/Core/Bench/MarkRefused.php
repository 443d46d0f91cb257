<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Text\Message;

/** A report about a step that the run sheet cannot take, with the reason for each field. */
final class MarkRefused extends \RuntimeException implements BenchError
{
    /** @param non-empty-array<string, Message> $errors `note`, or the name of a value on the sheet → its error */
    public function __construct(public readonly array $errors)
    {
        parent::__construct((string) $this->message());
    }

    public function message(): Message
    {
        return $this->errors[array_key_first($this->errors)];
    }
}
