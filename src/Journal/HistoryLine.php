<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Text\Message;

/** One line of the history: a change, or several automatic ones combined. */
final readonly class HistoryLine
{
    /**
     * @param string                                 $by      who; of several, each once
     * @param bool                                   $machine made by a part of the program, without a login
     * @param array{before: mixed, after: mixed}|null $change  of a change of one field: from what to what
     * @param list<self>                             $folded  the combined changes, the newest first; empty for a single change
     */
    public function __construct(
        public int $number,
        public string $at,
        public string $by,
        public bool $machine,
        public Message $why,
        public ?array $change = null,
        public array $folded = [],
    ) {
    }

    /**
     * Runs of what machines wrote become one line with a count.
     *
     * @param list<self> $lines the newest first
     *
     * @return list<self>
     */
    public static function fold(array $lines): array
    {
        $folded = [];
        $run = [];
        foreach ([...$lines, null] as $line) {
            if (true === $line?->machine) {
                $run[] = $line;
                continue;
            }
            if (\count($run) > 2) {
                $folded[] = self::of($run);
            } else {
                array_push($folded, ...$run);
            }
            $run = [];
            if (null !== $line) {
                $folded[] = $line;
            }
        }

        return $folded;
    }

    /** @param non-empty-list<self> $run */
    private static function of(array $run): self
    {
        $last = $run[array_key_last($run)];
        $by = array_unique(array_map(static fn (self $one): string => $one->by, $run));

        return new self(
            $last->number,
            $run[0]->at,
            implode(', ', $by),
            true,
            new Message('[n entry|entries]', ['n' => \count($run)]),
            null,
            $run,
        );
    }
}
