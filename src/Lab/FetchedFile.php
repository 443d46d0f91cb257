<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Voice\FileShape;

/** What a phone reads out of its file, in whichever shape its kind takes it. */
final readonly class FetchedFile
{
    /** @param array<string, array<string, string>> $parts */
    private function __construct(private array $parts)
    {
    }

    /** Null if it is not such a file. */
    public static function tryFromBody(string $body): ?self
    {
        return match (FileShape::ofBody($body)) {
            FileShape::Xml => self::xml($body),
            FileShape::Json => self::of(json_decode($body, true, 8), false),
            FileShape::Ini => self::of(@parse_ini_string($body, true, \INI_SCANNER_RAW), true),
        };
    }

    public function says(string $part, string $name): string
    {
        return $this->parts[$part][$name] ?? '';
    }

    public function has(string $part): bool
    {
        return isset($this->parts[$part]);
    }

    private static function xml(string $body): ?self
    {
        $xml = @simplexml_load_string($body);
        if (false === $xml) {
            return null;
        }
        $parts = ['phone' => ['host' => (string) $xml->host['name']]];
        foreach ($xml->children() as $name => $part) {
            foreach ($part->attributes() ?? [] as $attribute => $value) {
                $parts[(string) $name][(string) $attribute] = (string) $value;
            }
        }

        return new self($parts);
    }

    /** @param bool $isEscaped the raw scanner removes the quotes and leaves escapes within them */
    private static function of(mixed $data, bool $isEscaped): ?self
    {
        if (!\is_array($data) || [] === $data) {
            return null;
        }
        $parts = [];
        foreach ($data as $name => $part) {
            if (\is_array($part)) {
                foreach ($part as $key => $value) {
                    $text = \is_scalar($value) ? (string) $value : '';
                    $parts[(string) $name][(string) $key] = $isEscaped ? stripslashes($text) : $text;
                }
            }
        }

        return [] === $parts ? null : new self($parts);
    }
}
