<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Text\VisibleText;

/** A field of a section: its name, type, bounds, and where it points. */
final readonly class Field
{
    /** In characters; what the database keeps. */
    public int $longest;

    /** @param list<string> $choices */
    private function __construct(
        public string $name,
        public FieldType $type,
        public bool $required,
        public array $choices = [],
        public ?string $pointsTo = null,
        public int $least = 0,
        public int $most = 999999999,
    ) {
        $this->longest = match (true) {
            \in_array($name, ['note', 'detail'], true) => 4000,
            'source' === $name => KindVersion::LONGEST,
            FieldType::Text === $type => 250,
            FieldType::Face === $type => Setting::LONGEST,
            default => 190,
        };
    }

    public static function of(string $name, FieldType $type): self
    {
        return new self($name, $type, false);
    }

    public static function requiredField(string $name, FieldType $type): self
    {
        return new self($name, $type, true);
    }

    /** @param list<string> $choices */
    public static function choice(string $name, array $choices): self
    {
        return new self($name, FieldType::Choice, true, $choices);
    }

    /** @param list<string> $choices */
    public static function maybe(string $name, array $choices): self
    {
        return new self($name, FieldType::Choice, false, $choices);
    }

    /** A key of another section ("kinds" is the library of kinds, which no job carries). */
    public static function pointer(string $name, string $section, bool $required = false): self
    {
        return new self($name, FieldType::Key, $required, [], $section);
    }

    public static function number(string $name, int $least, int $most): self
    {
        return new self($name, FieldType::Number, false, [], null, $least, $most);
    }

    /**
     * @return string|int|bool|list<mixed>|null null for an empty field that may be empty
     *
     * @throws Malformed
     */
    public function read(string $text): string|int|bool|array|null
    {
        if (
            self::isBlank($text)
            && !$this->type->isLines()
            && !\in_array($this->type, [FieldType::Flag, FieldType::LabelledRanges, FieldType::Data], true)
        ) {
            return $this->required ? throw new Malformed('This must not be empty.') : null;
        }

        $hidden = VisibleText::firstHidden($text);
        if (null !== $hidden) {
            throw Malformed::because('This holds a character that cannot be seen ({code}).', ['code' => $hidden]);
        }

        return $this->checkBounds($this->type->read($text));
    }

    /**
     * @return string|int|bool|list<mixed>|null
     *
     * @throws Malformed
     */
    public function check(mixed $stored): string|int|bool|array|null
    {
        if (null === $stored || '' === $stored || ($this->required && \is_string($stored) && self::isBlank($stored))) {
            return match (true) {
                $this->required => throw new Malformed('This must not be empty.'),
                FieldType::Face === $this->type => $stored,
                default => null,
            };
        }

        return $this->checkBounds($this->type->check($stored));
    }

    /** Whether it shows as empty: blanks of any kind, control characters, characters without a width. */
    public static function isBlank(string $text): bool
    {
        return '' === $text || 1 === preg_match('/^[\s\p{Z}\p{C}]+$/Du', $text);
    }

    /**
     * @param string|int|bool|list<mixed> $value
     *
     * @return string|int|bool|list<mixed>
     */
    private function checkBounds(string|int|bool|array $value): string|int|bool|array
    {
        if (\is_int($value) && ($value < $this->least || $value > $this->most)) {
            throw Malformed::because('{value} is outside {least} to {most}.', [
                'value' => $value,
                'least' => $this->least,
                'most' => $this->most,
            ]);
        }
        if ([] !== $this->choices && !\in_array($value, $this->choices, true)) {
            throw Malformed::because('"{value}" is not one of {list}.', [
                'value' => \is_scalar($value) ? (string) $value : '',
                'list' => implode(', ', $this->choices),
            ]);
        }
        if (\is_string($value) && \strlen($value) > $this->longest && mb_strlen($value) > $this->longest) {
            throw Malformed::because('That is longer than {longest} characters.', ['longest' => $this->longest]);
        }

        return $value;
    }
}
