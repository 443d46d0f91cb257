<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;

/** No answer that one could read; the kinds of it are told apart, for each points somewhere else. */
final class NoAnswer extends \RuntimeException implements OutpostError
{
    private function __construct(public readonly Outcome $outcome, private readonly Message $said)
    {
        parent::__construct((string) $said);
    }

    public static function silence(float $seconds): self
    {
        return new self(Outcome::Silent, new Message('nothing came back within {n} s', ['n' => \sprintf('%.1f', $seconds)]));
    }

    /** It is there and sent a reset for this port (RFC 9293 §3.10.7.1). */
    public static function refusal(): self
    {
        return new self(Outcome::Refuses, new Message('the port was refused'));
    }

    /** A router reported it (RFC 1812 §4.3.3.1), or the address did not answer in the own segment (RFC 826). */
    public static function unreachable(): self
    {
        return new self(Outcome::Unreachable, new Message('the address cannot be reached: a router reports it, or no device answers here'));
    }

    public static function brokenOff(): self
    {
        return new self(Outcome::BrokenOff, new Message('it took the connection and broke it off without a word'));
    }

    /** It began to answer and closed the connection before the end. */
    public static function cutShort(): self
    {
        return new self(Outcome::BrokenOff, new Message('it broke off in the middle of its answer'));
    }

    /**
     * @param int  $error as the operating system numbers it
     * @param bool $sent  whether the question went out before the error came
     */
    public static function ofError(int $error, float $seconds, bool $sent): self
    {
        return match ($error) {
            \SOCKET_ECONNREFUSED => self::refusal(),
            \SOCKET_ECONNRESET => self::brokenOff(),
            \SOCKET_ETIMEDOUT => self::silence($seconds),
            \SOCKET_EHOSTUNREACH => self::unreachable(),
            // Before anything was sent it is this machine that has no route; afterwards a router on the way.
            \SOCKET_ENETUNREACH => $sent ? self::unreachable() : self::notAsked(new Message('this machine has no route there')),
            default => self::notAsked(new Message('this machine could not send it: {reason}', [
                'reason' => socket_strerror($error),
            ])),
        };
    }

    public static function badCertificate(string $reason): self
    {
        return new self(Outcome::BadCertificate, new Message('its certificate is not to be trusted: {reason}', ['reason' => $reason]));
    }

    /** It signs its own certificate, and this is not the one from first contact. */
    public static function otherCertificate(): self
    {
        return self::badCertificate('it is not the one from first contact');
    }

    /** Nothing was sent, so it says nothing of the far end. */
    public static function notAsked(Message $why): self
    {
        return new self(Outcome::NotAsked, $why);
    }

    public function message(): Message
    {
        return $this->said;
    }
}
