<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;

/** What a probe brings home: the outcome, one sentence, and the raw lines. */
final readonly class Evidence
{
    /** @param list<string> $lines */
    public function __construct(public Outcome $outcome, public Message $detail, public array $lines = [])
    {
    }
}
