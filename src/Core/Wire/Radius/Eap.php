<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Radius;

use Vorhut\Core\Wire\ParseError;

/** The EAP messages within RADIUS by which both sides agree on a method before authentication (RFC 3748 §4, carried by RFC 3579). */
final readonly class Eap implements \Stringable
{
    public const REQUEST = 1;
    public const RESPONSE = 2;
    public const SUCCESS = 3;
    public const FAILURE = 4;

    public const IDENTITY = 1;
    /** "Not that one, but one of these" (§5.3.1). */
    public const NAK = 3;
    /** Methods as they are called here → their numbers (IANA, EAP method types). */
    public const METHODS = ['EAP-TLS' => 13, 'EAP-TTLS' => 21, 'PEAP' => 25];

    /** @param int|null $type null for the end of it */
    public function __construct(public int $code, public int $id, public ?int $type = null, public string $data = '')
    {
    }

    /** @throws ParseError */
    public static function fromString(string $bytes): self
    {
        if (\strlen($bytes) < 4) {
            throw new ParseError('EAP has four bytes at least.');
        }
        /** @var array{code: int, id: int, length: int} $head */
        $head = unpack('Ccode/Cid/nlength', $bytes);
        if ($head['length'] < 4 || $head['length'] > \strlen($bytes) || $head['code'] < self::REQUEST || $head['code'] > self::FAILURE) {
            throw new ParseError('No EAP of that length or code.');
        }
        // Data after the length is padding of the carrier (§4).
        $rest = substr($bytes, 4, $head['length'] - 4);
        if (\in_array($head['code'], [self::SUCCESS, self::FAILURE], true)) {
            return new self($head['code'], $head['id']);
        }

        return '' === $rest
            ? throw new ParseError('A request and a response of EAP have a type.')
            : new self($head['code'], $head['id'], \ord($rest[0]), substr($rest, 1));
    }

    /** @return list<int> the methods that who does not want one would take; empty where he takes none */
    public function desiredMethods(): array
    {
        return self::NAK === $this->type ? array_values(array_filter(
            array_map(ord(...), str_split($this->data)),
            static fn (int $type): bool => 0 !== $type,
        )) : [];
    }

    public function __toString(): string
    {
        $rest = null === $this->type ? '' : \chr($this->type).$this->data;

        return pack('CCn', $this->code, $this->id & 0xFF, 4 + \strlen($rest)).$rest;
    }
}
