<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sip;

/** Digest access authentication (RFC 7616) for SIP with MD5 and SHA-256 (RFC 8760). */
final readonly class Digest implements \Stringable
{
    /** @param array<string, string> $fields */
    private function __construct(private array $fields)
    {
    }

    /** @param bool $stale the password may be right, the nonce is too old (RFC 7616 §3.3) */
    public static function challenge(string $realm, string $nonce, string $algorithm, bool $stale = false): self
    {
        return new self(
            ['realm' => $realm, 'nonce' => $nonce, 'qop' => 'auth', 'algorithm' => $algorithm] + ($stale ? ['stale' => 'true'] : []),
        );
    }

    /** Whether it was made for this request: an answer that was heard on the way opens nothing else (RFC 7616 §3.4.6). */
    public function isFor(string $uri): bool
    {
        // User names tell capitals apart, hosts do not (RFC 3261 §19.1.4).
        $plain = static fn (string $text): string => preg_replace_callback(
            '/^([^@]*@)?(.*)$/s',
            static fn (array $part): string => $part[1].strtolower($part[2]),
            preg_replace('/[;?].*$/s', '', trim($text)) ?? $text,
        ) ?? $text;

        return $plain($this->field('uri')) === $plain($uri);
    }

    /** Reads a WWW-Authenticate or Authorization value; null if it is not a digest. */
    public static function tryFromString(string $text): ?self
    {
        if (1 !== preg_match('/^\s*Digest\s+(.*)$/Dis', $text, $found)) {
            return null;
        }
        preg_match_all('/([a-z][a-z0-9_-]*)\s*=\s*(?:"((?:\\\\.|[^"\\\\])*)"|([^\s,"]+))/i', $found[1], $pairs, \PREG_SET_ORDER);
        $fields = [];
        foreach ($pairs as $pair) {
            $fields[strtolower($pair[1])] = $pair[3] ?? stripslashes($pair[2] ?? '');
        }

        return new self($fields);
    }

    public function field(string $name): string
    {
        return $this->fields[$name] ?? '';
    }

    public function algorithm(): string
    {
        return '' === $this->field('algorithm') ? 'MD5' : $this->field('algorithm');
    }

    public function isKnown(): bool
    {
        return \in_array(strtoupper($this->algorithm()), ['MD5', 'SHA-256'], true);
    }

    /** The answer to a challenge. `$cnonce` is handed in: nothing here makes chance of its own. */
    public function answer(string $user, string $password, string $method, string $uri, string $cnonce, int $count = 1): self
    {
        $fields = [
            'username' => $user,
            'realm' => $this->field('realm'),
            'nonce' => $this->field('nonce'),
            'uri' => $uri,
            'algorithm' => $this->algorithm(),
        ];
        if ('' !== $this->field('opaque')) {
            $fields['opaque'] = $this->field('opaque');
        }
        if (\in_array('auth', array_map(trim(...), explode(',', $this->field('qop'))), true)) {
            $fields += ['qop' => 'auth', 'nc' => \sprintf('%08x', $count), 'cnonce' => $cnonce];
        }

        return new self($fields + ['response' => (new self($fields))->response($password, $method)]);
    }

    /** Whether this answer was made with the password. */
    public function proves(string $password, string $method): bool
    {
        return $this->isKnown() && hash_equals($this->response($password, $method), $this->field('response'));
    }

    /** RFC 7616 §3.4.1; without qop the form of RFC 2069. */
    public function response(string $password, string $method): string
    {
        $hash = 'SHA-256' === strtoupper($this->algorithm()) ? static fn (string $text): string => hash('sha256', $text) : md5(...);
        $secret = $hash($this->field('username').':'.$this->field('realm').':'.$password);
        $what = $hash($method.':'.$this->field('uri'));
        $middle = '' === $this->field('qop') ? '' : $this->field('nc').':'.$this->field('cnonce').':'.$this->field('qop').':';

        return $hash($secret.':'.$this->field('nonce').':'.$middle.$what);
    }

    public function __toString(): string
    {
        $bare = isset($this->fields['response']) ? ['nc', 'qop', 'algorithm'] : ['algorithm', 'stale'];
        $parts = [];
        foreach ($this->fields as $name => $value) {
            $parts[] = \in_array($name, $bare, true) ? "$name=$value" : \sprintf('%s="%s"', $name, addcslashes($value, '"\\'));
        }

        return 'Digest '.implode(', ', $parts);
    }
}
