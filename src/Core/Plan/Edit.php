<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/**
 * One step of a change: a field of a record from one value to another, a record added, or a record removed. It names the value it expects
 * to find, so that no work of another user is overwritten unseen, and so that it can be reversed.
 *
 * @phpstan-type Stored scalar|list<mixed>|null
 * @phpstan-type RowData array<string, scalar|list<mixed>|null>
 */
final readonly class Edit implements \JsonSerializable
{
    /**
     * @param Stored       $before
     * @param Stored       $after
     * @param RowData|null $row    the whole record, for one that comes or goes
     */
    private function __construct(
        public EditKind $kind,
        public string $section,
        public string $key,
        public string $field,
        public string|int|float|bool|array|null $before,
        public string|int|float|bool|array|null $after,
        public ?array $row = null,
    ) {
    }

    /**
     * @param Stored $before
     * @param Stored $after
     */
    public static function put(
        string $section,
        string $key,
        string $field,
        string|int|float|bool|array|null $before,
        string|int|float|bool|array|null $after,
    ): self {
        return new self(EditKind::Put, $section, $key, $field, $before, $after);
    }

    /** One face of a setting. */
    public static function setting(string|SettingRef $ref, Face $face, ?string $before, ?string $after): self
    {
        return self::put('settings', (string) $ref, $face->value, $before, $after);
    }

    /** @param RowData $row */
    public static function add(string $section, array $row): self
    {
        return new self(EditKind::Add, $section, Row::keyOf($row), '', null, null, $row);
    }

    /** @param RowData $row */
    public static function remove(string $section, array $row): self
    {
        return new self(EditKind::Remove, $section, Row::keyOf($row), '', null, null, $row);
    }

    public function reverse(): self
    {
        return match ($this->kind) {
            EditKind::Put => self::put($this->section, $this->key, $this->field, $this->after, $this->before),
            EditKind::Add => self::remove($this->section, $this->row ?? []),
            EditKind::Remove => self::add($this->section, $this->row ?? []),
        };
    }

    public function record(): string
    {
        return $this->section.'/'.$this->key;
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return EditKind::Put === $this->kind
            ? [
                'do' => 'put',
                'section' => $this->section,
                'key' => $this->key,
                'field' => $this->field,
                'before' => $this->before,
                'after' => $this->after,
            ]
            : ['do' => $this->kind->value, 'section' => $this->section, 'key' => $this->key, 'row' => $this->row];
    }

    /** @param array<mixed> $data what jsonSerialize() gave */
    public static function fromArray(array $data): self
    {
        $row = new Row($data);
        $kind = EditKind::from($row->text('do'));
        if (EditKind::Put === $kind) {
            return self::put($row->text('section'), $row->text('key'), $row->text('field'), $row->value('before'), $row->value('after'));
        }
        $record = (new Row($row->map('row')))->data();

        return EditKind::Add === $kind ? self::add($row->text('section'), $record) : self::remove($row->text('section'), $record);
    }
}
