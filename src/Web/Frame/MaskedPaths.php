<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Monolog\Attribute\AsMonologProcessor;
use Monolog\LogRecord;
use Monolog\Processor\ProcessorInterface;

/**
 * Takes out of every log record what opens something by itself: the token in the address of a phone's file and of an administrator's
 * link, and the bearer token of an outpost.
 */
#[AsMonologProcessor]
final readonly class MaskedPaths implements ProcessorInterface
{
    private const MASK = '-';
    /** Names under which a router or a form hands a token on. */
    private const NAMES = ['token', 'code', '_token', '_password', 'password', 'authorization'];

    public function __invoke(LogRecord $record): LogRecord
    {
        return $record->with(
            message: self::mask($record->message),
            context: self::maskedIn($record->context),
            extra: self::maskedIn($record->extra),
        );
    }

    /** The same text without tokens. */
    public static function mask(string $text): string
    {
        return (string) preg_replace(
            ['~(/(?:p|9|a)/)[^/\s"\'?#]+~', '~\b(Bearer\s+)\S+~i'],
            ['${1}'.self::MASK, '${1}'.self::MASK],
            $text,
        );
    }

    /**
     * @param array<mixed> $values
     *
     * @return array<mixed>
     */
    private static function maskedIn(array $values): array
    {
        foreach ($values as $name => $value) {
            $values[$name] = match (true) {
                \is_string($name) && \in_array(strtolower($name), self::NAMES, true) => self::MASK,
                \is_string($value) => self::mask($value),
                \is_array($value) => self::maskedIn($value),
                $value instanceof \Throwable => self::describe($value),
                default => $value,
            };
        }

        return $values;
    }

    /** An error as text: its message may contain an address, and the message of an exception cannot be changed. */
    private static function describe(\Throwable $error): string
    {
        $text = '';
        for ($one = $error; null !== $one; $one = $one->getPrevious()) {
            $text .= ('' === $text ? '' : ' caused by ')
                .\sprintf('%s: %s at %s:%d', $one::class, self::mask($one->getMessage()), $one->getFile(), $one->getLine());
        }

        return $text;
    }
}
