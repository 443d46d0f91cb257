<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Discovery;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;

/** An address that answered, and its device if known: one line of a scan's evidence. */
final readonly class Answered implements \Stringable
{
    public function __construct(public Ipv4 $address, public bool $refused, public ?Mac $mac)
    {
    }

    public static function tryFromString(string $line): ?self
    {
        $words = explode(' ', $line);
        $address = Ipv4::tryFromString($words[0]);

        return null === $address || !\in_array($words[1] ?? '', ['answers', 'refuses'], true)
            ? null
            : new self($address, 'refuses' === $words[1], Mac::tryFromString($words[2] ?? ''));
    }

    public function __toString(): string
    {
        return trim($this->address.($this->refused ? ' refuses ' : ' answers ').$this->mac);
    }
}
