<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\Translation\Formatter\MessageFormatterInterface;
use Vorhut\Core\Text\MessagePattern;

/** Formats translated texts as the core formats its messages, so that one pattern serves pages and messages. */
final class PluralFormatter implements MessageFormatterInterface
{
    /** @param array<mixed> $parameters `{name}` → value; a pattern without parameters is formatted by its message */
    public function format(string $message, string $locale, array $parameters = []): string
    {
        $values = [];
        foreach ($parameters as $name => $value) {
            $text = \is_scalar($value) || $value instanceof \Stringable ? (string) $value : '';
            $values[trim((string) $name, '{}')] = \is_int($value) ? $value : $text;
        }

        return [] === $values ? $message : MessagePattern::format($message, $values, $locale);
    }
}
