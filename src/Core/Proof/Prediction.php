<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;

/** The prediction of a test from the value set, else planned: the outcome, its reason, and its facts. */
final readonly class Prediction
{
    public function __construct(public Outcome $expected, public Message $because, public Facts $facts, public ?Walk $walk = null)
    {
    }

    /** By the packet walk only. */
    public static function ofWalk(Walk $walk, Outcome $holds, Outcome $broken): self
    {
        return new self(
            $walk->holds() ? $holds : $broken,
            $walk->brokenHop()->text ?? new Message('The walk holds both ways.'),
            $walk->facts,
            $walk,
        );
    }
}
