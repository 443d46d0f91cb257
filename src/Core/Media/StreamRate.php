<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Stream;
use Vorhut\Core\Text\Message;

/** The network load of one stream, sent once, and its source: its own rate, else the setting of its sender. */
final readonly class StreamRate
{
    /** @param array{float, float}|null $usual kbit/s for a picture of this size and codec */
    private function __construct(
        public ?float $kbit,
        public Message $how,
        public string $codec,
        public ?int $width,
        public ?int $height,
        public float $frameRate,
        public ?array $usual = null,
    ) {
    }

    public static function of(Plan $plan, Stream $stream, Face $face = Face::Set): self
    {
        $sender = $plan->devices[$stream->sender] ?? null;
        $codec = '' !== $stream->codec ? $stream->codec : self::setting($sender, 'codec', $face) ?? '';
        [$width, $height] = self::size($stream, self::setting($sender, 'size', $face));
        $fps = (float) ($stream->frameRate ?? self::setting($sender, 'frameRate', $face) ?? 0);
        $at = ['sender' => $sender->tag ?? $stream->sender, 'codec' => $codec, 'size' => $width.'×'.$height, 'fps' => (string) $fps];
        if ('L24' === $codec || 'AES67' === $stream->transport) {
            $channels = $stream->channels ?? 2;

            return new self(
                PictureRate::sound($channels),
                new Message('[n channel|channels] of L24 in packets of 1 ms', ['n' => $channels]),
                'L24',
                null,
                null,
                0.0,
            );
        }
        $isPicture = null !== $width && null !== $height && $fps > 0;
        if (null !== $stream->kbit) {
            $kbit = (float) $stream->kbit;
            $how = new Message('as it stands here');
        } elseif ($isPicture && ('uncompressed' === $codec || 'uncompressed' === $stream->transport)) {
            $kbit = PictureRate::uncompressedRate($width, $height, $fps);
            $how = new Message('{size} at {fps} fps, uncompressed, 4:2:2 at 10 bit, with headers', $at);
        } elseif ($isPicture && 'intra' === $codec) {
            $kbit = PictureRate::intra($width, $height, $fps);
            $how = new Message('{size} at {fps} fps, each frame by itself, 8 : 1', $at);
        } else {
            $picture = self::setting($sender, 'bitRate', $face);
            $sound = (float) (self::setting($sender, 'audioRate', $face) ?? 0);
            if (null === $picture) {
                return new self(null, new Message('bit rate not set'), $codec, $width, $height, $fps);
            }
            $kbit = (float) $picture + $sound;
            $how = new Message('as {sender} is set', $at);
        }
        $usual = $isPicture ? PictureRate::usual($codec, $width, $height, $fps) : null;

        return new self(
            $kbit,
            $how,
            $codec,
            $width,
            $height,
            $fps,
            $usual,
        );
    }

    public function mbps(): float
    {
        return ($this->kbit ?? 0.0) / 1000;
    }

    /** Rate in kbit/s at which H.265 shows the same picture; null where the codec is not H.264 or the rate is unknown. */
    public function sameInH265(): ?float
    {
        return 'H.264' !== $this->codec || null === $this->kbit ? null : PictureRate::likeInH265($this->kbit);
    }

    /** Neither far less nor far more than pictures of this size take. */
    public function isUsual(): bool
    {
        return null === $this->usual || null === $this->kbit || ($this->kbit >= $this->usual[0] && $this->kbit <= $this->usual[1]);
    }

    private static function setting(?Device $device, string $name, Face $face): ?string
    {
        $value = null === $device || null === $device->kind->setting($name) ? null : $device->setting($name)->effective($face);

        return '' === $value ? null : $value;
    }

    /** @return array{int|null, int|null} */
    private static function size(Stream $stream, ?string $told): array
    {
        if (null !== $stream->width && null !== $stream->height) {
            return [$stream->width, $stream->height];
        }

        return 1 === preg_match('/^([0-9]{2,5})x([0-9]{2,5})$/D', (string) $told, $found)
            ? [(int) $found[1], (int) $found[2]]
            : [null, null];
    }
}
