<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/**
 * A sentence for people: an English text with {places} and what stands in them. The text is its own translation key, so that the
 * page can put it into another language and the command line can print it as it is.
 */
final readonly class Message implements \Stringable, \JsonSerializable
{
    /** @param array<string, string|int> $with */
    public function __construct(public string $text, public array $with = [])
    {
    }

    /** @return array<string, string> places with their braces, as strtr and a translator want them */
    public function places(): array
    {
        $places = [];
        foreach ($this->with as $name => $value) {
            $places['{'.$name.'}'] = (string) $value;
        }

        return $places;
    }

    public function __toString(): string
    {
        return strtr($this->text, $this->places());
    }

    public function jsonSerialize(): string
    {
        return (string) $this;
    }
}
