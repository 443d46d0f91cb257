<?php

declare(strict_types=1);

namespace Vorhut\Application;

/** What a person typed into one field of one record. */
final readonly class FieldInput
{
    /**
     * @param string $section of the job document; `settings` for a setting, whose key is its address
     * @param string $field   name of the field; for a setting its face
     * @param string $before  the value that the page showed
     */
    public function __construct(
        public string $section,
        public string $key,
        public string $field,
        public string $before,
        public string $text,
    ) {
    }

    /** @param string $record `section/key` */
    public static function of(string $record, string $field, string $before, string $text): self
    {
        [$section, $key] = explode('/', $record, 2) + [1 => ''];

        return new self($section, $key, $field, $before, $text);
    }
}
