<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\HostName;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;

/** What the value of a setting may be, and the one form in which it is written. */
enum ValueType: string
{
    case Text = 'text';
    case Secret = 'secret';
    case Address = 'address';
    case Mask = 'mask';
    case Network = 'network';
    case Mac = 'mac';
    case HostName = 'hostname';
    /** Decimal, with a point: 29.97. */
    case Number = 'number';
    case Choice = 'choice';
    case YesNo = 'yes-no';
    /** Several, with commas between them. */
    case List = 'list';
    case TimeZone = 'timezone';
    case Url = 'url';
    /** A UDP or TCP port, 1 to 65535. */
    case PortNumber = 'port';
    /** Another device of the job, kept by its key. */
    case Device = 'device';

    /** @throws Malformed */
    public function read(string $text): string
    {
        return match ($this) {
            self::Text, self::Secret, self::Choice, self::Device => self::clean($text),
            self::Address => (string) Ipv4::fromString($text),
            self::Mask => (string) Mask::fromString($text),
            self::Network => (string) Network::fromString($text),
            self::Mac => (string) Mac::fromString($text),
            self::HostName => (string) HostName::fromString($text),
            self::Number => self::number($text),
            self::YesNo => match (strtolower($text)) {
                'yes', 'on', '1', 'true' => 'yes',
                'no', 'off', '0', 'false' => 'no',
                default => throw Malformed::because('"{text}" is neither yes nor no.', ['text' => $text]),
            },
            self::List => implode(', ', array_map(self::clean(...), self::split($text))),
            self::TimeZone => self::isTimeZone($text)
                ? $text
                : throw Malformed::because('"{text}" is not a time zone: write it as Europe/Berlin.', ['text' => $text]),
            self::Url => 1 === preg_match('~^[a-z][a-z0-9+.-]{1,15}://[^\s/?#]+[^\s]*$~Di', $text)
                ? $text
                : throw Malformed::because('"{text}" is not an address of the form scheme://host/path.', ['text' => $text]),
            self::PortNumber => 1 === preg_match('/^[0-9]{1,5}$/D', $text) && (int) $text >= 1 && (int) $text <= 65535
                ? (string) (int) $text
                : throw Malformed::because('"{text}" is not a port: 1 to 65535.', ['text' => $text]),
        };
    }

    /**
     * The elements of a list, or the single value.
     *
     * @return list<string>
     */
    public function parts(string $value): array
    {
        return self::List === $this ? self::split($value) : [$value];
    }

    /** As it is typed into a device: a mask with dots. */
    public function format(string $value): string
    {
        return self::Mask === $this ? Mask::tryFromString($value)?->toDotted() ?? $value : $value;
    }

    /** @return list<string> */
    private static function split(string $text): array
    {
        return array_values(array_filter(preg_split('/[\s,;]+/', trim($text)) ?: [], static fn (string $part): bool => '' !== $part));
    }

    private static function number(string $text): string
    {
        if (1 !== preg_match('/^(-?)0*([0-9]{1,12})(?:[.,]([0-9]{1,6}))?$/D', $text, $parts)) {
            throw Malformed::because('"{text}" is not a number.', ['text' => $text]);
        }
        $fraction = rtrim($parts[3] ?? '', '0');
        $value = $parts[2].('' === $fraction ? '' : '.'.$fraction);

        return ('0' === $value ? '' : $parts[1]).$value;
    }

    private static function clean(string $text): string
    {
        return 1 === preg_match('/[\x00-\x08\x0B\x0C\x0E-\x1F\x7F]/', $text) || !mb_check_encoding($text, 'UTF-8')
            ? throw Malformed::because('There are characters in this that no device takes.')
            : $text;
    }

    public static function isTimeZone(string $text): bool
    {
        /** @var array<string, int> $known */
        static $known = [];
        if ([] === $known) {
            $known = array_flip(\DateTimeZone::listIdentifiers());
        }

        return isset($known[$text]);
    }
}
