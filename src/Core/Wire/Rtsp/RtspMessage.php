<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Rtsp;

use Vorhut\Core\Wire\ParseError;

/** A request or an answer about a stream (RFC 2326 §4; version 1.0 is the one that devices support). */
final readonly class RtspMessage implements \Stringable
{
    private const LONGEST = 65536;
    private const PHRASES = [
        200 => 'OK',
        400 => 'Bad Request',
        404 => 'Stream Not Found',
        405 => 'Method Not Allowed',
        454 => 'Session Not Found',
    ];

    /** @param array<string, string> $headers by name in small letters */
    private function __construct(
        public string $method,
        public string $uri,
        public int $status,
        private array $headers,
        public string $body,
    ) {
    }

    /** @param array<string, string> $headers */
    public static function request(string $method, string $uri, int $sequence, array $headers = []): self
    {
        return new self($method, $uri, 0, ['cseq' => (string) $sequence] + $headers, '');
    }

    /** @param array<string, string> $headers */
    public static function response(self $request, int $status, array $headers = [], string $body = ''): self
    {
        return new self('', '', $status, ['cseq' => $request->header('cseq') ?? '0'] + $headers, $body);
    }

    /**
     * Bytes of the message that begins here; null while its head is not whole.
     *
     * @throws ParseError
     */
    public static function length(string $bytes): ?int
    {
        $head = strpos($bytes, "\r\n\r\n");
        if (false === $head) {
            return \strlen($bytes) > self::LONGEST ? throw new ParseError('A head of this length is none.') : null;
        }
        $length = 1 === preg_match('/^Content-Length[ \t]*:[ \t]*([0-9]{1,6})[ \t]*\r?$/mi', substr($bytes, 0, $head), $found)
            ? (int) $found[1]
            : 0;
        if ($head + 4 + $length > self::LONGEST) {
            throw new ParseError('A message of this length is none.');
        }

        return $head + 4 + $length;
    }

    /** @throws ParseError */
    public static function fromString(string $bytes): self
    {
        [$head, $body] = explode("\r\n\r\n", $bytes, 2) + [1 => ''];
        $lines = explode("\r\n", $head);
        $first = array_shift($lines);
        $headers = [];
        foreach ($lines as $line) {
            if (1 === preg_match('/^([A-Za-z-]{1,40})[ \t]*:[ \t]*(.*)$/D', $line, $found)) {
                $headers[strtolower($found[1])] ??= trim($found[2]);
            }
        }
        if (1 === preg_match('~^RTSP/1\.0 ([1-5][0-9]{2})(?: .*)?$~D', $first, $found)) {
            return new self('', '', (int) $found[1], $headers, $body);
        }
        if (1 === preg_match('~^([A-Z_]{1,20}) (\S{1,500}) RTSP/1\.0$~D', $first, $found)) {
            return new self($found[1], $found[2], 0, $headers, $body);
        }
        throw new ParseError('This is not RTSP.');
    }

    public function header(string $name): ?string
    {
        return $this->headers[strtolower($name)] ?? null;
    }

    public function __toString(): string
    {
        $text = '' === $this->method
            ? \sprintf("RTSP/1.0 %d %s\r\n", $this->status, self::PHRASES[$this->status] ?? 'Error')
            : \sprintf("%s %s RTSP/1.0\r\n", $this->method, $this->uri);
        foreach ($this->headers as $name => $value) {
            $text .= ('cseq' === $name ? 'CSeq' : ucwords($name, '-')).': '.$value."\r\n";
        }

        return $text.('' === $this->body ? '' : 'Content-Length: '.\strlen($this->body)."\r\n")."\r\n".$this->body;
    }
}
