<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Text\Message;

/**
 * The members of one JSON object (RFC 8259), read as the bytes arrive, never the whole text at once: for a list each element separately,
 * for anything else its whole value. An object that names a member twice is refused: only the last would be read, without notice.
 */
final class JsonPieces
{
    /** Bytes of one element; the sealed part of a large job is one. */
    private const LARGEST = 8_000_000;
    /** Values in all. Each is at most some hundred bytes when it is read, however few it took to write. */
    private const MOST = 3_000_000;
    /** What a column of the database takes is 32 deep, and an element of a list becomes a row. */
    private const DEPTH = 30;

    private const STRING = '"(?:[^"\\\\]++|\\\\.)*+"';
    private const WHOLE = '~\G\s*+(?<text>'.self::STRING.'|(?<nest>[{\[](?:[^"{}\[\]]++|'.self::STRING.'|(?&nest))*+[}\]])'
        .'|[^\s,:\[\]{}"]++(?=[\s,:}\]]))~s';

    private string $buffer = '';
    private int $at = 0;
    private int $before = 0;
    private int $values = 0;
    private bool $ended = false;

    /** @param \Iterator<mixed, string> $chunks */
    private function __construct(private readonly \Iterator $chunks)
    {
    }

    /**
     * @param iterable<string> $chunks of any length
     *
     * @return \Generator<int, array{name: string, index: int|null, value: mixed}> index within its list; null for a value outside a list,
     * and for an empty list
     *
     * @throws BadDocument if it is not JSON, not an object, or larger than any real one
     */
    public static function of(iterable $chunks): \Generator
    {
        $reader = new self((static function () use ($chunks): \Generator {
            yield from $chunks;
        })());

        yield from $reader->members();
    }

    /** @return \Generator<int, array{name: string, index: int|null, value: mixed}> */
    private function members(): \Generator
    {
        if ('{' !== $this->next()) {
            throw '[' !== $this->next() ? $this->noJson() : self::bad(
                new Message('This is not a Vorhut job: "format" must be "vorhut-job".'),
                '/format',
            );
        }
        ++$this->at;
        $names = [];
        for ($more = '}' !== $this->next(); $more;) {
            $name = $this->value();
            if (!\is_string($name) || ':' !== $this->next()) {
                throw $this->noJson();
            }
            if (isset($names[$name])) {
                throw self::twice();
            }
            $names[$name] = true;
            ++$this->at;
            if ('[' === $this->next()) {
                yield from $this->elements($name);
            } else {
                yield ['name' => $name, 'index' => null, 'value' => $this->value()];
            }
            $more = $this->isFollowed('}');
        }
        ++$this->at;
        if ('' !== $this->next()) {
            throw $this->noJson();
        }
    }

    /** @return \Generator<int, array{name: string, index: int|null, value: mixed}> */
    private function elements(string $name): \Generator
    {
        ++$this->at;
        if (']' === $this->next()) {
            ++$this->at;
            yield ['name' => $name, 'index' => null, 'value' => []];

            return;
        }
        $index = 0;
        do {
            yield ['name' => $name, 'index' => $index++, 'value' => $this->value()];
        } while ($this->isFollowed(']'));
        ++$this->at;
    }

    /** Whether a comma comes, which is passed over; else the end has to. */
    private function isFollowed(string $end): bool
    {
        $next = $this->next();
        if (',' === $next) {
            ++$this->at;

            return true;
        }

        return $next === $end ? false : throw $this->noJson();
    }

    private function value(): mixed
    {
        if ('' === $this->next() || str_contains(',:]}', $this->next())) {
            throw $this->noJson();
        }
        while (1 !== preg_match(self::WHOLE, $this->buffer, $found, 0, $this->at)) {
            if (\PREG_NO_ERROR !== preg_last_error()) {
                throw self::bad(new Message('Something in it is nested deeper than anything real.'));
            }
            // Looked at again when there is twice as much of it: an element costs its length, not its square.
            if (!$this->read(\strlen($this->buffer) - $this->at)) {
                throw self::bad(new Message('This is not JSON: it ends in the middle.'));
            }
        }
        $text = $found['text'];
        $this->at += \strlen($found[0]);
        self::checkLength(\strlen($text));
        $this->values += 1 + substr_count($text, ',') + substr_count($text, '[') + substr_count($text, '{');
        if ($this->values > self::MOST) {
            throw self::bad(new Message('More than {n} million values: too many for a job.', ['n' => intdiv(self::MOST, 1_000_000)]));
        }
        try {
            $value = json_decode($text, true, self::DEPTH, \JSON_THROW_ON_ERROR);
        } catch (\JsonException $e) {
            throw self::bad(new Message('This is not JSON: {reason}.', ['reason' => $e->getMessage()]));
        }

        return self::isUnambiguous($text, $value) ? $value : throw self::twice();
    }

    /** The next character other than white space, which is not consumed; empty at the end. */
    private function next(): string
    {
        do {
            $this->at += strspn($this->buffer, " \t\r\n", $this->at);
            if ($this->at < \strlen($this->buffer)) {
                return $this->buffer[$this->at];
            }
        } while ($this->read(1));

        return '';
    }

    /** More bytes, at least as many as said while there are some; false where there are none left. */
    private function read(int $least): bool
    {
        if ($this->ended) {
            return false;
        }
        $this->before += $this->at;
        $parts = [substr($this->buffer, $this->at)];
        $this->at = 0;
        for ($read = 0; $read < max(1, $least) && $this->chunks->valid(); $this->chunks->next()) {
            $parts[] = $this->chunks->current();
            $read += \strlen($this->chunks->current());
        }
        $this->buffer = implode('', $parts);
        $this->ended = 0 === $read;
        self::checkLength(\strlen($parts[0]));

        return !$this->ended;
    }

    /** @param int $bytes of one element, as far as it is there */
    private static function checkLength(int $bytes): void
    {
        if ($bytes > self::LARGEST) {
            throw self::bad(new Message('One element of it is larger than {n} MB.', ['n' => intdiv(self::LARGEST, 1_000_000)]));
        }
    }

    private static function isUnambiguous(string $text, mixed $value): bool
    {
        if (!\is_array($value)) {
            return true;
        }
        // Strings that are values are skipped; the remaining strings are names.
        $names = preg_match_all('/'.self::STRING.'(?!\s*:)(*SKIP)(*F)|'.self::STRING.'\s*:/s', $text);

        // An object with names that count up from 0 is read as a list: then it is looked at as what it is.
        return $names === self::keyLength($value) || $names === self::keyLength(json_decode($text, false, self::DEPTH));
    }

    private static function keyLength(mixed $data): int
    {
        if (!\is_array($data) && !\is_object($data)) {
            return 0;
        }
        $members = \is_object($data) ? get_object_vars($data) : $data;
        $count = \is_array($data) && array_is_list($data) ? 0 : \count($members);
        foreach ($members as $one) {
            $count += \is_scalar($one) ? 0 : self::keyLength($one);
        }

        return $count;
    }

    private function noJson(): BadDocument
    {
        return self::bad('' === $this->next()
            ? new Message('This is not JSON: it ends in the middle.')
            : new Message('This is not JSON: something else is wanted at byte {n}.', ['n' => $this->before + $this->at]));
    }

    private static function twice(): BadDocument
    {
        return self::bad(new Message('Somewhere an object names the same thing twice: which of the two is meant?'));
    }

    private static function bad(Message $message, string $pointer = ''): BadDocument
    {
        return new BadDocument([['pointer' => $pointer, 'message' => $message]]);
    }
}
