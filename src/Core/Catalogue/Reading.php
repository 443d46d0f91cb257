<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Malformed;

/** Typed reading of a data file of the catalogue. */
final readonly class Reading
{
    /** @param array<mixed> $data */
    public function __construct(private array $data, private string $of)
    {
    }

    /** @throws Malformed */
    public function requireText(string $name): string
    {
        return $this->textOrNull($name) ?? throw Malformed::because('{of}: "{name}" is missing.', ['of' => $this->of, 'name' => $name]);
    }

    public function text(string $name, string $else = ''): string
    {
        return $this->textOrNull($name) ?? $else;
    }

    public function textOrNull(string $name): ?string
    {
        $value = $this->data[$name] ?? null;

        return match (true) {
            \is_bool($value) => $value ? 'yes' : 'no',
            \is_scalar($value) => (string) $value,
            default => null,
        };
    }

    /**
     * @template E of \BackedEnum
     *
     * @param class-string<E> $of
     *
     * @return E
     *
     * @throws Malformed where the text is none of its words
     */
    public function word(string $of, string $name, string $text): \BackedEnum
    {
        return $of::tryFrom($text) ?? throw Malformed::because('{of}: there is no {name} "{text}".', [
            'of' => $this->of,
            'name' => $name,
            'text' => $text,
        ]);
    }

    public function number(string $name, float $else): float
    {
        $text = $this->textOrNull($name);

        return is_numeric($text) ? (float) $text : $else;
    }

    public function flag(string $name, bool $else = false): bool
    {
        $value = $this->data[$name] ?? $else;

        return \is_bool($value) ? $value : $else;
    }

    /**
     * @param list<string> $else
     *
     * @return list<string>
     */
    public function texts(string $name, array $else = []): array
    {
        if (!isset($this->data[$name])) {
            return $else;
        }

        return array_values(array_map(strval(...), array_filter((array) $this->data[$name], is_scalar(...))));
    }

    /** @return array<string, string> */
    public function map(string $name): array
    {
        $map = [];
        foreach ((array) ($this->data[$name] ?? []) as $key => $value) {
            $map[(string) $key] = \is_scalar($value) ? (string) $value : '';
        }

        return $map;
    }

    /** @return list<self> */
    public function each(string $name): array
    {
        $each = [];
        foreach (array_values((array) ($this->data[$name] ?? [])) as $i => $one) {
            $each[] = new self(\is_array($one) ? $one : ['name' => $one], \sprintf('%s, %s %d', $this->of, $name, $i + 1));
        }

        return $each;
    }

    /** @return array<string, self> */
    public function children(string $name): array
    {
        $each = [];
        foreach ((array) ($this->data[$name] ?? []) as $key => $one) {
            $each[(string) $key] = new self(\is_array($one) ? $one : [], \sprintf('%s, %s', $this->of, $key));
        }

        return $each;
    }

    public function has(string $name): bool
    {
        return isset($this->data[$name]);
    }

    /** @return array<mixed> */
    public function data(): array
    {
        return $this->data;
    }

    public function of(): string
    {
        return $this->of;
    }
}
