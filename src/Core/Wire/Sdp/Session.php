<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sdp;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Rtp\TelephoneEvent;

/** A session description with one audio stream (RFC 8866), as much as an offer or answer of a phone call says (RFC 3264). */
final readonly class Session implements \Stringable
{
    public const PCMU = 0;
    public const PCMA = 8;

    /**
     * @param list<int> $formats   RTP payload types, in order of wish
     * @param int|null  $keys      the one that carries pressed keys (RFC 4733 §7.1.1); null where none does
     * @param int       $version   one more with each change within a call (RFC 3264 §8)
     */
    public function __construct(
        public Ipv4 $address,
        public int $port,
        public array $formats,
        public int $id = 1,
        public ?int $keys = null,
        public Direction $direction = Direction::Both,
        public int $version = 1,
    ) {
    }

    /** What answers an offer within a call: the same sound, where the other end wants it, one version on. */
    public function answering(self $offer): self
    {
        return new self(
            $this->address,
            $this->port,
            $this->formats,
            $this->id,
            $offer->keys,
            $offer->direction->reverse(),
            $this->version + 1,
        );
    }

    /** Whether the sender of this wants to receive no media for now; an address of zeros is an older way to say it (RFC 3264 §8.4). */
    public function isOnHold(): bool
    {
        return !$this->direction->hears() || 0 === $this->address->number;
    }

    /** With keys, as everybody offers them here. */
    public function withKeys(int $type = TelephoneEvent::TYPE): self
    {
        return new self($this->address, $this->port, $this->formats, $this->id, $type, $this->direction, $this->version);
    }

    /** @throws ParseError */
    public static function fromString(string $text): self
    {
        $address = $port = $keys = null;
        $direction = Direction::Both;
        $formats = [];
        $inAudio = false;
        foreach (preg_split('/\r?\n/', $text) ?: [] as $line) {
            if (str_starts_with($line, 'm=')) {
                $inAudio = 1 === preg_match('#^m=audio ([0-9]{1,5})(?:/[0-9]+)? RTP/AVP ([0-9 ]+)$#D', $line, $found);
                if ($inAudio && null === $port) {
                    $port = (int) $found[1];
                    $formats = array_map(
                        intval(...),
                        array_values(array_filter(explode(' ', $found[2]), static fn (string $one): bool => '' !== $one)),
                    );
                }
            } elseif ($inAudio && 1 === preg_match('#^a=rtpmap:([0-9]{1,3}) telephone-event/8000$#iD', $line, $found)) {
                $keys ??= (int) $found[1];
            } elseif (str_starts_with($line, 'a=') && null !== $said = Direction::tryFrom(substr($line, 2))) {
                // Of the whole session, or of its audio, which has precedence (RFC 8866 §6.7); not of its video.
                $direction = null === $port || $inAudio ? $said : $direction;
            } elseif (1 === preg_match('/^c=IN IP4 ([0-9.]+)/', $line, $found) && ($inAudio || null === $address)) {
                $address = Ipv4::tryFromString($found[1]);
            }
        }
        if (null === $address || null === $port || $port > 65535) {
            throw new ParseError('The description names no audio stream with an IPv4 address.');
        }

        return new self(
            $address,
            $port,
            array_values(array_filter($formats, static fn (int $format): bool => $format !== $keys)),
            1,
            $keys,
            $direction,
        );
    }

    /** The first format of ours that the other end also has; null: no common codec. */
    public function common(self $offer): ?int
    {
        foreach ($offer->formats as $format) {
            if (\in_array($format, $this->formats, true)) {
                return $format;
            }
        }

        return null;
    }

    public function __toString(): string
    {
        $names = [self::PCMU => 'PCMU/8000', self::PCMA => 'PCMA/8000'];
        $text = "v=0\r\no=- $this->id $this->version IN IP4 $this->address\r\ns=-\r\nc=IN IP4 $this->address\r\nt=0 0\r\n"
            ."m=audio $this->port RTP/AVP "
            .implode(' ', null === $this->keys ? $this->formats : [...$this->formats, $this->keys])
            ."\r\n";
        foreach ($this->formats as $format) {
            if (isset($names[$format])) {
                $text .= "a=rtpmap:$format $names[$format]\r\n";
            }
        }
        if (null !== $this->keys) {
            $text .= "a=rtpmap:$this->keys telephone-event/8000\r\na=fmtp:$this->keys 0-15\r\n";
        }

        return $text."a=ptime:20\r\na={$this->direction->value}\r\n";
    }
}
