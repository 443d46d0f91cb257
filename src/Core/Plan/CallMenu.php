<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** A number at which a caller is told what to press. */
final readonly class CallMenu
{
    public string $key;
    public string $number;
    public string $name;
    public string $pbx;
    public string $says;
    /** @var array<array-key, string> key that is pressed → number it leads to */
    public array $choices;
    public int $seconds;
    public string $otherwise;

    private function __construct(Row $row)
    {
        $this->key = $row->text('key');
        $this->number = $row->text('number');
        $this->name = $row->text('name');
        $this->pbx = $row->text('pbx');
        $this->says = $row->text('says');
        $this->choices = array_column(array_map(static fn (string $one): array => explode(' ', $one, 2), $row->texts('choices')), 1, 0);
        $this->seconds = $row->int('seconds', 10);
        $this->otherwise = $row->text('otherwise');
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }
}
