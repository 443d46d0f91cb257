<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** Where a stream is pushed to or pulled from: `srt`, `rtmp`, `rtmps`, `rtsp` (RFC 3986, RFC 7826 §4.2). Secrets in it are never shown. */
final readonly class StreamUrl implements \Stringable, \JsonSerializable
{
    public const PORTS = ['srt' => null, 'rtmp' => 1935, 'rtmps' => 443, 'rtsp' => 554];
    private const SECRETS = ['passphrase', 'key', 'token', 'streamkey', 'password'];
    private const MODES = ['caller', 'listener', 'rendezvous'];
    /** Under it an SRT receiver has no time to ask again, over it a figure is meant in another unit. */
    private const LEAST_LATENCY = 120;
    private const MOST_LATENCY = 8000;
    private const PASSPHRASE = [10, 79];
    private const KEY_LENGTHS = ['0', '16', '24', '32'];

    /**
     * @param string                $host  empty for a listener that accepts any caller
     * @param array<string, string> $query
     */
    private function __construct(
        public string $scheme,
        public string $user,
        private string $password,
        public string $host,
        public ?int $port,
        public string $path,
        public array $query,
    ) {
    }

    /** @throws Malformed */
    public static function fromString(string $text): self
    {
        $parts = parse_url(trim($text));
        $scheme = strtolower($parts['scheme'] ?? '');
        if (!\is_array($parts) || !\array_key_exists($scheme, self::PORTS)) {
            // A listener has no host, and parse_url() takes no address without one.
            if (1 === preg_match('~^srt://:([0-9]{1,5})(?:\?([^#\s]*))?$~Di', trim($text), $found)) {
                return new self('srt', '', '', '', self::port((int) $found[1]), '', self::query($found[2] ?? ''));
            }
            throw Malformed::because('"{text}" is not an srt, rtmp, rtmps or rtsp URL.', ['text' => mb_substr($text, 0, 80)]);
        }
        $host = $parts['host'] ?? '';
        if ('' === $host && 'srt' !== $scheme) {
            throw Malformed::because('"{text}" names no host.', ['text' => mb_substr($text, 0, 80)]);
        }
        if ('srt' === $scheme && !isset($parts['port'])) {
            throw Malformed::because('SRT has no usual port: "{text}" must name one.', ['text' => mb_substr($text, 0, 80)]);
        }

        return new self(
            $scheme,
            rawurldecode($parts['user'] ?? ''),
            rawurldecode($parts['pass'] ?? ''),
            $host,
            isset($parts['port']) ? self::port($parts['port']) : null,
            $parts['path'] ?? '',
            self::query($parts['query'] ?? ''),
        );
    }

    /** The URL that a device pushes its stream to; null if pushing is off or the URL is not valid. */
    public static function pushedBy(Device $device, Face $face): ?self
    {
        if (null === $device->kind->setting('pushUrl') || 'off' === ($device->setting('pushProtocol')->effective($face) ?? 'off')) {
            return null;
        }
        try {
            return self::fromString((string) $device->setting('pushUrl')->effective($face));
        } catch (Malformed) {
            return null;
        }
    }

    /** Whether its host is an address in a network of the job. */
    public function isWithin(Plan $plan): bool
    {
        $address = Ipv4::tryFromString($this->host);
        foreach ($plan->segments as $segment) {
            if (null !== $address && $segment->network->contains($address)) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param array<string, string> $query
     *
     * @throws Malformed
     */
    public static function of(string $scheme, string $host, ?int $port, string $path = '', array $query = []): self
    {
        $url = new self(strtolower($scheme), '', '', $host, $port, '' === $path || '/' === $path[0] ? $path : '/'.$path, $query);

        return self::fromString($url->whole());
    }

    public function usedPort(): ?int
    {
        return $this->port ?? self::PORTS[$this->scheme] ?? null;
    }

    /** SRT: which end calls; a host without a mode is called. */
    public function mode(): string
    {
        $mode = strtolower($this->query['mode'] ?? '');

        return match (true) {
            \in_array($mode, self::MODES, true) => $mode,
            '' === $this->host => 'listener',
            default => 'caller',
        };
    }

    public function latency(): ?int
    {
        return isset($this->query['latency']) && ctype_digit($this->query['latency']) ? (int) $this->query['latency'] : null;
    }

    /**
     * Warnings about the URL itself.
     *
     * @param int|null $roundTrip measured round-trip time in ms
     *
     * @return list<Message>
     */
    public function oddities(?int $roundTrip = null): array
    {
        $odd = [];
        if ('rtmp' === $this->scheme && [] !== array_intersect_key($this->query, array_flip(self::SECRETS))) {
            $odd[] = new Message('Its key goes in the clear over rtmp; rtmps does not show it.');
        }
        if ('srt' !== $this->scheme) {
            return $odd;
        }
        $latency = $this->latency();
        $at = [
            'latency' => $latency ?? 0,
            'ms' => intdiv($latency ?? 0, 1000),
            'least' => 4 * ($roundTrip ?? 0),
            'trip' => $roundTrip ?? 0,
        ];
        if (null !== $latency && $latency > self::MOST_LATENCY) {
            $odd[] = new Message('A latency of {latency} is {ms} ms if µs are meant, and many seconds if ms are: look up the unit.', $at);
        } elseif (null !== $latency && $latency < self::LEAST_LATENCY) {
            $odd[] = new Message('A latency of {latency} ms leaves no time to resend lost packets: use at least 120.', $at);
        } elseif (null !== $latency && null !== $roundTrip && $latency < 4 * $roundTrip) {
            $odd[] = new Message('A latency of {latency} ms is less than four times the round trip of {trip} ms: {least} at least.', $at);
        }
        $passphrase = $this->query['passphrase'] ?? null;
        $length = \strlen($passphrase ?? '');
        if (null !== $passphrase && ($length < self::PASSPHRASE[0] || $length > self::PASSPHRASE[1])) {
            $odd[] = new Message('A passphrase has 10 to 79 characters, this one {n}.', ['n' => $length]);
        }
        if (isset($this->query['pbkeylen']) && !\in_array($this->query['pbkeylen'], self::KEY_LENGTHS, true)) {
            $odd[] = new Message('A key has 16, 24 or 32 bytes, not {n}.', ['n' => mb_substr($this->query['pbkeylen'], 0, 8)]);
        }
        if (isset($this->query['mode']) && !\in_array(strtolower($this->query['mode']), self::MODES, true)) {
            $odd[] = new Message(
                'Unknown mode "{mode}": use caller, listener or rendezvous.',
                ['mode' => mb_substr($this->query['mode'], 0, 20)],
            );
        }

        return $odd;
    }

    /**
     * Whether two ends find each other.
     *
     * @return list<Message> why not
     */
    public function against(self $other): array
    {
        $wrong = [];
        if ($this->scheme !== $other->scheme) {
            return [new Message('One end speaks {one}, the other {other}.', ['one' => $this->scheme, 'other' => $other->scheme])];
        }
        if ('srt' !== $this->scheme) {
            return [];
        }
        $modes = [$this->mode(), $other->mode()];
        sort($modes);
        if (['caller', 'listener'] !== $modes && ['rendezvous', 'rendezvous'] !== $modes) {
            $wrong[] = new Message(
                match (true) {
                    ['caller', 'caller'] === $modes => 'Both ends are callers: one must be the listener.',
                    ['listener', 'listener'] === $modes => 'Both ends are listeners: one must be the caller.',
                    default => 'Rendezvous needs both ends to be set to it.',
                },
            );
        }
        if ($this->port !== $other->port) {
            $wrong[] = new Message('One end has port {one}, the other {other}.', ['one' => $this->port ?? 0, 'other' => $other->port ?? 0]);
        }
        if (($this->query['passphrase'] ?? '') !== ($other->query['passphrase'] ?? '')) {
            $wrong[] = new Message('The passphrases of the two ends are not the same.');
        }
        $latencies = array_filter([$this->latency(), $other->latency()], is_int(...));
        if (2 === \count($latencies) && $this->latency() !== $other->latency()) {
            $wrong[] = new Message(
                'One end has a latency of {one} ms, the other {other}: the greater one holds.',
                ['one' => (int) $this->latency(), 'other' => (int) $other->latency()],
            );
        }

        return $wrong;
    }

    /** Whether it contains a secret. */
    public function hasSecret(): bool
    {
        return '' !== $this->password || [] !== array_intersect(
            array_map(strtolower(...), array_map(strval(...), array_keys($this->query))),
            self::SECRETS,
        );
    }

    /** As it is typed into a device, secrets and all. */
    public function whole(): string
    {
        return $this->build($this->query, $this->password);
    }

    /** As it may be shown. */
    public function __toString(): string
    {
        $hidden = [];
        foreach ($this->query as $name => $value) {
            $hidden[$name] = \in_array(strtolower($name), self::SECRETS, true) ? '•••' : $value;
        }

        return str_replace(rawurlencode('•••'), '•••', $this->build($hidden, '' === $this->password ? '' : '•••'));
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'url' => (string) $this,
            'scheme' => $this->scheme,
            'host' => $this->host,
            'port' => $this->usedPort(),
            'path' => $this->path,
            'mode' => 'srt' === $this->scheme ? $this->mode() : null,
            'latencyMs' => $this->latency(),
        ];
    }

    /** @param array<string, string> $query */
    private function build(array $query, string $password): string
    {
        $pairs = [];
        foreach ($query as $name => $value) {
            $pairs[] = rawurlencode($name).'='.rawurlencode($value);
        }

        return $this->scheme.'://'
            .('' === $this->user ? '' : rawurlencode($this->user).('' === $password ? '' : ':'.rawurlencode($password)).'@')
            .$this->host
            .(null === $this->port ? '' : ':'.$this->port)
            .$this->path
            .([] === $pairs ? '' : '?'.implode('&', $pairs));
    }

    /** @return array<string, string> */
    private static function query(string $text): array
    {
        $query = [];
        if ('' !== $text) {
            foreach (explode('&', $text) as $pair) {
                [$name, $value] = explode('=', $pair, 2) + [1 => ''];
                // A plus sign means itself here: this is not a form.
                $query[rawurldecode($name)] = rawurldecode($value);
            }
        }

        return $query;
    }

    /** @throws Malformed */
    private static function port(int $port): int
    {
        if ($port < 1 || $port > 65535) {
            throw Malformed::because('{n} is not a port: ports range from 1 to 65535.', ['n' => $port]);
        }

        return $port;
    }
}
