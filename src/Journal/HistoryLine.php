<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Text\Message;

/** One line of the history: a change, or several that belong together. */
final readonly class HistoryLine
{
    /** The sentence of a change of one field, by EditRecord. */
    private const FIELD = '{field} of {record}';
    private const FEWEST_BY_MACHINES = 3;
    private const FEWEST_FIELDS = 2;

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
     * Runs of what machines wrote become one line with a count, and so do the fields of one record that a user changed one after the other.
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
            if ([] !== $run && $run[0]->series() !== $line?->series()) {
                array_push($folded, ...self::asOne($run));
                $run = [];
            }
            if (null !== $line && null === $line->series()) {
                $folded[] = $line;
            } elseif (null !== $line) {
                $run[] = $line;
            }
        }

        return $folded;
    }

    /** Lines in a row with the same series belong together; null for a line that stands by itself. */
    private function series(): ?string
    {
        return match (true) {
            $this->machine => '',
            self::FIELD === $this->why->text => $this->by."\n".($this->why->with['record'] ?? ''),
            default => null,
        };
    }

    /**
     * @param non-empty-list<self> $run
     *
     * @return list<self>
     */
    private static function asOne(array $run): array
    {
        $isMachine = $run[0]->machine;
        if (\count($run) < ($isMachine ? self::FEWEST_BY_MACHINES : self::FEWEST_FIELDS)) {
            return $run;
        }
        $by = array_unique(array_map(static fn (self $one): string => $one->by, $run));

        return [new self(
            $run[array_key_last($run)]->number,
            $run[0]->at,
            implode(', ', $by),
            $isMachine,
            $isMachine
                ? new Message('[n entry|entries]', ['n' => \count($run)])
                : new Message('{record}: [n field|fields] changed', ['record' => $run[0]->why->with['record'] ?? '', 'n' => \count($run)]),
            null,
            $run,
        )];
    }
}
