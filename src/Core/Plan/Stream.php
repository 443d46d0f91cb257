<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** Pictures or sound on their way from one device to others. What it does not say itself its sender is set to. */
final readonly class Stream
{
    public string $key;
    public string $name;
    public string $sender;
    /** RTP, RTSP, SRT, RTMP, uncompressed, AES67. */
    public string $transport;
    /** Else once for each receiver. */
    public bool $multicast;
    public ?string $group;
    public ?int $port;
    /** Leaves the site. */
    public bool $outside;
    public string $codec;
    public ?int $width;
    public ?int $height;
    public ?int $frameRate;
    public ?int $kbit;
    public ?int $channels;
    public string $note;
    /** @var list<string> device keys */
    public array $receivers;

    /** @param list<string> $receivers */
    private function __construct(Row $row, array $receivers)
    {
        $this->key = $row->text('key');
        $this->name = $row->text('name');
        $this->sender = $row->text('sender');
        $this->transport = '' === $row->text('transport') ? 'RTP' : $row->text('transport');
        $this->multicast = 'multicast' === $row->text('cast');
        $this->group = $row->textOrNull('group');
        $this->port = $row->intOrNull('port');
        $this->outside = $row->bool('outside');
        $this->codec = $row->text('codec');
        $this->width = $row->intOrNull('width');
        $this->height = $row->intOrNull('height');
        $this->frameRate = $row->intOrNull('frameRate');
        $this->kbit = $row->intOrNull('kbit');
        $this->channels = $row->intOrNull('channels');
        $this->note = $row->text('note');
        $this->receivers = $receivers;
    }

    /** @param list<string> $receivers */
    public static function fromRow(Row $row, array $receivers): self
    {
        return new self($row, $receivers);
    }
}
