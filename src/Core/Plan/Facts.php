<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** Collects what a computation reads, each fact once, in the order of reading. */
final class Facts
{
    /** @var array<string, true> fact as text */
    private array $read = [];
    /** @var list<string> every reading, repeated ones too: a step depends on *its own* readings, even if an earlier one read the same */
    private array $log = [];

    public function note(string $of, string|int|bool|null $value): void
    {
        $this->add($of.'='.match (true) {
            null === $value => '?',
            \is_bool($value) => $value ? 'yes' : 'no',
            default => (string) $value,
        });
    }

    /** @param string $fact as Fact writes itself */
    public function add(string $fact): void
    {
        $this->read[$fact] = true;
        $this->log[] = $fact;
    }

    /** What another computation read counts as read; its steps stay its own. */
    public function take(self $other): void
    {
        $this->read += $other->read;
    }

    /** @return list<Fact> */
    public function all(): array
    {
        return array_map(Fact::fromString(...), array_keys($this->read));
    }

    /** @return list<string> sorted: the shape that is stored with an observation and compared later */
    public function texts(): array
    {
        $texts = array_keys($this->read);
        sort($texts);

        return $texts;
    }

    public function mark(): int
    {
        return \count($this->log);
    }

    /** @return list<Fact> the facts read from one mark() to another, each once */
    public function between(int $from, int $to): array
    {
        return array_map(Fact::fromString(...), array_values(array_unique(\array_slice($this->log, $from, $to - $from))));
    }
}
