<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Remote;

use Vorhut\Core\Net\Ipv4;

/** How an outpost speaks with its server: JSON over HTTPS, with its token, every delivery signed (RFC 2104) over exactly its bytes. */
final readonly class ServerClient
{
    private const PATIENCE = 10;
    /** Octets of an answer: a job of thousands of devices is some megabytes. */
    private const LARGEST = 64_000_000;

    /** @param string $ca file with the certificates that are trusted, '' for those of the machine */
    public function __construct(private string $server, private string $token, private string $ca = '')
    {
    }

    /** Whether the connection is private: HTTPS, or this machine (RFC 6761 §6.3, RFC 1122 §3.2.1.3). */
    public static function isPrivate(string $server): bool
    {
        $host = strtolower((string) parse_url($server, \PHP_URL_HOST));

        return match (parse_url($server, \PHP_URL_SCHEME)) {
            'https' => '' !== $host,
            'http' => 'localhost' === $host || '[::1]' === $host || true === Ipv4::tryFromString($host)?->isLoopback(),
            default => false,
        };
    }

    public static function signature(string $token, string $body): string
    {
        return hash_hmac('sha256', $body, $token);
    }

    /**
     * @param array<string, mixed> $body
     *
     * @return array<string, mixed>|null null where there is nothing to do
     *
     * @throws ServerAway
     */
    public function post(string $what, array $body): ?array
    {
        $json = json_encode($body, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE | \JSON_UNESCAPED_SLASHES);
        $context = stream_context_create([
            'http' => [
                'method' => 'POST',
                'header' => implode("\r\n", [
                    'Content-Type: application/json',
                    'Authorization: Bearer '.$this->token,
                    'X-Signature: '.self::signature($this->token, $json),
                ]),
                'content' => $json,
                'timeout' => self::PATIENCE,
                'ignore_errors' => true,
                'follow_location' => 0,
            ],
            'ssl' => '' === $this->ca ? [] : ['cafile' => $this->ca],
        ]);
        $answer = @file_get_contents(rtrim($this->server, '/').'/o/'.$what, false, $context, 0, self::LARGEST);
        $status = 1 === preg_match('~^HTTP/\S+ (\d{3})~', $http_response_header[0] ?? '', $found) ? (int) $found[1] : 0;
        if (false === $answer || 0 === $status || $status >= 500 || 429 === $status) {
            throw ServerAway::silent(0 === $status ? (error_get_last()['message'] ?? 'no connection') : (string) $status);
        }
        if ($status >= 400) {
            throw ServerAway::ofStatus($status);
        }
        $data = json_decode($answer, true);
        if (!\is_array($data)) {
            return null;
        }
        $named = [];
        foreach ($data as $name => $value) {
            $named[(string) $name] = $value;
        }

        return $named;
    }
}
