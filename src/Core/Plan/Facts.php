<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** Collects what a computation reads, each fact once, in the order of reading. */
final class Facts
{
    /** @var array<string, Fact> */
    private array $read = [];
    /** @var list<string> every reading, repeated ones too: a step stands on what *it* read, though an earlier one read it before */
    private array $log = [];

    public function note(string $of, string|int|bool|null $value): void
    {
        $fact = new Fact($of, match (true) {
            null === $value => '?',
            \is_bool($value) => $value ? 'yes' : 'no',
            default => (string) $value,
        });
        $this->read[(string) $fact] = $fact;
        $this->log[] = (string) $fact;
    }

    public function take(self $other): void
    {
        $this->read += $other->read;
        $this->log = [...$this->log, ...$other->log];
    }

    /** @return list<Fact> */
    public function all(): array
    {
        return array_values($this->read);
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

    /** @return list<Fact> each once, what was read since a mark() */
    public function since(int $mark): array
    {
        return array_map(fn (string $fact): Fact => $this->read[$fact], array_values(array_unique(\array_slice($this->log, $mark))));
    }
}
