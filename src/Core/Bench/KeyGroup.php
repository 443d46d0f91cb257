<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

/** One thing to do on the pad: press a key n times, press the mode key n times, or wait a moment. */
final readonly class KeyGroup implements \Stringable, \JsonSerializable
{
    private function __construct(public string $key, public int $presses, public string $gives)
    {
    }

    public static function press(string $key, int $presses, string $gives): self
    {
        return new self($key, $presses, $gives);
    }

    public static function mode(int $presses, string $into): self
    {
        return new self('mode', $presses, $into);
    }

    public static function pause(): self
    {
        return new self('pause', 0, '');
    }

    public function isPause(): bool
    {
        return 'pause' === $this->key;
    }

    public function isMode(): bool
    {
        return 'mode' === $this->key;
    }

    public function __toString(): string
    {
        return $this->isPause() ? 'pause' : implode($this->isMode() ? ' ' : '', array_fill(0, $this->presses, $this->key));
    }

    /** @return array{key: string, presses: int, gives: string} */
    public function jsonSerialize(): array
    {
        return ['key' => $this->key, 'presses' => $this->presses, 'gives' => $this->gives];
    }
}
