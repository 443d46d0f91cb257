<?php

declare(strict_types=1);

namespace Vorhut\Application;

/** The columns of a table of records: the fields of their form. */
final readonly class TableColumns
{
    /**
     * @param list<string>                         $fields   in the order of the form
     * @param array<string, string>                $labels   label of a field in small letters → field
     * @param array<string, string>                $defaults field → what a row without a cell gets
     * @param array<string, array<string, string>> $choices  field → name of a choice in small letters → its value
     */
    public function __construct(
        public array $fields,
        public array $labels = [],
        public array $defaults = [],
        public array $choices = [],
    ) {
    }

    /** @param list<string> $fields that are the same in each row */
    public function without(array $fields): self
    {
        return new self(array_values(array_diff($this->fields, $fields)), $this->labels, $this->defaults, $this->choices);
    }

    /**
     * @param list<string> $fields of this table, in its order
     * @param list<string> $cells
     *
     * @return array<string, string> field → text; the defaults for empty cells
     */
    public function read(array $fields, array $cells): array
    {
        $read = [];
        foreach ($fields as $c => $field) {
            $text = $cells[$c] ?? '';
            if ('' !== $text) {
                $read[$field] = $this->choices[$field][mb_strtolower($text)] ?? $text;
            }
        }

        return $read + $this->defaults;
    }
}
