<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sdp;

use Vorhut\Core\Wire\ParseError;

/** What a description says of its pictures (RFC 8866 §6; codecs by RFC 6184, 7798, 2435; size by RFC 6064 §3). */
final readonly class PictureFormat implements \Stringable
{
    /** Encoding names, as settings call them. */
    private const NAMES = ['H264' => 'H.264', 'H265' => 'H.265', 'JPEG' => 'MJPEG', 'raw' => 'uncompressed'];
    private const TYPE = 96;
    private const JPEG = 26;

    public function __construct(public string $codec, public ?int $width, public ?int $height, public ?float $rate)
    {
    }

    /** @throws ParseError where it describes no pictures */
    public static function fromString(string $text): self
    {
        if (1 !== preg_match('~^m=video [0-9]{1,5}(?:/[0-9]+)? RTP/S?AVPF? ([0-9]{1,3})~m', $text, $found)) {
            throw new ParseError('It describes no pictures.');
        }
        $type = $found[1];
        $name = match (true) {
            1 === preg_match('~^a=rtpmap:'.$type.' ([A-Za-z0-9.-]{1,30})/~m', $text, $found) => $found[1],
            (string) self::JPEG === $type => 'JPEG',
            default => '',
        };
        $codec = '';
        foreach (self::NAMES as $known => $called) {
            $codec = 0 === strcasecmp($known, $name) ? $called : $codec;
        }
        $size = 1 === preg_match(
            '~^a=framesize:'.$type.' ([0-9]{1,5})-([0-9]{1,5})~m',
            $text,
            $found,
        ) ? [(int) $found[1], (int) $found[2]] : null;

        return new self(
            '' === $codec ? $name : $codec,
            $size[0] ?? null,
            $size[1] ?? null,
            1 === preg_match('~^a=framerate:([0-9]{1,3}(?:\.[0-9]{1,3})?)~m', $text, $found) ? (float) $found[1] : null,
        );
    }

    public function describe(string $address): string
    {
        $name = array_search($this->codec, self::NAMES, true);
        $type = 'MJPEG' === $this->codec ? self::JPEG : self::TYPE;

        return "v=0\r\no=- 1 1 IN IP4 $address\r\ns=pictures\r\nc=IN IP4 0.0.0.0\r\nt=0 0\r\nm=video 0 RTP/AVP $type\r\n"
            ."a=rtpmap:$type ".(false === $name ? $this->codec : $name)."/90000\r\n"
            .(null === $this->width ? '' : "a=framesize:$type $this->width-$this->height\r\n")
            .(null === $this->rate ? '' : "a=framerate:$this->rate\r\n")
            ."a=control:track1\r\n";
    }

    /** Whether it is the expected one, as far as either says. */
    public function fits(self $wanted): bool
    {
        return ('' === $wanted->codec || $this->codec === $wanted->codec)
            && (null === $this->width || null === $wanted->width || [$this->width, $this->height] === [$wanted->width, $wanted->height])
            && (null === $this->rate || null === $wanted->rate || abs($this->rate - $wanted->rate) < 0.5);
    }

    public function __toString(): string
    {
        return trim($this->codec
            .(null === $this->width ? '' : " {$this->width}×{$this->height}")
            .(null === $this->rate ? '' : ' '.rtrim(rtrim(number_format($this->rate, 2, '.', ''), '0'), '.').' fps'));
    }
}
