<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

/** Cells of many services together: how many are reachable, one-way and unreachable, and the most frequent fault. */
final readonly class Crossing implements \JsonSerializable
{
    /** @param array<string, int> $faults fault → cells */
    public function __construct(public int $holds = 0, public int $oneWay = 0, public int $broken = 0, public array $faults = [])
    {
    }

    public function with(Cell $cell, int $times): self
    {
        $faults = $this->faults;
        if (null !== $cell->fault) {
            $faults[$cell->fault->value] = ($faults[$cell->fault->value] ?? 0) + $times;
        }

        return new self(
            $this->holds + ('holds' === $cell->verdict ? $times : 0),
            $this->oneWay + ('one-way' === $cell->verdict ? $times : 0),
            $this->broken + ('broken' === $cell->verdict ? $times : 0),
            $faults,
        );
    }

    public function and(self $other): self
    {
        $faults = $this->faults;
        foreach ($other->faults as $fault => $times) {
            $faults[$fault] = ($faults[$fault] ?? 0) + $times;
        }

        return new self($this->holds + $other->holds, $this->oneWay + $other->oneWay, $this->broken + $other->broken, $faults);
    }

    public function all(): int
    {
        return $this->holds + $this->oneWay + $this->broken;
    }

    /** @return 'holds'|'one-way'|'broken'|'mixed'|'none' */
    public function verdict(): string
    {
        return match ($this->all()) {
            0 => 'none',
            $this->holds => 'holds',
            $this->oneWay => 'one-way',
            $this->broken => 'broken',
            default => 'mixed',
        };
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return ['holds' => $this->holds, 'oneWay' => $this->oneWay, 'broken' => $this->broken, 'faults' => (object) $this->faults];
    }
}
