<?php

declare(strict_types=1);

namespace Vorhut\Core\Text;

/**
 * A sentence for people: an English text with {placeholders}, counts (MessagePattern) and their values, which may be sentences again. The
 * text is its own translation key, so that a page translates it when it is shown, and not when it is stored.
 */
final readonly class Message implements \Stringable, \JsonSerializable
{
    /** @var array<string, string|int|self> */
    public array $with;

    /** @param array<string, string|int|\Stringable> $with */
    public function __construct(public string $text, array $with = [])
    {
        foreach ($with as $name => $one) {
            if ($one instanceof \Stringable && !$one instanceof self) {
                $with[$name] = (string) $one;
            }
        }
        /** @var array<string, string|int|self> $with */
        $this->with = $with;
    }

    /**
     * Several sentences, one after the other.
     *
     * @param list<self> $sentences
     */
    public static function join(array $sentences): self
    {
        $with = [];
        foreach ($sentences as $n => $sentence) {
            $with['s'.$n] = $sentence;
        }

        return new self(implode(' ', array_map(static fn (string $name): string => '{'.$name.'}', array_keys($with))), $with);
    }

    /**
     * In the language of `$translate`: it is called with the text of this sentence and of every sentence within.
     *
     * @param callable(string): string $translate
     */
    public function render(callable $translate, string $locale = 'en'): string
    {
        return MessagePattern::format($translate($this->text), array_map(
            static fn (string|int|self $value): string|int => $value instanceof self ? $value->render($translate, $locale) : $value,
            $this->with,
        ), $locale);
    }

    /** In English, with the plural forms of its counts. */
    public function __toString(): string
    {
        return $this->render(static fn (string $text): string => $text);
    }

    public function jsonSerialize(): string
    {
        return (string) $this;
    }

    /**
     * The stored form: a plain text, or a list of the text and its values.
     *
     * @return string|array{string, array<string, mixed>}
     */
    public function toStored(): string|array
    {
        return [] === $this->with ? $this->text : [
            $this->text,
            array_map(
                static fn (string|int|self $value): mixed => $value instanceof self ? (array) $value->toStored() : $value,
                $this->with,
            ),
        ];
    }

    /** Reads what stored() gave; anything else becomes a sentence without places. */
    public static function fromStored(mixed $stored): self
    {
        if (!\is_array($stored)) {
            return new self(\is_scalar($stored) ? (string) $stored : '');
        }
        $with = [];
        if (\is_array($stored[1] ?? null)) {
            foreach ($stored[1] as $name => $value) {
                $with[(string) $name] = match (true) {
                    \is_array($value) => self::fromStored($value),
                    \is_int($value) => $value,
                    \is_scalar($value) => (string) $value,
                    default => '',
                };
            }
        }

        return new self(\is_scalar($stored[0] ?? null) ? (string) $stored[0] : '', $with);
    }
}
