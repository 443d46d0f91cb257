<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\AdminSheet;

use Vorhut\Core\Text\Message;

/** One value that only the administrator of the network can give, and the field of the job that it goes into. */
final readonly class AdminQuestion
{
    /** @param string $for what the answer is about, as the administrator knows it */
    public function __construct(
        public string $section,
        public string $key,
        public string $field,
        public string $for,
        public Message $text,
        public string $example,
    ) {
    }

    /** Under which an answer comes back. */
    public function code(): string
    {
        return $this->section.'/'.$this->key.':'.$this->field;
    }
}
