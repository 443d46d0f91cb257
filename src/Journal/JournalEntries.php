<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\JournalEntry;

/** The entries of the journals as they are stored. */
final readonly class JournalEntries
{
    public function __construct(
        private EntityManagerInterface $manager,
    ) {
    }

    /** A new entry without edits; stored with the next flush. */
    public function create(Job $job, Author $author, string $at, Message $why): JournalEntry
    {
        $entry = new JournalEntry();
        $entry->job = $job;
        $entry->number = $this->lastNumber($job) + 1;
        $entry->at = $at;
        $entry->by = $author->name;
        $entry->login = $author->login;
        $entry->why = $why->toStored();

        $this->manager->persist($entry);

        return $entry;
    }

    /** @return list<JournalEntry> newest first */
    public function all(Job $job, int $most = 50): array
    {
        return $this->manager->getRepository(JournalEntry::class)->findBy(['job' => $job], ['number' => 'DESC'], $most);
    }

    public function find(Job $job, int $number): ?JournalEntry
    {
        return $this->manager->getRepository(JournalEntry::class)->findOneBy(['job' => $job, 'number' => $number]);
    }

    /** @return string|null who changed the record last, among the newest entries */
    public function lastEditor(Job $job, Edit $edit): ?string
    {
        foreach ($this->all($job, 100) as $entry) {
            foreach ($entry->edits as $one) {
                if (($one['section'] ?? null) === $edit->section && ($one['key'] ?? null) === $edit->key) {
                    return $entry->by;
                }
            }
        }

        return null;
    }

    private function lastNumber(Job $job): int
    {
        $last = $this->manager->getConnection()->fetchOne('SELECT MAX(number) FROM journal_entry WHERE job_id = ?', [$job->id]);

        return is_numeric($last) ? (int) $last : 0;
    }
}
