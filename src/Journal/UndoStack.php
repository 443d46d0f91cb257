<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\JournalEntry;
use Vorhut\Entity\User;

/** The changes of one person, to undo and to redo: always the last one first, and never another person's. */
final readonly class UndoStack
{
    /** Own changes that are looked through at most. */
    private const DEPTH = 400;

    public function __construct(
        private EntityManagerInterface $manager,
        private JournalEntries $entries,
        private ChangeWriter $changes,
    ) {
    }

    /**
     * Takes a change back, by the same way. A redo is the undoing of an undoing.
     *
     * @throws Refused with a reason, if a later change depends on it
     */
    public function undo(Job $job, JournalEntry $entry, User|string $by): JournalEntry
    {
        if (!Author::of($by)->wrote($entry)) {
            throw Refused::because('This change is by {who}; each takes back their own.', ['who' => $entry->by]);
        }
        if (null !== $this->undoneBy($job, $entry)) {
            throw Refused::because('This change was undone already.');
        }
        $change = History::change($entry)->reverse(new Message('Undone: {what}', ['what' => History::why($entry)]));
        try {
            return $this->changes->write($job, $change, $by, $entry->number) ?? throw Refused::because('Nothing to undo.');
        } catch (Conflict $conflict) {
            throw Refused::because('{who} built on this change since ({what}); take that back first.', [
                'who' => $conflict->by ?? 'Another user',
                'what' => '' === $conflict->mine->field ? $conflict->mine->record() : $conflict->mine->record().' '.$conflict->mine->field,
            ]);
        }
    }

    /** The user's own last change that can be undone. */
    public function undoable(Job $job, User|string $by): ?JournalEntry
    {
        $undone = [];
        foreach ($this->ownChanges($job, Author::of($by)) as $number => $undoes) {
            if (null === $undoes) {
                if (!isset($undone[$number])) {
                    return $this->entries->find($job, $number);
                }
            } elseif (!isset($undone[$number])) {
                $undone[$undoes] = true;
            }
        }

        return null;
    }

    /** The user's own last undo, if no change of theirs followed. */
    public function redoable(Job $job, User|string $by): ?JournalEntry
    {
        $undone = [];
        $own = $this->ownChanges($job, Author::of($by));
        foreach ($own as $number => $undoes) {
            if (null === $undoes) {
                return null;
            }
            if (null !== ($own[$undoes] ?? null)) {
                $undone[$undoes] = true; // this entry is a redo: what it redid is done again
                continue;
            }
            if (!isset($undone[$number])) {
                return $this->entries->find($job, $number);
            }
        }

        return null;
    }

    private function undoneBy(Job $job, JournalEntry $entry): ?JournalEntry
    {
        $undoing = $this->manager
            ->getRepository(JournalEntry::class)
            ->findOneBy(['job' => $job, 'undoes' => $entry->number], ['number' => 'DESC']);

        return null === $undoing || null !== $this->undoneBy($job, $undoing) ? null : $undoing;
    }

    /**
     * The last changes of one author, without what they changed: that may be thousands of fields.
     *
     * @return array<int, int|null> number → number of what it takes back, newest first
     */
    private function ownChanges(Job $job, Author $author): array
    {
        $own = [];
        foreach ($this->manager->getConnection()->executeQuery(
            "SELECT number, undoes, login, made_by FROM journal_entry WHERE job_id = ? AND edits <> '[]' "
                .'ORDER BY number DESC LIMIT '.self::DEPTH,
            [$job->id],
        )->iterateAssociative() as $row) {
            $row = new Row($row);
            if ($author->isNamed($row->text('made_by'), $row->textOrNull('login'))) {
                $own[$row->int('number')] = $row->intOrNull('undoes');
            }
        }

        return $own;
    }
}
