<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sip;

use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sanitizer;

/**
 * A SIP request or response (RFC 3261 §7). Header names are kept in their full form; several values on one line are parted for the
 * headers that are lists.
 */
final readonly class SipMessage implements \Stringable
{
    /** Compact forms, RFC 3261 §7.3.3. */
    private const COMPACT = [
        'i' => 'Call-ID',
        'm' => 'Contact',
        'e' => 'Content-Encoding',
        'l' => 'Content-Length',
        'c' => 'Content-Type',
        'f' => 'From',
        's' => 'Subject',
        'k' => 'Supported',
        't' => 'To',
        'v' => 'Via',
    ];
    private const LISTS = ['Via', 'Contact', 'Route', 'Record-Route', 'Allow', 'Supported'];
    private const ONCE = ['From', 'To', 'Call-ID', 'CSeq', 'Max-Forwards', 'Content-Length', 'Content-Type'];
    /** RFC 3261 §8.1.1.5: less than 2**31. */
    private const MOST_IN_SEQUENCE = 0x7FFFFFFF;
    private const NEEDED = ['Via', 'From', 'To', 'Call-ID', 'CSeq'];

    /** @param list<array{string, string}> $headers */
    private function __construct(
        public string $method,
        public string $uri,
        public int $status,
        public string $reason,
        private array $headers,
        public string $body,
    ) {
    }

    /** @param list<array{string, string}> $headers */
    public static function request(string $method, string $uri, array $headers, string $body = ''): self
    {
        return new self($method, $uri, 0, '', $headers, $body);
    }

    /**
     * An answer with the headers that RFC 3261 §8.2.6.2 copies from the request.
     *
     * @param list<array{string, string}> $headers
     */
    public static function response(
        self $request,
        int $status,
        ?string $reason = null,
        array $headers = [],
        string $body = '',
        ?string $toTag = null,
    ): self {
        // Every answer but 100 carries a tag (§8.2.6.2); of one request all carry the same.
        $toTag ??= $status > 100 ? substr(hash('sha256', $request->callId().$request->sequence().$request->header('From')), 0, 10) : null;
        $copied = [];
        foreach ($request->headers as [$name, $value]) {
            if (\in_array($name, ['Via', 'From', 'Call-ID', 'CSeq', 'Record-Route'], true)) {
                $copied[] = [$name, $value];
            } elseif ('To' === $name) {
                $copied[] = [
                    $name,
                    null !== $toTag && null === SipAddress::fromString($value)->parameter('tag') ? $value.';tag='.$toTag : $value,
                ];
            }
        }

        return new self('', '', $status, $reason ?? self::phrase($status), [...$copied, ...$headers], $body);
    }

    /** What takes an INVITE back (RFC 3261 §9.1). */
    public static function cancel(self $invite): self
    {
        return self::nextHop('CANCEL', $invite, (string) $invite->header('To'));
    }

    /** What acknowledges the refusal of an INVITE (RFC 3261 §17.1.1.3); a 200 is acknowledged by the caller, end to end. */
    public static function acknowledge(self $invite, self $refusal): self
    {
        return self::nextHop('ACK', $invite, (string) $refusal->header('To'));
    }

    /** A request to the next hop only, within the transaction of an INVITE: its branch, its number, its route. */
    private static function nextHop(string $method, self $invite, string $to): self
    {
        return new self($method, $invite->uri, 0, '', [
            ['Via', (string) $invite->header('Via')],
            ...array_map(static fn (string $route): array => ['Route', $route], $invite->headers('Route')),
            ['Max-Forwards', '70'],
            ['From', (string) $invite->header('From')],
            ['To', $to],
            ['Call-ID', $invite->callId()],
            ['CSeq', $invite->sequence().' '.$method],
        ], '');
    }

    /** @throws ParseError */
    public static function fromString(string $bytes): self
    {
        $bytes = ltrim($bytes, "\r\n");
        $parts = preg_split('/\r?\n\r?\n/', $bytes, 2);
        if (false === $parts || 2 !== \count($parts)) {
            throw new ParseError('No empty line after the headers.');
        }
        // A line that begins with white space goes on with the one before (§7.3.1).
        $lines = preg_split('/\r?\n/', preg_replace('/\r?\n[ \t]+/', ' ', $parts[0]) ?? '') ?: [];
        $first = array_shift($lines) ?? '';
        $method = $uri = $reason = '';
        $status = 0;
        if (1 === preg_match('~^SIP/2\.0 ([1-6][0-9]{2})(?: (.*))?$~D', $first, $found)) {
            $status = (int) $found[1];
            $reason = Sanitizer::text($found[2] ?? '', 120);
        } elseif (1 === preg_match('~^([A-Za-z0-9.!%*_+`\'\~-]+) ([^\s<>]+) SIP/2\.0$~D', $first, $found)) {
            [, $method, $uri] = $found;
        } else {
            throw new ParseError('The first line is neither a SIP request nor a SIP response.');
        }
        $headers = [];
        foreach ($lines as $line) {
            if (1 !== preg_match('/^([A-Za-z0-9.!%*_+`\'~-]+)[ \t]*:[ \t]*(.*?)[ \t]*$/D', $line, $found)) {
                throw new ParseError('A header line without a name and a colon.');
            }
            $name = self::canonical($found[1]);
            foreach (\in_array($name, self::LISTS, true) ? self::split($found[2]) : [$found[2]] as $value) {
                $headers[] = [$name, $value];
            }
        }
        $body = $parts[1];
        $message = new self($method, $uri, $status, $reason, $headers, $body);
        foreach (self::NEEDED as $needed) {
            if (null === $message->header($needed)) {
                throw ParseError::because('The header {needed} is missing.', ['needed' => $needed]);
            }
        }
        foreach (self::ONCE as $once) {
            if (\count($message->headers($once)) > 1) {
                throw ParseError::because('The header {name} occurs twice.', ['name' => $once]);
            }
        }
        if (
            1 !== preg_match('/^[0-9]{1,20}\s+(\S+)$/D', (string) $message->header('CSeq'), $found)
            || $message->sequence() > self::MOST_IN_SEQUENCE
            || ('' !== $method && $found[1] !== $method)
        ) {
            throw new ParseError('CSeq is not a number and the method.');
        }
        foreach (['From', 'To'] as $end) {
            if (!self::isNameAddress((string) $message->header($end))) {
                throw ParseError::because('{name} is not an address.', ['name' => $end]);
            }
        }
        $length = $message->header('Content-Length');
        if (null !== $length) {
            if (1 !== preg_match('/^[0-9]{1,7}$/D', $length) || (int) $length > \strlen($body)) {
                throw new ParseError('Content-Length does not fit the body.');
            }
            $message = new self($method, $uri, $status, $reason, $headers, substr($body, 0, (int) $length));
        }

        return $message;
    }

    public function isRequest(): bool
    {
        return 0 === $this->status;
    }

    public function header(string $name): ?string
    {
        foreach ($this->headers as [$own, $value]) {
            if (0 === strcasecmp($own, $name)) {
                return $value;
            }
        }

        return null;
    }

    /** @return list<string> */
    public function headers(string $name): array
    {
        $values = [];
        foreach ($this->headers as [$own, $value]) {
            if (0 === strcasecmp($own, $name)) {
                $values[] = $value;
            }
        }

        return $values;
    }

    /** The same message with a header put first, as a proxy puts its Via. */
    public function withFirst(string $name, string $value): self
    {
        return new self($this->method, $this->uri, $this->status, $this->reason, [[$name, $value], ...$this->headers], $this->body);
    }

    /** The same message with all headers of a name replaced by one, in the place of the first. */
    public function with(string $name, string $value): self
    {
        $headers = [];
        $put = false;
        foreach ($this->headers as [$own, $old]) {
            if (0 !== strcasecmp($own, $name)) {
                $headers[] = [$own, $old];
            } elseif (!$put) {
                $headers[] = [$name, $value];
                $put = true;
            }
        }

        return new self(
            $this->method,
            $this->uri,
            $this->status,
            $this->reason,
            $put ? $headers : [...$headers, [$name, $value]],
            $this->body,
        );
    }

    /** The same message without the first header of a name. */
    public function withoutFirst(string $name): self
    {
        $headers = $this->headers;
        foreach ($headers as $i => [$own]) {
            if (0 === strcasecmp($own, $name)) {
                unset($headers[$i]);
                break;
            }
        }

        return new self($this->method, $this->uri, $this->status, $this->reason, array_values($headers), $this->body);
    }

    /** As its receiver sees it: the real source is added to its topmost Via (RFC 3261 §18.2.1, RFC 3581 §4). */
    public function receivedFrom(string $address, int $port): self
    {
        $via = (string) $this->header('Via');
        if (1 !== preg_match('~^SIP\s*/\s*2\.0\s*/\s*\w+\s+(\[[^\]]*\]|[^\s;:]+)~i', $via, $found)) {
            return $this;
        }
        $asks = 1 === preg_match('/;\s*rport\s*(?=;|$)/i', $via);
        if (!$asks && $found[1] === $address) {
            return $this;
        }
        // The sender wrote these in already without knowing them.
        $via = preg_replace(['/;\s*received\s*=[^;]*/i', '/;\s*rport\s*(?:=[^;]*)?(?=;|$)/i'], '', $via) ?? $via;

        return $this->withTopmost('Via', $via.';received='.$address.($asks ? ';rport='.$port : ''));
    }

    private function withTopmost(string $name, string $value): self
    {
        $headers = $this->headers;
        foreach ($headers as $i => [$own]) {
            if (0 === strcasecmp($own, $name)) {
                $headers[$i] = [$name, $value];
                break;
            }
        }

        return new self($this->method, $this->uri, $this->status, $this->reason, $headers, $this->body);
    }

    public function withUri(string $uri): self
    {
        return new self($this->method, $uri, $this->status, $this->reason, $this->headers, $this->body);
    }

    /** The user part of the request URI (§19.1.1); empty if it has none. */
    public function requestedUser(): string
    {
        return 1 === preg_match('/^sips?:([^@;]+)@/i', $this->uri, $found) ? $found[1] : '';
    }

    public function callId(): string
    {
        return (string) $this->header('Call-ID');
    }

    public function sequence(): int
    {
        return (int) $this->header('CSeq');
    }

    /** The method that CSeq names: of a response, what it answers. */
    public function sequenceMethod(): string
    {
        return (preg_split('/\s+/', (string) $this->header('CSeq')) ?: [])[1] ?? '';
    }

    public function from(): SipAddress
    {
        return SipAddress::fromString((string) $this->header('From'));
    }

    public function to(): SipAddress
    {
        return SipAddress::fromString((string) $this->header('To'));
    }

    /** The branch of the topmost Via: what a transaction is known by (§17.1.3). */
    public function branch(): string
    {
        return 1 === preg_match('/;\s*branch=([^;,\s]+)/i', (string) $this->header('Via'), $found) ? $found[1] : '';
    }

    public function __toString(): string
    {
        $text = $this->isRequest() ? "$this->method $this->uri SIP/2.0\r\n" : "SIP/2.0 $this->status $this->reason\r\n";
        foreach ($this->headers as [$name, $value]) {
            if (0 !== strcasecmp($name, 'Content-Length')) {
                $text .= "$name: $value\r\n";
            }
        }

        return $text.'Content-Length: '.\strlen($this->body)."\r\n\r\n".$this->body;
    }

    public static function phrase(int $status): string
    {
        return [
            100 => 'Trying',
            180 => 'Ringing',
            200 => 'OK',
            202 => 'Accepted',
            400 => 'Bad Request',
            401 => 'Unauthorized',
            403 => 'Forbidden',
            404 => 'Not Found',
            405 => 'Method Not Allowed',
            407 => 'Proxy Authentication Required',
            408 => 'Request Timeout',
            415 => 'Unsupported Media Type',
            416 => 'Unsupported URI Scheme',
            420 => 'Bad Extension',
            422 => 'Session Interval Too Small',
            480 => 'Temporarily Unavailable',
            481 => 'Call/Transaction Does Not Exist',
            482 => 'Loop Detected',
            483 => 'Too Many Hops',
            484 => 'Address Incomplete',
            486 => 'Busy Here',
            487 => 'Request Terminated',
            488 => 'Not Acceptable Here',
            491 => 'Request Pending',
            500 => 'Server Internal Error',
            502 => 'Bad Gateway',
            505 => 'Version Not Supported',
            503 => 'Service Unavailable',
            603 => 'Decline',
        ][$status] ?? 'Status '.$status;
    }

    /** Quotes and angle brackets of an address are closed, and it names something (§20.10). */
    private static function isNameAddress(string $text): bool
    {
        $bare = preg_replace('/"(?:\\\\.|[^"\\\\])*"/', '', $text) ?? $text;

        return !str_contains($bare, '"') && 1 === preg_match('/^[^<>]*(?:<[^<>\s]+>)?[^<>]*$/D', $bare)
            && 1 === preg_match('/[a-z][a-z0-9+.-]*:[^\s]/i', $bare);
    }

    private static function canonical(string $name): string
    {
        $lower = strtolower($name);
        if (isset(self::COMPACT[$lower])) {
            return self::COMPACT[$lower];
        }

        return match ($lower) {
            'call-id' => 'Call-ID',
            'cseq' => 'CSeq',
            'www-authenticate' => 'WWW-Authenticate',
            default => implode('-', array_map(ucfirst(...), explode('-', $lower))),
        };
    }

    /**
     * Parts a list at commas that stand neither in quotes nor in angle brackets.
     *
     * @return list<string>
     */
    private static function split(string $value): array
    {
        preg_match_all('/(?:"(?:\\\\.|[^"\\\\])*"|<[^>]*>|[^,"<])+/', $value, $found);

        return array_values(array_filter(array_map(trim(...), $found[0]), static fn (string $part): bool => '' !== $part));
    }
}
