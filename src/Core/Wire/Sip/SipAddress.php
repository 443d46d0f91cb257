<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sip;

/** A name-addr with its parameters, as in From, To and Contact (RFC 3261 §20.10). */
final readonly class SipAddress
{
    /** @param array<string, string> $parameters of the header, lower case */
    private function __construct(public string $uri, private array $parameters)
    {
    }

    public static function fromString(string $text): self
    {
        if (1 === preg_match('/^\s*(?:"(?:\\\\.|[^"\\\\])*"\s*|[^<"]*)<([^>]*)>(.*)$/Ds', $text, $found)) {
            [, $uri, $rest] = $found;
        } else {
            // Without brackets everything behind ; belongs to the header, not to the URI.
            [$uri, $rest] = explode(';', trim($text), 2) + [1 => ''];
            $rest = ';'.$rest;
        }
        $parameters = [];
        foreach (explode(';', $rest) as $part) {
            [$name, $value] = explode('=', trim($part), 2) + [1 => ''];
            if ('' !== $name) {
                $parameters[strtolower(trim($name))] = trim($value, " \t\"");
            }
        }

        return new self(trim($uri), $parameters);
    }

    public function parameter(string $name): ?string
    {
        return $this->parameters[$name] ?? null;
    }

    /** The part before the @. */
    public function user(): string
    {
        return 1 === preg_match('/^sips?:([^@;]*)@/i', $this->uri, $found) ? rawurldecode(explode(':', $found[1])[0]) : '';
    }

    public function host(): string
    {
        return 1 === preg_match('/^sips?:(?:[^@]*@)?([^:;?>]+)/i', $this->uri, $found) ? $found[1] : '';
    }

    public function port(): int
    {
        return 1 === preg_match('/^sips?:(?:[^@]*@)?[^:;?>]+:([0-9]{1,5})/i', $this->uri, $found) ? (int) $found[1] : 5060;
    }
}
