<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Malformed;

/** One request that a device understands: where it goes, how its fields are written, by what one sees that it was done. */
final readonly class AdminRequest
{
    /** @param string $sign text in the answer that shows success; '' where the status is enough */
    public function __construct(public string $method, public string $path, public BodyShape $as, public string $sign = '')
    {
    }

    /** A path without more is the usual form: GET answers with JSON, POST sends a form. */
    public static function read(mixed $data, string $method, BodyShape $as, string $of): self
    {
        if (\is_string($data)) {
            return new self($method, self::path($data, $of), $as);
        }
        $read = new Reading((array) $data, $of);

        return new self(
            self::method($read->text('method', $method), $of),
            self::path($read->text('path', '/'), $of),
            $read->word(BodyShape::class, 'as', $read->text('as', $as->value)),
            $read->text('sign'),
        );
    }

    /**
     * A path is sent to a device on one line: a line break in it would start another request (RFC 9112 §3).
     *
     * @throws Malformed
     */
    public static function path(string $path, string $of): string
    {
        return 1 === preg_match('~^/[\x21-\x7E]{0,400}$~D', $path)
            ? $path
            : throw Malformed::because('{of}: "{path}" is not a request path.', ['of' => $of, 'path' => $path]);
    }

    /** @throws Malformed */
    private static function method(string $method, string $of): string
    {
        return \in_array($method, ['GET', 'POST', 'PUT'], true)
            ? $method
            : throw Malformed::because('{of}: "{method}" is not a supported HTTP method.', ['of' => $of, 'method' => $method]);
    }
}
