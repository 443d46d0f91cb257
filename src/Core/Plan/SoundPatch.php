<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** Channels in a row that go over a sound network from one device to another: the first to the first, and so on. */
final readonly class SoundPatch
{
    private function __construct(
        public string $key,
        public string $name,
        public string $from,
        public int $fromChannel,
        public string $to,
        public int $toChannel,
        public int $count,
        public string $note,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('name'),
            $row->text('from'),
            $row->int('fromChannel', 1),
            $row->text('to'),
            $row->int('toChannel', 1),
            $row->int('count', 1),
            $row->text('note'),
        );
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
