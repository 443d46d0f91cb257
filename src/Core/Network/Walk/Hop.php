<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Plan\Fact;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;

/** One hop: its place, the decision there, and its facts. */
final readonly class Hop implements \JsonSerializable
{
    /** The interface: `nics/KEY`, `routerPorts/KEY`, `outposts/SEGMENT`, or '' where none is known. */
    public string $ref;
    public string|Message $label;
    public string $segment;
    private int $until;

    /**
     * @param Facts $read what the walk reads
     * @param int   $from mark from which on this hop read it
     */
    public function __construct(
        public bool $back,
        Spot $at,
        public Message $text,
        public ?Fault $fault,
        private Facts $read,
        private int $from,
    ) {
        $this->until = $read->mark();
        $this->ref = $at->ref;
        $this->label = $at->label;
        $this->segment = $at->segment;
    }

    /** @return list<Fact> the facts of the decision */
    public function facts(): array
    {
        return $this->read->between($this->from, $this->until);
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
            'facts' => $this->facts(),
        ];
    }
}
