<?php

declare(strict_types=1);

namespace Vorhut\Core\Walk;

use Vorhut\Core\Plan\Fact;
use Vorhut\Core\Text\Message;

/** One stepping stone: where, what was decided there, on which facts. */
final readonly class Hop implements \JsonSerializable
{
    /** @param list<Fact> $facts */
    public function __construct(
        public bool $back,
        public string $ref,
        public string|Message $label,
        public string $segment,
        public Message $text,
        public ?Fault $fault,
        public array $facts,
    ) {
    }

    public function holds(): bool
    {
        return null === $this->fault;
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'leg' => $this->back ? 'back' : 'out',
            'at' => (string) $this->label,
            'segment' => $this->segment,
            'holds' => $this->holds(),
            'reason' => (string) $this->text,
            'fault' => $this->fault?->value,
            'facts' => $this->facts,
        ];
    }
}
