<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/**
 * Typed access to the plain data of a record, from a document or the database.
 *
 * @phpstan-import-type RowData from Edit
 * @phpstan-import-type Stored from Edit
 */
final readonly class Row
{
    /** @param array<mixed> $data */
    public function __construct(private array $data)
    {
    }

    /** @param array<mixed> $data the key of a record, '' where it has none */
    public static function keyOf(array $data): string
    {
        $key = $data['key'] ?? '';

        return match (true) {
            \is_string($key) => $key,
            \is_scalar($key) => (string) $key,
            default => '',
        };
    }

    public function text(string $field): string
    {
        $value = $this->data[$field] ?? '';

        // Nearly always a text: in a large job this runs a hundred thousand times.
        return match (true) {
            \is_string($value) => $value,
            \is_scalar($value) => (string) $value,
            default => '',
        };
    }

    public function textOrNull(string $field): ?string
    {
        $value = $this->data[$field] ?? null;

        return match (true) {
            \is_string($value) => $value,
            \is_scalar($value) => (string) $value,
            default => null,
        };
    }

    public function int(string $field, int $default = 0): int
    {
        return $this->intOrNull($field) ?? $default;
    }

    public function intOrNull(string $field): ?int
    {
        $value = $this->data[$field] ?? null;

        return \is_int($value) || (\is_string($value) && is_numeric($value)) ? (int) $value : null;
    }

    public function bool(string $field, bool $default = false): bool
    {
        $value = $this->data[$field] ?? null;

        return \is_bool($value) ? $value : $default;
    }

    /** @return list<string> */
    public function texts(string $field): array
    {
        return array_values(array_map(strval(...), array_filter($this->list($field), is_scalar(...))));
    }

    /** @return list<mixed> */
    public function list(string $field): array
    {
        $value = $this->data[$field] ?? null;

        return \is_array($value) ? array_values($value) : [];
    }

    /** @return array<string, mixed> */
    public function map(string $field): array
    {
        $value = $this->data[$field] ?? null;

        $map = [];
        if (\is_array($value)) {
            foreach ($value as $name => $one) {
                $map[(string) $name] = $one;
            }
        }

        return $map;
    }

    /** @return list<self> */
    public function rows(string $field): array
    {
        return array_map(static fn (mixed $row): self => new self(\is_array($row) ? $row : []), $this->list($field));
    }

    /** @return Stored */
    public function value(string $field): string|int|float|bool|array|null
    {
        $value = $this->data[$field] ?? null;

        return match (true) {
            \is_array($value) => array_values($value),
            \is_scalar($value) => $value,
            default => null,
        };
    }

    /** @return RowData */
    public function data(): array
    {
        $data = [];
        foreach (array_keys($this->data) as $field) {
            $data[(string) $field] = $this->value((string) $field);
        }

        return $data;
    }
}
