<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

use Vorhut\Core\Text\Message;

/**
 * Everyday network arithmetic from one line of text: a network, its parts, a summary of several, whether it contains an address, a MAC in
 * every notation, a multicast group and the groups that share its MAC, the parts of a URL.
 */
final readonly class Sum
{
    private const PARTS_SHOWN = 64;

    /** @param list<array{string, string}> $lines what, and its value */
    private function __construct(public array $lines)
    {
    }

    /**
     * @return self|null null if the text is not a calculation
     *
     * @throws Malformed where it is one, and a part of it is wrong
     */
    public static function tryOf(string $text): ?self
    {
        $text = trim($text);

        return match (true) {
            1 === preg_match('#^(\S+)\s+in\s+(.+)$#D', $text, $found) => self::within($found[1], $found[2]),
            1 === preg_match('#^(\S+)\s+(?:split|into)\s+/?(\d{1,2})$#D', $text, $found) => self::split($found[1], (int) $found[2]),
            1 === preg_match('#^join\s+(.+)$#D', $text, $found) => self::join(preg_split('/[\s,]+/', $found[1]) ?: []),
            1 === preg_match('~^[a-z][a-z0-9+.-]*://~i', $text) => self::url($text),
            true === Ipv4::tryFromString($text)?->isMulticast() => self::group($text),
            null !== Mac::tryFromString($text) => self::mac($text),
            1 === preg_match('#^\d[\d.]*\s*(?:/|\s)\s*[\d.]+$#D', $text) => self::network($text),
            default => null,
        };
    }

    public function message(): Message
    {
        $text = [];
        foreach ($this->lines as [$what, $value]) {
            $text[] = '' === $what ? $value : "$what $value";
        }

        return new Message('{sum}', ['sum' => implode('  ', $text)]);
    }

    private static function network(string $text): self
    {
        $parts = preg_split('#\s*/\s*|\s+#', $text, 2) ?: [];
        $host = Ipv4::fromString($parts[0] ?? '');
        $network = Network::around($host, Mask::fromString($parts[1] ?? ''));

        return new self([
            ['', (string) $network],
            ['mask', $network->mask->toDotted()],
            ['wildcard', (string) Ipv4::fromNumber(~$network->mask->bits() & 0xFFFFFFFF)],
            ['first', (string) $network->firstHost()],
            ['last', (string) $network->lastHost()],
            ['broadcast', (string) $network->broadcast()],
            ['hosts', (string) $network->hosts()],
            ...($network->isEdge($host) ? [['edge', (string) $host]] : []),
        ]);
    }

    private static function within(string $inner, string $outer): self
    {
        $range = Range::fromString($outer);
        $asked = Range::fromString($inner);
        $is = $range->contains($asked->first) && $range->contains($asked->last);

        return new self([['', $inner], [$is ? 'lies in' : 'does not lie in', $outer]]);
    }

    private static function split(string $text, int $prefix): self
    {
        $parts = Network::fromString($text)->split($prefix);
        $shown = \array_slice($parts, 0, self::PARTS_SHOWN);

        return new self([
            ['', \count($parts).' ×'],
            ...array_map(static fn (Network $part): array => ['', (string) $part], $shown),
            ...(\count($parts) > self::PARTS_SHOWN ? [['', '…']] : []),
        ]);
    }

    /** @param list<string> $texts */
    private static function join(array $texts): self
    {
        return new self(array_map(
            static fn (Network $one): array => ['', (string) $one],
            Network::merge(array_map(Network::fromString(...), $texts)),
        ));
    }

    private static function group(string $text): self
    {
        $group = Group::fromString($text);

        return new self([
            ['', (string) $group],
            ['MAC', $group->mac()],
            ['scope', $group->scope()],
            ['shares it with', implode(' ', array_map(strval(...), $group->twins()))],
        ]);
    }

    private static function mac(string $text): self
    {
        $mac = Mac::fromString($text);

        return new self([
            ['', (string) $mac],
            ['', $mac->format(':')],
            ['', $mac->format('.', 4)],
            ['', $mac->digits],
            ...($mac->isLocallyAdministered() ? [['', 'locally administered']] : []),
        ]);
    }

    private static function url(string $text): self
    {
        $parts = parse_url($text);
        if (false === $parts || !isset($parts['host'])) {
            throw Malformed::because('"{text}" is not a URL with a host.', ['text' => $text]);
        }
        $lines = [['scheme', $parts['scheme'] ?? ''], ['host', $parts['host']]];
        foreach (['port', 'user', 'path', 'query', 'fragment'] as $name) {
            if (isset($parts[$name])) {
                $lines[] = [$name, (string) $parts[$name]];
            }
        }
        // A password in a URL is still one.
        if (isset($parts['pass'])) {
            $lines[] = ['password', '••••'];
        }

        return new self($lines);
    }
}
