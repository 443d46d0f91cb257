<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Srt;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;

/** The control packet of the SRT handshake, twice in each direction (draft-sharabayko-srt-01 §3.2.1, §4.3.1). */
final readonly class Handshake implements \Stringable
{
    public const INDUCTION = 1;
    public const CONCLUSION = 0xFFFFFFFF;
    /** Kinds of refusal begin here (§4.3, table 7). */
    public const REFUSED = 1000;
    public const BAD_SECRET = 1010;
    public const UNSECURE = 1011;

    /** Of what follows the handshake (§3.2.1.1): a request, its answer, keys. */
    public const HSREQ = 1;
    public const HSRSP = 2;
    public const KMREQ = 3;
    public const KMRSP = 4;

    private const MAGIC = 0x4A17;
    private const HEAD = 16;
    private const LENGTH = 48;
    private const MTU = 1500;
    private const WINDOW = 8192;

    /**
     * @param int                $to         socket of the receiver; 0 for the listener
     * @param int                $socket     socket of the sender
     * @param array<int, string> $extensions kind → its content, in whole words
     * @param int                $field      content of the extension field
     */
    private function __construct(
        public int $to,
        public int $version,
        public int $encryption,
        public int $field,
        public int $sequence,
        public int $type,
        public int $socket,
        public int $cookie,
        public Ipv4 $peer,
        public array $extensions = [],
    ) {
    }

    /** The first word of a caller. */
    public static function induction(int $socket, Ipv4 $peer, int $sequence): self
    {
        return new self(0, 4, 0, 2, $sequence, self::INDUCTION, $socket, 0, $peer);
    }

    /** What a listener says to it: it keeps nothing, the cookie brings everything back. */
    public function induct(int $cookie, Ipv4 $peer): self
    {
        return new self($this->socket, 5, 0, self::MAGIC, $this->sequence, self::INDUCTION, $this->socket, $cookie, $peer);
    }

    /**
     * The second word of a caller.
     *
     * @param array<int, string> $extensions
     */
    public function conclusion(int $socket, Ipv4 $peer, int $sequence, array $extensions): self
    {
        return new self(
            0,
            5,
            isset($extensions[self::KMREQ]) ? 2 : 0,
            1 | (isset($extensions[self::KMREQ]) ? 2 : 0),
            $sequence,
            self::CONCLUSION,
            $socket,
            $this->cookie,
            $peer,
            $extensions,
        );
    }

    /** @param array<int, string> $extensions */
    public function accept(int $socket, Ipv4 $peer, array $extensions): self
    {
        $field = 1 | (isset($extensions[self::KMRSP]) ? 2 : 0);

        return new self($this->socket, 5, $this->encryption, $field, $this->sequence, self::CONCLUSION, $socket, 0, $peer, $extensions);
    }

    public function reject(int $reason, Ipv4 $peer): self
    {
        return new self($this->socket, 5, 0, 0, $this->sequence, $reason, $this->socket, 0, $peer);
    }

    public static function tryFromString(string $bytes): ?self
    {
        try {
            return self::fromString($bytes);
        } catch (ParseError) {
            return null;
        }
    }

    /** @throws ParseError */
    public static function fromString(string $bytes): self
    {
        if (\strlen($bytes) < self::HEAD + self::LENGTH) {
            throw new ParseError('A handshake has 64 bytes.');
        }
        /** @var array{first: int, info: int, time: int, to: int} $head */
        $head = unpack('Nfirst/Ninfo/Ntime/Nto', $bytes);
        if (0x8000_0000 !== ($head['first'] & 0xFFFF_0000)) {
            throw new ParseError('No handshake.');
        }
        /**
         * @var array{version: int, encryption: int, field: int, sequence: int, mtu: int, window: int, type: int, socket: int,
         *     cookie: int} $body
         */
        $body = unpack('Nversion/nencryption/nfield/Nsequence/Nmtu/Nwindow/Ntype/Nsocket/Ncookie', $bytes, self::HEAD);
        $extensions = [];
        // Only a conclusion of version 5 has extensions; elsewhere the field says something else.
        $hasMore = 5 === $body['version'] && self::CONCLUSION === $body['type'];
        for ($at = self::HEAD + self::LENGTH; $hasMore && $at + 4 <= \strlen($bytes);) {
            /** @var array{kind: int, words: int} $block */
            $block = unpack('nkind/nwords', $bytes, $at);
            if ($at + 4 + 4 * $block['words'] > \strlen($bytes)) {
                throw new ParseError('An extension is cut off.');
            }
            $extensions[$block['kind']] ??= substr($bytes, $at + 4, 4 * $block['words']);
            $at += 4 + 4 * $block['words'];
        }

        return new self(
            $head['to'],
            $body['version'],
            $body['encryption'],
            $body['field'],
            $body['sequence'],
            $body['type'],
            $body['socket'],
            $body['cookie'],
            self::address(substr($bytes, self::HEAD + 32, 4)),
            $extensions,
        );
    }

    public function __toString(): string
    {
        $bytes = pack('NNNN', 0x8000_0000, 0, 0, $this->to)
            .pack('Nnn', $this->version, $this->encryption, $this->field)
            .pack('NNNNNN', $this->sequence, self::MTU, self::WINDOW, $this->type, $this->socket, $this->cookie)
            // The words of an address are in the byte order of the machine that sent it (§3.2.1).
            .pack('V', $this->peer->number).str_repeat("\0", 12);
        foreach ($this->extensions as $kind => $text) {
            $bytes .= pack('nn', $kind, intdiv(\strlen($text), 4)).$text;
        }

        return $bytes;
    }

    public function isInduction(): bool
    {
        return self::INDUCTION === $this->type;
    }

    /** An answer to an induction that speaks version 5. */
    public function isListener(): bool
    {
        return $this->isInduction() && $this->version >= 5 && self::MAGIC === $this->field;
    }

    public function isConclusion(): bool
    {
        return self::CONCLUSION === $this->type;
    }

    /** The reason; null if it is not a rejection. */
    public function reason(): ?int
    {
        return $this->type >= self::REFUSED && $this->type < 5000 ? $this->type : null;
    }

    /**
     * Each end's version, features and latency for lost packets (§3.2.1.1).
     *
     * @param int $latency ms
     */
    public static function terms(int $latency): string
    {
        // Version 1.4.1; timestamps both ways, encryption, late packets dropped, repeats asked for, repeats marked.
        return pack('NNnn', 0x0001_0401, 0x0000_003F, $latency, $latency);
    }

    /** @return int|null ms that the far end waits for lost packets; null if not stated */
    public static function latency(string $terms): ?int
    {
        if (\strlen($terms) < 12) {
            return null;
        }
        /** @var array{receives: int, sends: int} $said */
        $said = unpack('nreceives/nsends', $terms, 8);

        return max($said['receives'], $said['sends']);
    }

    /** The control packet that ends it (§3.2.7). */
    public static function shutdown(int $to): string
    {
        return pack('NNNN', 0x8005_0000, 0, 0, $to).str_repeat("\0", 4);
    }

    public static function isShutdown(string $bytes): bool
    {
        return \strlen($bytes) >= self::HEAD && "\x80\x05" === substr($bytes, 0, 2);
    }

    /** The control packet that keeps the connection alive (§3.2.3). */
    public static function keepAlive(int $to): string
    {
        return pack('NNNN', 0x8001_0000, 0, 0, $to).str_repeat("\0", 4);
    }

    private static function address(string $bytes): Ipv4
    {
        /** @var array{1: int} $number */
        $number = unpack('V', $bytes);

        return Ipv4::fromNumber($number[1]);
    }
}
