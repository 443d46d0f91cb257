<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;

/** What a probe brings home: the outcome, one sentence, the raw lines, and the place that it was asked from. */
final readonly class Evidence
{
    /** @param list<string> $lines */
    public function __construct(public Outcome $outcome, public Message $detail, public array $lines = [], public ?Place $from = null)
    {
    }

    public static function notAsked(Message $why): self
    {
        return new self(Outcome::NotAsked, $why);
    }

    public function from(Place $place): self
    {
        return new self($this->outcome, $this->detail, $this->lines, $place);
    }
}
