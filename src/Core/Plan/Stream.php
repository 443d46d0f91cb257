<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** Pictures or sound on their way from one device to others. What it does not say itself its sender is set to. */
final readonly class Stream
{
    /**
     * @param string       $transport RTP, RTSP, SRT, RTMP, uncompressed, AES67
     * @param bool         $multicast else once for each receiver
     * @param bool         $outside   leaves the site
     * @param list<string> $receivers device keys
     */
    private function __construct(
        public string $key,
        public string $name,
        public string $sender,
        public string $transport,
        public bool $multicast,
        public ?string $group,
        public ?int $port,
        public bool $outside,
        public string $codec,
        public ?int $width,
        public ?int $height,
        public ?int $frameRate,
        public ?int $kbit,
        public ?int $channels,
        public string $note,
        public array $receivers,
    ) {
    }

    /** @param list<string> $receivers */
    public static function fromRow(Row $row, array $receivers): self
    {
        return new self(
            $row->text('key'),
            $row->text('name'),
            $row->text('sender'),
            '' === $row->text('transport') ? 'RTP' : $row->text('transport'),
            'multicast' === $row->text('cast'),
            $row->textOrNull('group'),
            $row->intOrNull('port'),
            $row->bool('outside'),
            $row->text('codec'),
            $row->intOrNull('width'),
            $row->intOrNull('height'),
            $row->intOrNull('frameRate'),
            $row->intOrNull('kbit'),
            $row->intOrNull('channels'),
            $row->text('note'),
            $receivers,
        );
    }
}
