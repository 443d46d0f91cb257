<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sip;

use Vorhut\Core\Wire\ParseError;

/** Messages out of a stream of bytes: each ends where its Content-Length says (RFC 3261 §18.3); blank lines between them keep it alive. */
final class SipStream
{
    private const LONGEST = 65536;

    private string $bytes = '';

    /**
     * @return list<string> the messages that are whole by now
     *
     * @throws ParseError where no message can end: it is too long, or does not say how long it is
     */
    public function feed(string $bytes): array
    {
        $this->bytes .= $bytes;
        $whole = [];
        while (true) {
            // Keep-alive (RFC 5626 §3.5.1).
            $this->bytes = ltrim($this->bytes, "\r\n");
            $head = strpos($this->bytes, "\r\n\r\n");
            if (false === $head) {
                break;
            }
            if (1 !== preg_match('/^(?:Content-Length|l)[ \t]*:[ \t]*([0-9]{1,6})[ \t]*\r?$/mi', substr($this->bytes, 0, $head), $found)) {
                throw new ParseError('A message in a stream says how long it is.');
            }
            $length = $head + 4 + (int) $found[1];
            if ($length > self::LONGEST) {
                throw new ParseError('A message of this length is none.');
            }
            if (\strlen($this->bytes) < $length) {
                break;
            }
            $whole[] = substr($this->bytes, 0, $length);
            $this->bytes = substr($this->bytes, $length);
        }
        if (\strlen($this->bytes) > self::LONGEST) {
            throw new ParseError('A message of this length is none.');
        }

        return $whole;
    }
}
