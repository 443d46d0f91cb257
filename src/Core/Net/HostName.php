<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** A host name of one or more labels (RFC 952, RFC 1123 §2.1), lower case inside. */
final readonly class HostName implements \Stringable
{
    private function __construct(public string $text)
    {
    }

    /** @throws Malformed */
    public static function fromString(string $text): self
    {
        $text = strtolower(trim($text));
        if ('' === $text) {
            throw new Malformed('A host name is missing.');
        }
        if (\strlen($text) > 253) {
            throw new Malformed('A host name has at most 253 characters.');
        }
        foreach (explode('.', $text) as $label) {
            if (1 !== preg_match('/^[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?$/D', $label)) {
                throw Malformed::because(
                    '"{text}" is not a host name: "{label}" must be letters, digits and inner hyphens, at most 63.',
                    ['text' => $text, 'label' => $label],
                );
            }
        }
        if (1 === preg_match('/^[0-9.]+$/D', $text)) {
            throw Malformed::because('"{text}" is an address or a number, not a host name.', ['text' => $text]);
        }

        return new self($text);
    }

    public function __toString(): string
    {
        return $this->text;
    }
}
