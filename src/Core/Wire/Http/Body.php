<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Http;

use Vorhut\Core\Catalogue\BodyShape;
use Vorhut\Core\Wire\ParseError;

/** Names and values as devices write them. Received data is never trusted: odd entries are left out, odd bytes replaced. */
final class Body
{
    private const MOST = 2000;

    /** @param array<string, string> $fields */
    public static function write(BodyShape $shape, array $fields): string
    {
        return match ($shape) {
            BodyShape::Form => http_build_query($fields, '', '&', \PHP_QUERY_RFC3986),
            BodyShape::Json => json_encode((object) $fields, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE),
            BodyShape::Lines => implode('', array_map(
                // A line break within a value would be another line.
                static fn (string $name, string $value): string => $name.'='.strtr($value, ["\r" => ' ', "\n" => ' '])."\r\n",
                array_keys($fields),
                $fields,
            )),
            BodyShape::Xml => self::xml($fields),
        };
    }

    /**
     * @return array<string, string>
     *
     * @throws ParseError where it is not of this shape at all
     */
    public static function read(BodyShape $shape, string $body): array
    {
        $body = mb_scrub($body, 'UTF-8');
        $pairs = match ($shape) {
            BodyShape::Form => self::form($body),
            BodyShape::Json => self::json($body),
            BodyShape::Lines => self::lines($body),
            BodyShape::Xml => self::elements($body),
        };
        $fields = [];
        foreach (\array_slice($pairs, 0, self::MOST, true) as $name => $value) {
            if (\is_string($value) || \is_int($value) || \is_float($value)) {
                $fields[(string) $name] = (string) $value;
            }
        }

        return $fields;
    }

    /** @return array<mixed> */
    private static function form(string $body): array
    {
        $fields = [];
        // Not parse_str: it makes arrays of brackets and underscores of dots.
        if ('' !== $body) {
            foreach (explode('&', $body, self::MOST) as $pair) {
                [$name, $value] = explode('=', $pair, 2) + [1 => ''];
                $fields[mb_scrub(urldecode($name), 'UTF-8')] = mb_scrub(urldecode($value), 'UTF-8');
            }
        }

        return $fields;
    }

    /** @return array<mixed> */
    private static function json(string $body): array
    {
        $fields = json_decode($body, true, 8);

        return \is_array($fields) ? $fields : throw new ParseError('This is not a JSON object.');
    }

    /** @return array<mixed> */
    private static function lines(string $body): array
    {
        $fields = [];
        foreach (preg_split('/\r\n|\n|\r/', $body, self::MOST) ?: [] as $line) {
            if (str_contains($line, '=')) {
                [$name, $value] = explode('=', $line, 2);
                $fields[trim($name)] = trim($value);
            }
        }

        return $fields;
    }

    /** @param array<string, string> $fields */
    private static function xml(array $fields): string
    {
        $text = '<?xml version="1.0" encoding="UTF-8"?><settings>';
        foreach ($fields as $name => $value) {
            // What XML 1.0 cannot carry (§2.2) is left out.
            $odd = '/[^\x09\x0A\x0D\x20-\x{D7FF}\x{E000}-\x{FFFD}\x{10000}-\x{10FFFF}]/u';
            $clean = preg_replace($odd, '', mb_scrub($value, 'UTF-8')) ?? '';
            $text .= \sprintf('<%1$s>%2$s</%1$s>', $name, htmlspecialchars($clean, \ENT_XML1 | \ENT_QUOTES, 'UTF-8'));
        }

        return $text.'</settings>';
    }

    /** @return array<mixed> */
    private static function elements(string $body): array
    {
        // A device needs no document type of its own; an entity that grows is none of ours either.
        if (false !== stripos($body, '<!DOCTYPE')) {
            throw new ParseError('A document type is not read.');
        }
        $document = new \DOMDocument();
        $before = libxml_use_internal_errors(true);
        try {
            if ('' === trim($body) || !$document->loadXML($body, \LIBXML_NONET) || null === $document->documentElement) {
                throw new ParseError('This is not XML.');
            }
        } finally {
            libxml_clear_errors();
            libxml_use_internal_errors($before);
        }
        $fields = [];
        foreach ($document->documentElement->childNodes as $element) {
            if ($element instanceof \DOMElement) {
                $fields[$element->tagName] = $element->textContent;
            }
        }

        return $fields;
    }
}
