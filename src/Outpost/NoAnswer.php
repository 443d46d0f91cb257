<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

/** Nobody answered, or somebody refused. */
final class NoAnswer extends \RuntimeException
{
    private function __construct(public readonly bool $refused, string $message)
    {
        parent::__construct($message);
    }

    public static function silence(float $seconds): self
    {
        return new self(false, \sprintf('nothing came back within %.1f s', $seconds));
    }

    public static function refused(): self
    {
        return new self(true, 'the port was refused');
    }
}
