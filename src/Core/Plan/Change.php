<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Text\Message;

/** A list of edits that belong together, and why. Cures, allocation, typing in a field and undo are all changes. */
final readonly class Change implements \JsonSerializable
{
    /** @param list<Edit> $edits */
    public function __construct(public Message $why, public array $edits)
    {
    }

    public function isEmpty(): bool
    {
        return [] === $this->edits;
    }

    /** @param list<string> $sections whether nothing but these is touched */
    public function isWithin(array $sections): bool
    {
        return [] === array_filter($this->edits, static fn (Edit $edit): bool => !\in_array($edit->section, $sections, true));
    }

    public function adds(string $section): bool
    {
        return [] !== array_filter(
            $this->edits,
            static fn (Edit $edit): bool => EditKind::Add === $edit->kind && $edit->section === $section,
        );
    }

    public function reverse(Message $why): self
    {
        return new self($why, array_map(static fn (Edit $edit): Edit => $edit->reverse(), array_reverse($this->edits)));
    }

    /** @return array{why: string, edits: list<Edit>} */
    public function jsonSerialize(): array
    {
        return ['why' => (string) $this->why, 'edits' => $this->edits];
    }
}
