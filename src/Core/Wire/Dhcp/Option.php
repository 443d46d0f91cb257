<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Dhcp;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Network;

/**
 * One DHCP option: its number and its bytes, read from what an administrator writes and written as such, in text and in hex. Those that
 * matter at a site: 3, 6, 15, 42, 43, 51, 66, 67 (RFC 2132), 119 (RFC 3397), 120 (RFC 3361), 121 (RFC 3442), 132 (the VLAN of a phone, by
 * custom), 150 (RFC 5859).
 */
final readonly class Option
{
    /** What each holds: name, and how it is written. */
    private const SHAPES = [
        3 => ['router', 'addresses'],
        6 => ['DNS servers', 'addresses'],
        15 => ['domain', 'text'],
        42 => ['time servers', 'addresses'],
        43 => ['vendor', 'parts'],
        51 => ['lease in seconds', 'seconds'],
        66 => ['provisioning server', 'text'],
        67 => ['file', 'text'],
        119 => ['search list', 'domains'],
        120 => ['SIP servers', 'servers'],
        121 => ['routes', 'routes'],
        132 => ['VLAN', 'text'],
        150 => ['TFTP servers', 'addresses'],
    ];
    /** Options that may be longer than one holds, and are then sent in several (RFC 3396). */
    private const LONG = [119];
    private const MOST = 255;
    private const LABEL = 63;

    private function __construct(public int $code, public string $bytes)
    {
    }

    /** @return array<int, string> code → what it is called */
    public static function names(): array
    {
        return array_map(static fn (array $shape): string => $shape[0], self::SHAPES);
    }

    /**
     * Reads addresses or names with blanks or commas between; of 43 `code=text` or `code=0xHEX`; of 121 `network router` pairs; anything as
     * `0x` and hex digits.
     *
     * @throws Malformed
     */
    public static function fromText(int $code, string $text): self
    {
        $text = trim($text);
        if (1 === preg_match('/^0x([0-9a-f\s]+)$/iD', $text, $hex)) {
            return self::fromHex($code, $hex[1]);
        }
        $words = preg_split('/[\s,]+/', $text, -1, \PREG_SPLIT_NO_EMPTY) ?: [];
        if ([] === $words) {
            throw new Malformed('The value of the option is missing.');
        }
        $bytes = match (self::shape($code)) {
            'addresses' => implode('', array_map(self::pack(...), $words)),
            'text' => $text,
            'seconds' => 1 === preg_match('/^[0-9]{1,9}$/D', $text)
                ? pack('N', (int) $text)
                : throw Malformed::because('"{text}" is not a number of seconds.', ['text' => $text]),
            'domains' => implode('', array_map(self::domain(...), $words)),
            'servers' => null !== Ipv4::tryFromString($words[0])
                ? Options::sipServers(array_map(Ipv4::fromString(...), $words))
                : "\x00".implode('', array_map(self::domain(...), $words)),
            'routes' => Options::classlessRoutes(self::routes($words)),
            default => self::parts($text),
        };

        return self::ofBytes($code, $bytes);
    }

    /** @throws Malformed */
    public static function fromHex(int $code, string $hex): self
    {
        $digits = preg_replace('/^0x|[\s:]+/i', '', $hex) ?? '';
        if (1 !== preg_match('/^(?:[0-9a-f]{2})+$/iD', $digits)) {
            throw Malformed::because('"{hex}" are not bytes in hex: two digits each.', ['hex' => $hex]);
        }
        self::shape($code);

        return self::ofBytes($code, (string) hex2bin($digits));
    }

    public function name(): string
    {
        return self::SHAPES[$this->code][0];
    }

    /** @return list<string> the bytes of each option that carries it, in their order: one, or several above 255 (RFC 3396 §5) */
    public function pieces(): array
    {
        return str_split($this->bytes, self::MOST);
    }

    public function hex(): string
    {
        return Options::hex($this->bytes);
    }

    /**
     * As fromText() reads it.
     *
     * @throws Malformed where the bytes are not what the option holds
     */
    public function text(): string
    {
        return match (self::shape($this->code)) {
            'addresses' => implode(', ', self::unpackedAll($this->bytes)),
            'seconds' => 4 === \strlen($this->bytes)
                ? (string) self::unpack($this->bytes)->number
                : throw new Malformed('A lease has four bytes (RFC 2132 §9.2).'),
            'text' => $this->bytes,
            'domains' => implode(', ', self::domainsOf($this->bytes)),
            'servers' => match ($this->bytes[0]) {
                "\x01" => implode(', ', self::unpackedAll(substr($this->bytes, 1))),
                "\x00" => implode(', ', self::domainsOf(substr($this->bytes, 1))),
                default => throw new Malformed('Its first byte says names or addresses: 0 or 1 (RFC 3361 §3).'),
            },
            'routes' => implode(', ', self::routesOf($this->bytes)),
            default => implode(', ', self::partsOf($this->bytes)),
        };
    }

    private static function shape(int $code): string
    {
        return self::SHAPES[$code][1]
            ?? throw Malformed::because('Option {code} is none of those that matter here: {list}.', [
                'code' => $code,
                'list' => implode(', ', array_keys(self::SHAPES)),
            ]);
    }

    private static function ofBytes(int $code, string $bytes): self
    {
        return \strlen($bytes) <= self::MOST || \in_array($code, self::LONG, true)
            ? new self($code, $bytes)
            : throw Malformed::because('{n} bytes: an option holds at most 255.', ['n' => \strlen($bytes)]);
    }

    private static function pack(string $address): string
    {
        return pack('N', Ipv4::fromString($address)->number);
    }

    private static function unpack(string $four): Ipv4
    {
        $parts = unpack('N', $four);

        return Ipv4::fromNumber(\is_array($parts) && \is_int($parts[1]) ? $parts[1] : 0);
    }

    /** @return list<string> */
    private static function unpackedAll(string $bytes): array
    {
        if ('' === $bytes || 0 !== \strlen($bytes) % 4) {
            throw new Malformed('Addresses have four bytes each.');
        }

        return array_map(static fn (string $four): string => (string) self::unpack($four), str_split($bytes, 4));
    }

    /** A name as DNS writes it, label by label (RFC 1035 §3.1), never compressed: the examples of RFC 3397 may be, and are read. */
    private static function domain(string $name): string
    {
        $bytes = '';
        foreach (explode('.', trim($name, '.')) as $label) {
            if ('' === $label || \strlen($label) > self::LABEL || 1 !== preg_match('/^[A-Za-z0-9_-]+$/D', $label)) {
                throw Malformed::because('"{name}" is not a domain name.', ['name' => $name]);
            }
            $bytes .= \chr(\strlen($label)).$label;
        }

        return $bytes."\0";
    }

    /** @return list<string> names, each from its labels; a pointer leads back to where a name began (RFC 1035 §4.1.4) */
    private static function domainsOf(string $bytes): array
    {
        $names = [];
        for ($at = 0; $at < \strlen($bytes);) {
            $labels = [];
            $here = $at;
            $end = null;
            for ($jumps = 0; 0 !== ($length = \ord($bytes[$here] ?? "\0"));) {
                if (0xC0 === ($length & 0xC0)) {
                    if (++$jumps > \strlen($bytes)) {
                        throw new Malformed('A name points in a circle.');
                    }
                    $end ??= $here + 2;
                    $here = ($length & 0x3F) << 8 | \ord($bytes[$here + 1] ?? "\xFF");
                    continue;
                }
                $labels[] = substr($bytes, $here + 1, $length);
                $here += $length + 1;
                if ($length > self::LABEL || $here >= \strlen($bytes)) {
                    throw new Malformed('A name breaks off.');
                }
            }
            $names[] = implode('.', $labels);
            $at = $end ?? $here + 1;
        }

        return $names;
    }

    /**
     * @param list<string> $words
     *
     * @return list<array{Network, Ipv4}>
     */
    private static function routes(array $words): array
    {
        if (0 !== \count($words) % 2) {
            throw new Malformed('Write each route as its network and its router: 10.20.0.0/16 10.40.12.1.');
        }

        return array_map(
            static fn (array $pair): array => [
                'default' === $pair[0] ? Network::fromString('0.0.0.0/0') : Network::fromString($pair[0]),
                Ipv4::fromString($pair[1] ?? ''),
            ],
            array_chunk($words, 2),
        );
    }

    /** @return list<string> */
    private static function routesOf(string $bytes): array
    {
        $routes = [];
        for ($at = 0; $at < \strlen($bytes);) {
            $prefix = \ord($bytes[$at]);
            $octets = intdiv($prefix + 7, 8);
            if ($prefix > 32 || \strlen($bytes) < $at + 5 + $octets) {
                throw new Malformed('A route breaks off (RFC 3442: prefix, octets of the network, router).');
            }
            $network = self::unpack(str_pad(substr($bytes, $at + 1, $octets), 4, "\0"));
            $routes[] = "$network/$prefix ".self::unpack(substr($bytes, $at + 1 + $octets, 4));
            $at += 5 + $octets;
        }

        return $routes;
    }

    /** Code, length, value, one after another (RFC 2132 §8.4). */
    private static function parts(string $text): string
    {
        $bytes = '';
        foreach (preg_split('/\s*,\s*/', $text, -1, \PREG_SPLIT_NO_EMPTY) ?: [] as $part) {
            if (1 !== preg_match('/^([0-9]{1,3})=(?:0x([0-9a-fA-F]+)|(.*))$/D', $part, $found) || (int) $found[1] > 254) {
                throw Malformed::because('"{part}": write code=text or code=0xHEX, with commas between.', ['part' => $part]);
            }
            $hex = $found[2] ?? '';
            $value = '' === $hex ? $found[3] ?? '' : (string) hex2bin(1 === \strlen($hex) % 2 ? '0'.$hex : $hex);
            if (\strlen($value) > self::MOST) {
                throw Malformed::because('{n} bytes: an option holds at most 255.', ['n' => \strlen($value)]);
            }
            $bytes .= \chr((int) $found[1]).\chr(\strlen($value)).$value;
        }

        return $bytes;
    }

    /** @return list<string> */
    private static function partsOf(string $bytes): array
    {
        $parts = [];
        for ($at = 0; $at < \strlen($bytes);) {
            $code = \ord($bytes[$at]);
            $length = \ord($bytes[$at + 1] ?? "\0");
            $value = substr($bytes, $at + 2, $length);
            if (\strlen($value) < $length || $at + 1 >= \strlen($bytes)) {
                throw new Malformed('A part breaks off (RFC 2132 §8.4: code, length, value).');
            }
            $parts[] = $code.'='.(1 === preg_match('/^[\x20-\x2B\x2D-\x7E]+$/D', $value) && !str_starts_with($value, '0x')
                ? $value
                : '0x'.strtoupper(bin2hex($value)));
            $at += 2 + $length;
        }

        return $parts;
    }
}
