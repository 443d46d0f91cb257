<?php

declare(strict_types=1);

namespace Vorhut\Web\Form;

use Vorhut\Core\Text\Message;

/** One field in the form of a record: what Plan\Schema, which knows its type and bounds, does not say. */
final readonly class FormField
{
    /**
     * @param int                           $size    characters that are seen at once
     * @param string                        $hint    an example to type, or the value used when it is empty
     * @param string                        $default default value of a new record
     * @param array<string, Message|string> $options value → name; a text is a name of its own, in every language
     * @param string|null                   $list    the list of records that is picked from (PickLists)
     * @param Message|string|null           $empty   what leaving it empty is called; null where one has to be picked
     * @param bool                          $isLong  typed or pasted in several lines
     */
    private function __construct(
        public string $name,
        public Message $label,
        public int $size = 14,
        public string $hint = '',
        public string $default = '',
        public array $options = [],
        public ?string $list = null,
        public Message|string|null $empty = null,
        public bool $isLong = false,
    ) {
    }

    /** @param Message|null $empty what leaving it empty means */
    public static function text(
        string $name,
        Message $label,
        int $size,
        string $hint = '',
        string $default = '',
        ?Message $empty = null,
    ): self {
        return new self($name, $label, $size, $hint, $default, empty: $empty);
    }

    public static function lines(string $name, Message $label, string $hint = ''): self
    {
        return new self($name, $label, hint: $hint, isLong: true);
    }

    /** @param array<string, Message|string> $options */
    public static function choice(
        string $name,
        Message $label,
        array $options,
        Message|string|null $empty = null,
        string $default = '',
    ): self {
        return new self($name, $label, default: $default, options: $options, empty: $empty);
    }

    public static function yesNo(string $name, Message $label, string $default = 'no'): self
    {
        return self::choice($name, $label, ['yes' => new Message('yes'), 'no' => new Message('no')], default: $default);
    }

    public static function pick(
        string $name,
        Message $label,
        string $list,
        Message|string|null $empty = null,
        string $default = '',
    ): self {
        return new self($name, $label, default: $default, list: $list, empty: $empty);
    }

    public function isChoice(): bool
    {
        return [] !== $this->options || null !== $this->list;
    }

    /** Whether it holds words, and is not read sign by sign. */
    public function isProse(): bool
    {
        return \in_array($this->name, ['name', 'says', 'note'], true);
    }
}
