<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** Collects what a computation reads, each fact once, in the order of reading. */
final class Facts
{
    /** @var array<string, Fact> */
    private array $read = [];

    public function note(string $of, string|int|bool|null $value): void
    {
        $fact = new Fact($of, match (true) {
            null === $value => '?',
            \is_bool($value) => $value ? 'yes' : 'no',
            default => (string) $value,
        });
        $this->read[(string) $fact] = $fact;
    }

    public function take(self $other): void
    {
        $this->read += $other->read;
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
        return \count($this->read);
    }

    /** @return list<Fact> what was read since a mark() */
    public function since(int $mark): array
    {
        return array_values(\array_slice($this->read, $mark));
    }
}
