<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Entity\Record;

/** The records that a change touches, as they are while it is applied: looked up once, under the lock. */
final class AffectedRecords
{
    /** @var array<string, array<array-key, Record|null>> section → key → record, null where there is none */
    private array $records = [];
    /** @var array<string, array<array-key, true>> section → keys of new and changed records */
    private array $changed = [];
    /** @var array<string, array<array-key, true>> section → key of what went */
    private array $removed = [];

    public function know(string $section, string $key, ?Record $record): void
    {
        $this->records[$section][$key] = $record;
    }

    public function knows(string $section, string $key): bool
    {
        return \array_key_exists($key, $this->records[$section] ?? []);
    }

    public function find(string $section, string $key): ?Record
    {
        return $this->records[$section][$key] ?? null;
    }

    public function change(string $section, Record $record): void
    {
        $this->records[$section][$record->key] = $record;
        $this->changed[$section][$record->key] = true;
        unset($this->removed[$section][$record->key]);
    }

    public function remove(string $section, string $key): void
    {
        $this->records[$section][$key] = null;
        $this->removed[$section][$key] = true;
        unset($this->changed[$section][$key]);
    }

    public function isRemoved(string $section, string $key): bool
    {
        return isset($this->removed[$section][$key]);
    }

    /** @return iterable<array{string, Record}> */
    public function allChanged(): iterable
    {
        foreach ($this->changed as $section => $keys) {
            foreach (array_keys($keys) as $key) {
                $record = $this->records[$section][$key] ?? null;
                if (null !== $record) {
                    yield [$section, $record];
                }
            }
        }
    }

    /** @return array<string, list<string>> section → keys */
    public function allRemoved(): array
    {
        return array_map(static fn (array $keys): array => array_map(strval(...), array_keys($keys)), array_filter($this->removed));
    }
}
