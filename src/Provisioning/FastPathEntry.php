<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Vorhut\Core\Voice\FileShape;
use Vorhut\Secrets\Secrets;

/** The fast path as the web server calls it: with a connection of its own, and sending the answer. */
final class FastPathEntry
{
    /**
     * @param array<mixed> $server as PHP fills $_SERVER, with the values added by set-up
     *
     * @return bool whether it was answered; if not, the application handles it
     */
    public static function serves(array $server): bool
    {
        $text = static fn (string $name): string => \is_string($server[$name] ?? null) ? $server[$name] : '';
        $host = (string) parse_url('http://'.$text('HTTP_HOST'), \PHP_URL_HOST);
        if (!\in_array($host, ['localhost', '127.0.0.1', (string) parse_url(self::env('VORHUT_URL'), \PHP_URL_HOST)], true)) {
            return false;
        }
        try {
            $question = FileRequest::tryOf(
                $text('REQUEST_METHOD'),
                (string) strtok($text('REQUEST_URI'), '?'),
                $text('REMOTE_ADDR'),
                $text('HTTP_USER_AGENT'),
                '' !== $text('PHP_AUTH_USER').$text('HTTP_AUTHORIZATION'),
                !\in_array($text('HTTPS'), ['', 'off'], true),
            );
            $served = null === $question
                ? null
                : (new FastPath(self::database(), new Secrets(self::env('VORHUT_KEY_FILE'))))->answer($question, time());
        } catch (\PDOException) {
            // The house knows how to say that the database is away.
            return false;
        }
        if (null === $served) {
            return false;
        }
        http_response_code($served->status);
        header('Content-Type: '.FileShape::ofBody($served->body)->contentType());
        header('Cache-Control: no-store');
        if (429 === $served->status) {
            header('Retry-After: 60');
        }
        echo $served->body;

        return true;
    }

    private static function database(): \PDO
    {
        $url = parse_url(self::env('DATABASE_URL'));
        $part = static fn (string $name): string => rawurldecode((string) ($url[$name] ?? ''));

        return new \PDO(
            \sprintf(
                'mysql:host=%s;port=%d;dbname=%s;charset=utf8mb4',
                $part('host'),
                (int) ($url['port'] ?? 3306),
                ltrim($part('path'), '/'),
            ),
            $part('user'),
            $part('pass'),
            [\PDO::ATTR_PERSISTENT => true, \PDO::ATTR_ERRMODE => \PDO::ERRMODE_EXCEPTION, \PDO::ATTR_TIMEOUT => 5],
        );
    }

    private static function env(string $name): string
    {
        $value = $_SERVER[$name] ?? getenv($name);

        return \is_string($value) ? $value : '';
    }
}
