<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Text\Message;

/** Another user changed the same value in the meantime: both values are here, neither was written. */
final class Conflict extends \RuntimeException implements JournalError
{
    /** @param scalar|list<mixed>|null $theirs */
    public function __construct(
        public readonly Edit $mine,
        public readonly string|int|float|bool|array|null $theirs,
        public readonly ?string $by,
    ) {
        parent::__construct((string) $this->message());
    }

    public function message(): Message
    {
        return new Message('{what} was changed by {who} in the meantime.', [
            'what' => '' === $this->mine->field ? $this->mine->record() : $this->mine->field,
            'who' => $this->by ?? new Message('Another user'),
        ]);
    }
}
