<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Radius;

use Vorhut\Core\Wire\ParseError;

/**
 * One packet between a client and an authentication server (RFC 2865 §3). With the shared secret each side can verify the sender: by its
 * authenticator, and by a message authenticator over the whole (RFC 3579 §3.2).
 */
final readonly class RadiusPacket implements \Stringable
{
    public const USER_NAME = 1;
    public const USER_PASSWORD = 2;
    public const REPLY_MESSAGE = 18;
    public const STATE = 24;
    public const NAS_IDENTIFIER = 32;
    public const EAP_MESSAGE = 79;
    public const MESSAGE_AUTHENTICATOR = 80;
    private const LEAST = 20;
    private const MOST = 4096;

    /**
     * @param string                   $authenticator sixteen octets
     * @param list<array{int, string}> $attributes    type and value, in their order
     */
    public function __construct(public Code $code, public int $id, public string $authenticator, public array $attributes = [])
    {
        if (16 !== \strlen($authenticator)) {
            throw new \LogicException('An authenticator has sixteen octets.');
        }
    }

    /**
     * A request with proof that its sender knows the secret.
     *
     * @param string                   $random     sixteen unpredictable octets
     * @param list<array{int, string}> $attributes
     */
    public static function request(Code $code, int $id, string $random, string $secret, array $attributes = []): self
    {
        return (new self($code, $id, $random, $attributes))->seal($secret);
    }

    /**
     * The answer to a request (§3, "Response Authenticator").
     *
     * @param list<array{int, string}> $attributes
     */
    public function respond(Code $code, string $secret, array $attributes = []): self
    {
        // Sealed with the authenticator of the request in its place, then given its own.
        $answer = (new self($code, $this->id, $this->authenticator, $attributes))->seal($secret);

        return new self($code, $this->id, md5($answer.$secret, true), $answer->attributes);
    }

    /** @throws ParseError */
    public static function fromString(string $bytes): self
    {
        $length = \strlen($bytes) < self::LEAST ? 0 : \ord($bytes[2]) << 8 | \ord($bytes[3]);
        // Data after the length is padding (§3); less than the length is not a packet.
        if ($length < self::LEAST || $length > self::MOST || $length > \strlen($bytes)) {
            throw new ParseError('This is not a RADIUS packet.');
        }
        $code = Code::tryFrom(\ord($bytes[0])) ?? throw new ParseError('Unsupported packet code.');
        $attributes = [];
        for ($at = self::LEAST; $at < $length; $at += $size) {
            $size = $at + 1 < $length ? \ord($bytes[$at + 1]) : 0;
            if ($size < 2 || $at + $size > $length) {
                throw new ParseError('Its attributes do not end where they say.');
            }
            $attributes[] = [\ord($bytes[$at]), substr($bytes, $at + 2, $size - 2)];
        }

        return new self($code, \ord($bytes[1]), substr($bytes, 4, 16), $attributes);
    }

    public function __toString(): string
    {
        $body = '';
        foreach ($this->attributes as [$type, $value]) {
            $body .= \chr($type).\chr(2 + \strlen($value)).$value;
        }

        return pack('CCn', $this->code->value, $this->id & 0xFF, self::LEAST + \strlen($body)).$this->authenticator.$body;
    }

    /** The first value of a sort. */
    public function attribute(int $type): ?string
    {
        foreach ($this->attributes as [$one, $value]) {
            if ($one === $type) {
                return $value;
            }
        }

        return null;
    }

    /** Whether the sender of a request knows the secret; one without proof does not (RFC 5997 §3). */
    public function isSealedWith(string $secret): bool
    {
        $seal = $this->attribute(self::MESSAGE_AUTHENTICATOR);

        return null !== $seal && hash_equals((string) $this->seal($secret)->attribute(self::MESSAGE_AUTHENTICATOR), $seal);
    }

    /** Whether this answers a request, and its sender knows the secret. */
    public function answers(self $request, string $secret): bool
    {
        $as = new self($this->code, $this->id, $request->authenticator, $this->attributes);

        return $this->code->isAnswer() && $this->id === $request->id && hash_equals(md5($as.$secret, true), $this->authenticator)
            && (null === $this->attribute(self::MESSAGE_AUTHENTICATOR) || $as->isSealedWith($secret));
    }

    /** A password as sent (§5.2). */
    public static function hidePassword(string $password, string $secret, string $authenticator): string
    {
        $hidden = '';
        $before = $authenticator;
        foreach (str_split(str_pad($password, max(16, 16 * (int) ceil(\strlen($password) / 16)), "\0"), 16) as $part) {
            $before = $part ^ md5($secret.$before, true);
            $hidden .= $before;
        }

        return $hidden;
    }

    /** The password of a request, as who knows the secret reads it; null where it holds none that can be read. */
    public function password(string $secret): ?string
    {
        $hidden = $this->attribute(self::USER_PASSWORD);
        if (null === $hidden || '' === $hidden || 0 !== \strlen($hidden) % 16 || \strlen($hidden) > 128) {
            return null;
        }
        $password = '';
        $before = $this->authenticator;
        foreach (str_split($hidden, 16) as $part) {
            $password .= $part ^ md5($secret.$before, true);
            $before = $part;
        }

        return rtrim($password, "\0");
    }

    private function seal(string $secret): self
    {
        $rest = array_values(array_filter($this->attributes, static fn (array $one): bool => self::MESSAGE_AUTHENTICATOR !== $one[0]));
        $at = array_search(self::MESSAGE_AUTHENTICATOR, array_column($this->attributes, 0), true);
        $with = function (string $seal) use ($rest, $at): self {
            $all = $rest;
            array_splice($all, \is_int($at) ? $at : 0, 0, [[self::MESSAGE_AUTHENTICATOR, $seal]]);

            return new self($this->code, $this->id, $this->authenticator, $all);
        };

        return $with(hash_hmac('md5', (string) $with(str_repeat("\0", 16)), $secret, true));
    }
}
