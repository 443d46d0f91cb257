<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Text\Message;

/** One thing that a PBX asked itself about a call: what it looked at, and whether it went on by it. */
final readonly class Decision implements \JsonSerializable
{
    /** @param string $record the record that was read, `section/key` */
    public function __construct(public bool $taken, public Message $text, public string $record = '')
    {
    }

    /** @return array{taken: bool, text: Message, record: string} */
    public function jsonSerialize(): array
    {
        return ['taken' => $this->taken, 'text' => $this->text, 'record' => $this->record];
    }
}
