<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Sanitizer;

/** What a probe brings home: the outcome, one sentence, the raw lines, and the place that it was asked from. */
final readonly class Evidence
{
    /** Limits for stored device answers: lines, and characters of each. */
    private const LINES = 200;
    private const LONGEST = 500;

    public Message $detail;
    /** @var list<string> */
    public array $lines;

    /** @param list<string> $lines */
    public function __construct(public Outcome $outcome, Message $detail, array $lines = [], public ?VantagePoint $from = null)
    {
        // Whatever a probe forgot to clean is clean from here on: one device's odd byte must not keep the others from being written down.
        $this->detail = Message::fromStored(Sanitizer::all($detail->toStored(), self::LONGEST));
        $this->lines = array_map(
            static fn (string $line): string => Sanitizer::text($line, self::LONGEST),
            \array_slice($lines, 0, self::LINES),
        );
    }

    public static function notAsked(Message $why): self
    {
        return new self(Outcome::NotAsked, $why);
    }

    public function from(VantagePoint $place): self
    {
        return new self($this->outcome, $this->detail, $this->lines, $place);
    }
}
