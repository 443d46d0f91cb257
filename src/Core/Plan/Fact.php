<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/**
 * One input of a verdict: a field of a record, or a value counted from several records ("which devices hold 10.64.20.31 on the quay").
 * `$of` is `section/key:field`; two verdicts have the same basis when their facts are equal.
 */
final readonly class Fact implements \Stringable, \JsonSerializable
{
    public function __construct(public string $of, public string $value)
    {
    }

    public static function fromString(string $text): self
    {
        [$of, $value] = explode('=', $text, 2) + [1 => ''];

        return new self($of, $value);
    }

    /** `section/key`, the record that was read. */
    public function record(): string
    {
        return explode(':', $this->of, 2)[0];
    }

    public function field(): string
    {
        return explode(':', $this->of, 2)[1] ?? '';
    }

    public function __toString(): string
    {
        return $this->of.'='.$this->value;
    }

    public function jsonSerialize(): string
    {
        return (string) $this;
    }
}
