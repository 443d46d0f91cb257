<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Http;

use Vorhut\Core\Wire\ParseError;

/** An HTTP/1.1 request (RFC 9112), as small devices make and take them: one a connection, a body only with Content-Length. */
final readonly class Request implements \Stringable
{
    /** @param array<string, string> $headers lower-case name → value */
    public function __construct(public string $method, public string $path, public array $headers = [], public string $body = '')
    {
    }

    /** How many bytes the whole message has, or null while its head is not complete. */
    public static function length(string $bytes): ?int
    {
        $end = strpos($bytes, "\r\n\r\n");
        if (false === $end) {
            return \strlen($bytes) > 16384 ? throw new ParseError('The head is longer than 16 KiB.') : null;
        }
        $length = 1 === preg_match('/\r\ncontent-length:\s*([0-9]{1,7})\s*\r\n/i', substr($bytes, 0, $end + 2), $found)
            ? (int) $found[1]
            : 0;

        return $end + 4 + $length;
    }

    /** @throws ParseError */
    public static function fromString(string $bytes): self
    {
        [$head, $body] = explode("\r\n\r\n", $bytes, 2) + [1 => ''];
        $lines = explode("\r\n", $head);
        if (1 !== preg_match('#^([A-Z]{3,7}) (/\S*) HTTP/1\.[01]$#D', $lines[0], $found)) {
            throw new ParseError('The first line is not an HTTP request.');
        }

        return new self($found[1], $found[2], self::headers(\array_slice($lines, 1)), $body);
    }

    /** @return array{string, string}|null user and password of Basic authentication (RFC 7617) */
    public function login(): ?array
    {
        if (1 !== preg_match('/^Basic\s+(\S+)$/i', $this->headers['authorization'] ?? '', $found)) {
            return null;
        }
        $parts = explode(':', (string) base64_decode($found[1], true), 2);

        return [$parts[0], $parts[1] ?? ''];
    }

    /**
     * @param list<string> $lines
     *
     * @return array<string, string>
     */
    public static function headers(array $lines): array
    {
        $headers = [];
        foreach ($lines as $line) {
            [$name, $value] = explode(':', $line, 2) + [1 => ''];
            $headers[strtolower(trim($name))] = trim($value);
        }

        return $headers;
    }

    public function __toString(): string
    {
        $text = "$this->method $this->path HTTP/1.1\r\n";
        foreach ($this->headers + ['connection' => 'close', 'content-length' => (string) \strlen($this->body)] as $name => $value) {
            $text .= "$name: $value\r\n";
        }

        return $text."\r\n".$this->body;
    }
}
