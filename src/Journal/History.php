<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\Common\Collections\ArrayCollection;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Query\Parameter;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\JournalEntry;

/** The changes of a job, and its earlier states. */
final readonly class History
{
    /** Changes that are reversed at most to see how something was. */
    private const REVERSED = 500;
    /** Characters of edits that a line of the history still looks into. */
    private const SHORT = 2000;

    public function __construct(
        private EntityManagerInterface $manager,
    ) {
    }

    /**
     * The history as it is shown, the newest first; of a change of many fields only that it was made.
     *
     * @param list<string> $about  texts; at least one must occur in its edits, as HistoryPatterns::patterns() returns them; empty for all
     * @param int|null     $before only entries older than this number
     *
     * @return list<HistoryLine>
     */
    public function lines(Job $job, array $about = [], ?int $before = null, int $most = 60): array
    {
        $and = [] === $about ? '' : ' AND ('.implode(' OR ', array_fill(0, \count($about), 'edits LIKE ?')).')';
        $rows = $this->manager->getConnection()->executeQuery(
            'SELECT number, made_at, made_by, login, why, IF(CHAR_LENGTH(edits) < ?, edits, NULL) AS edits FROM journal_entry '
                .'WHERE job_id = ? AND number < ?'.$and.' ORDER BY number DESC LIMIT '.$most,
            [
                self::SHORT,
                $job->id,
                $before ?? \PHP_INT_MAX,
                ...array_map(static fn (string $text): string => '%'.addcslashes($text, '%_\\').'%', $about),
            ],
        );
        $lines = [];
        foreach ($rows->iterateAssociative() as $data) {
            $row = new Row($data);
            $edits = json_decode($row->text('edits'), true);
            $only = \is_array($edits) && 1 === \count($edits) && \is_array($edits[0] ?? null) ? $edits[0] : null;
            $lines[] = new HistoryLine(
                $row->int('number'),
                $row->text('made_at'),
                $row->text('made_by'),
                Author::isMachine($row->text('made_by'), $row->textOrNull('login')),
                Message::fromStored(json_decode($row->text('why'), true)),
                'put' === ($only['do'] ?? null) ? ['before' => $only['before'] ?? null, 'after' => $only['after'] ?? null] : null,
            );
        }

        return $lines;
    }

    /**
     * The plan at an earlier moment: later changes are reversed in a copy, and nowhere else.
     *
     * @return Plan|null null after so many changes that the result would not be useful
     */
    public function planAt(Job $job, Plan $plan, string $at): ?Plan
    {
        /** @var list<JournalEntry> $since */
        $since = $this->manager->createQuery(
            'SELECT e FROM '.JournalEntry::class.' e WHERE e.job = :job AND e.at > :at ORDER BY e.number DESC',
        )->setParameters(new ArrayCollection([new Parameter('job', $job), new Parameter('at', $at)]))
            ->setMaxResults(self::REVERSED + 1)->getResult();
        if (\count($since) > self::REVERSED) {
            return null;
        }
        foreach ($since as $entry) {
            $change = self::change($entry);
            $plan = [] === $change->edits ? $plan : $plan->with($change->reverse(new Message('')));
        }

        return $plan;
    }

    /** The change as a sentence, ready for translation. */
    public static function why(JournalEntry $entry): Message
    {
        return Message::fromStored($entry->why);
    }

    public static function change(JournalEntry $entry): Change
    {
        return new Change(self::why($entry), array_map(Edit::fromArray(...), $entry->edits));
    }
}
