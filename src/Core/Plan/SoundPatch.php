<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** Channels in a row that go over a sound network from one device to another: the first to the first, and so on. */
final readonly class SoundPatch
{
    public string $key;
    public string $name;
    public string $from;
    public int $fromChannel;
    public string $to;
    public int $toChannel;
    public int $count;
    public string $note;

    private function __construct(Row $row)
    {
        $this->key = $row->text('key');
        $this->name = $row->text('name');
        $this->from = $row->text('from');
        $this->fromChannel = $row->int('fromChannel', 1);
        $this->to = $row->text('to');
        $this->toChannel = $row->int('toChannel', 1);
        $this->count = $row->int('count', 1);
        $this->note = $row->text('note');
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }

    public function record(): string
    {
        return 'soundPatches/'.$this->key;
    }

    /** "5", "5-12" */
    public function sentChannels(): string
    {
        return self::span($this->fromChannel, $this->count);
    }

    public function receivedChannels(): string
    {
        return self::span($this->toChannel, $this->count);
    }

    public static function span(int $first, int $count): string
    {
        return $count > 1 ? $first.'-'.($first + $count - 1) : (string) $first;
    }
}
