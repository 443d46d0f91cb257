<?php

declare(strict_types=1);

namespace Vorhut\Core\Kind;

/** The library of kinds. */
final readonly class Kinds
{
    /** @param array<string, Kind> $kinds by code */
    private function __construct(private array $kinds)
    {
    }

    /** @param array<string, array<mixed>> $files code → decoded data file */
    public static function fromArrays(array $files): self
    {
        ksort($files);
        $kinds = [];
        foreach ($files as $code => $data) {
            $kinds[$code] = Kind::fromArray($code, $data);
        }

        return new self($kinds);
    }

    public function find(string $code): ?Kind
    {
        return $this->kinds[$code] ?? null;
    }

    /** @return array<string, Kind> */
    public function all(): array
    {
        return $this->kinds;
    }

    /** Finds a kind by its code or its name, as a person writes it in a pasted table. */
    public function named(string $text): ?Kind
    {
        $wanted = strtolower(trim($text));
        foreach ($this->kinds as $kind) {
            if ($kind->code === $wanted || strtolower($kind->name) === $wanted) {
                return $kind;
            }
        }

        return null;
    }
}
