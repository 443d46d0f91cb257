<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/**
 * A behaviour of a kind's stand-in in the lab beyond its admin page: a family, with the parameters of this kind. The lab defines the
 * families and their parameters; a value that is neither a number nor a plain word names a setting.
 */
final readonly class Play
{
    /** @param array<string, string> $with */
    public function __construct(public string $family, private array $with)
    {
    }

    public static function read(Reading $read): self
    {
        $with = $read->map('with');

        return new self($read->requireText('family'), $with);
    }

    public function text(string $name, string $else = ''): string
    {
        return $this->with[$name] ?? $else;
    }

    public function number(string $name, float $else): float
    {
        return is_numeric($this->with[$name] ?? null) ? (float) $this->with[$name] : $else;
    }

    /**
     * @return array<string, string> a list of pairs as `mine = theirs, mine = theirs`; a name without a partner is the same on both sides
     */
    public function pairs(string $name): array
    {
        $pairs = [];
        foreach (array_diff(array_map(trim(...), explode(',', $this->text($name))), ['']) as $pair) {
            [$mine, $theirs] = array_map(trim(...), explode('=', $pair, 2)) + [1 => ''];
            $pairs[$mine] = '' === $theirs ? $mine : $theirs;
        }

        return $pairs;
    }

    /** @return array<string, string> */
    public function all(): array
    {
        return $this->with;
    }
}
