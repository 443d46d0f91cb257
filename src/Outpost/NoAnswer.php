<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Vorhut\Core\Text\Message;

/** Nobody answered, or somebody refused. */
final class NoAnswer extends \RuntimeException implements OutpostError
{
    private function __construct(public readonly bool $refused, private readonly Message $said)
    {
        parent::__construct((string) $said);
    }

    public static function silence(float $seconds): self
    {
        return new self(false, new Message('nothing came back within {n} s', ['n' => \sprintf('%.1f', $seconds)]));
    }

    public static function refused(): self
    {
        return new self(true, new Message('the port was refused'));
    }

    public function said(): Message
    {
        return $this->said;
    }
}
