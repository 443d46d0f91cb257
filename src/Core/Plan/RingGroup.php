<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** A number that rings several. */
final readonly class RingGroup
{
    public string $key;
    public string $number;
    public string $name;
    public string $pbx;
    /** @var list<string> numbers */
    public array $members;
    public string $order;
    public int $seconds;
    public string $otherwise;

    private function __construct(Row $row)
    {
        $this->key = $row->text('key');
        $this->number = $row->text('number');
        $this->name = $row->text('name');
        $this->pbx = $row->text('pbx');
        $this->members = $row->texts('members');
        $this->order = $row->text('order');
        $this->seconds = $row->int('seconds', 20);
        $this->otherwise = $row->text('otherwise');
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }
}
