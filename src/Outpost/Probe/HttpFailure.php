<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;

/** What a failed HTTP exchange says about the far end, from the words of the HTTP client. */
final class HttpFailure
{
    /** The replies of a SOCKS 5 server (RFC 1928 §6) that the client repeats in parentheses. */
    private const SOCKS = '/SOCKS5 connection to .*\((\d+)\)/';
    /** What the operating system said when the connection was made, from the client's log. */
    private const SYSTEM = '/\bfailed: ([A-Z][a-z ]+)/';

    private const ERRORS = [
        \SOCKET_ECONNREFUSED, \SOCKET_ECONNRESET, \SOCKET_ETIMEDOUT, \SOCKET_EHOSTUNREACH, \SOCKET_ENETUNREACH,
        \SOCKET_EADDRNOTAVAIL, \SOCKET_EACCES, \SOCKET_EINVAL,
    ];

    /**
     * @param string $said    the message of the client's exception
     * @param string $log     what it wrote down of the exchange
     * @param float  $seconds how long was waited
     */
    public static function of(string $said, string $log, float $seconds): NoAnswer|ParseError
    {
        return match (true) {
            1 === preg_match(self::SOCKS, $said, $found) => self::bySocks((int) $found[1], $seconds),
            self::has($said, 'timed out', 'timeout', 'Max duration') => NoAnswer::silence($seconds),
            self::has($said, 'public key does not match', 'pinned') => NoAnswer::otherCertificate(),
            // That something answers is known; only in what way is not.
            self::has(
                $said,
                'HTTP/0.9',
                'Weird server reply',
                'Unsupported HTTP',
                'Invalid status line',
                'Header without colon',
            ) => new ParseError('The answer is not an HTTP response.'),
            self::has($said, 'SSL', 'TLS') => new ParseError('What answers there speaks no TLS.'),
            self::has($said, 'Could not connect', "Couldn't connect", 'Failed to connect') => self::bySystem($log, $seconds),
            self::has($said, 'outstanding read data', 'bytes remaining', 'chunk', 'Chunk') => NoAnswer::cutShort(),
            self::has($said, 'Empty reply', 'Recv failure', 'Send failure', 'Connection reset', 'unexpected eof') => NoAnswer::brokenOff(),
            default => NoAnswer::notAsked(new Message('this machine could not send it: {reason}', ['reason' => $said])),
        };
    }

    private static function bySocks(int $reply, float $seconds): NoAnswer
    {
        return match ($reply) {
            5 => NoAnswer::refusal(),
            4 => NoAnswer::unreachable(),
            3 => NoAnswer::notAsked(new Message('the lab does not play this place')),
            default => NoAnswer::silence($seconds),
        };
    }

    private static function bySystem(string $log, float $seconds): NoAnswer
    {
        $reason = 1 === preg_match(self::SYSTEM, $log, $found) ? trim($found[1]) : '';
        foreach (self::ERRORS as $error) {
            if (socket_strerror($error) === $reason) {
                return NoAnswer::ofError($error, $seconds, false);
            }
        }

        return NoAnswer::silence($seconds);
    }

    private static function has(string $said, string ...$words): bool
    {
        foreach ($words as $word) {
            if (false !== stripos($said, $word)) {
                return true;
            }
        }

        return false;
    }
}
