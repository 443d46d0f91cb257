<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Http;

use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sanitizer;

/** An HTTP/1.1 response (RFC 9112), read to the end of its connection. */
final readonly class Response implements \Stringable
{
    /**
     * @param array<string, string> $headers lower-case name → value
     * @param list<string>          $cookies what each Set-Cookie field sets, as `name=value` (RFC 6265 §4.1)
     */
    public function __construct(
        public int $status,
        public array $headers = [],
        public string $body = '',
        public array $cookies = [],
    ) {
    }

    /** @throws ParseError */
    public static function fromString(string $bytes): self
    {
        $parts = explode("\r\n\r\n", $bytes, 2);
        $head = $parts[0];
        $body = $parts[1] ?? null;
        $lines = explode("\r\n", $head);
        if (null === $body || 1 !== preg_match('#^HTTP/1\.[01] ([1-5][0-9]{2})#', $lines[0], $found)) {
            throw new ParseError('The answer is not an HTTP response.');
        }

        return new self((int) $found[1], Request::headers(\array_slice($lines, 1)), $body);
    }

    /** The title of a page, for people who want to know what answered. */
    public function title(): string
    {
        // Entities are replaced by UTF-8 characters, so the text must be UTF-8 first.
        return 1 === preg_match('#<title>\s*(.{1,400}?)\s*</title>#is', $this->body, $found)
            ? Sanitizer::text(html_entity_decode(Sanitizer::text($found[1], 400), \ENT_QUOTES | \ENT_HTML5, 'UTF-8'))
            : '';
    }

    public function __toString(): string
    {
        $reasons = [
            200 => 'OK',
            303 => 'See Other',
            400 => 'Bad Request',
            401 => 'Unauthorized',
            404 => 'Not Found',
            422 => 'Unprocessable Content',
        ];
        $text = 'HTTP/1.1 '.$this->status.' '.($reasons[$this->status] ?? 'Status')."\r\n";
        foreach ($this->headers + ['connection' => 'close', 'content-length' => (string) \strlen($this->body)] as $name => $value) {
            $text .= "$name: $value\r\n";
        }

        return $text."\r\n".$this->body;
    }
}
