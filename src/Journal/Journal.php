<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\Common\Collections\ArrayCollection;
use Doctrine\DBAL\Exception\RetryableException;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Query\Parameter;
use Psr\Clock\ClockInterface;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\EditKind;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Integrity;
use Vorhut\Core\Plan\KindVersion;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Practice;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\JournalEntry;
use Vorhut\Entity\Record;
use Vorhut\Entity\SettingValue;
use Vorhut\Entity\User;

/**
 * The one way in which a job changes. A change is checked against what is stored, written, and entered in the journal in one transaction;
 * two changes of one job never run at the same time.
 */
final readonly class Journal
{
    /** How often a change is tried that the database broke off because two waited for each other. */
    private const TRIES = 3;
    /** From so many new records on they are written many at once. */
    private const MANY = 300;
    /** So many changes are taken back in thought to see how something was. */
    private const TAKEN_BACK = 500;
    /** Days for which evidence is kept that no verdict stands on. */
    public const EVIDENCE_DAYS = 400;
    /** Characters of edits that a line of the history still looks into. */
    private const SHORT = 2000;

    public function __construct(
        private EntityManagerInterface $manager,
        private Records $records,
        private ClockInterface $clock,
        private PlanRowCache $kept,
        private BulkInsert $rows,
    ) {
    }

    /**
     * @throws Conflict where a value is no longer what the change expects
     * @throws Refused  where the job could not be read again as it would be; then, too, nothing is written
     */
    public function write(Job $job, Change $change, User|string $by, ?int $undoes = null): ?JournalEntry
    {
        $author = Author::of($by);
        if ($change->isEmpty()) {
            return null;
        }

        $change = $this->withPractice($job, $change);
        $touched = new AffectedRecords();
        $before = '';
        $entry = $this->inLock($job, function (Job $job) use ($change, $author, $undoes, &$touched, &$before): JournalEntry {
            $at = $this->now();
            $before = $job->planStamp;
            $job->planStamp = self::stamp();
            $job->filesStamp = self::movesFiles($change) ? self::stamp() : $job->filesStamp;
            $touched = $this->affectedRecords($job, $change);
            $this->checkKinds($job, $change);
            foreach ($change->edits as $edit) {
                $this->apply($job, $touched, $edit, $author->name, $at);
            }
            $this->dropEmpty($touched);
            $this->flush($touched);
            $this->check($job, $touched, $change);
            $entry = $this->newEntry($job, $author, $at, $change->why);
            $entry->undoes = $undoes;
            $entry->edits = array_map(static fn (Edit $edit): array => $edit->jsonSerialize(), $change->edits);
            $this->manager->persist($entry);

            return $entry;
        });
        // Only what stands in the database is kept beside it.
        $this->kept->carry($entry->job, $before, $touched);

        return $entry;
    }

    /**
     * A change that ends practice also removes what was recorded in the lab.
     *
     * @throws Refused where practice would begin in a job that has records of its site
     */
    private function withPractice(Job $job, Change $change): Change
    {
        if (Practice::beginsWith($change) && Practice::hasRecords($this->records->plan($job))) {
            throw Refused::because(
                'Values were already recorded at this job, and practice would mix with them. Let the lab play the job instead: '
                .'what happens there is kept apart.',
            );
        }
        if (!Practice::endsWith($change)) {
            return $change;
        }

        return new Change($change->why, [...$change->edits, ...Practice::removal($this->records->plan($job)->with($change))]);
    }

    /**
     * Takes a change back, by the same way. A redo is the undoing of an undoing.
     *
     * @throws Refused with a reason, where somebody built on the change since
     */
    public function undo(Job $job, JournalEntry $entry, User|string $by): JournalEntry
    {
        if (!Author::of($by)->wrote($entry)) {
            throw Refused::because('This change is by {who}; each takes back their own.', ['who' => $entry->by]);
        }
        if (null !== $this->undoneBy($job, $entry)) {
            throw Refused::because('This change was taken back already.');
        }
        $change = self::change($entry)->reverse(new Message('Taken back: {what}', ['what' => self::why($entry)]));
        try {
            return $this->write($job, $change, $by, $entry->number) ?? throw Refused::because('There is nothing to take back.');
        } catch (Conflict $conflict) {
            throw Refused::because('{who} built on this change since ({what}); take that back first.', [
                'who' => $conflict->by ?? 'Somebody',
                'what' => '' === $conflict->mine->field ? $conflict->mine->record() : $conflict->mine->record().' '.$conflict->mine->field,
            ]);
        }
    }

    /** The last change of one's own that can be taken back. */
    public function undoable(Job $job, User|string $by): ?JournalEntry
    {
        $undone = [];
        foreach ($this->ownChanges($job, Author::of($by)) as $number => $undoes) {
            if (null === $undoes) {
                if (!isset($undone[$number])) {
                    return $this->entry($job, $number);
                }
            } elseif (!isset($undone[$number])) {
                $undone[$undoes] = true;
            }
        }

        return null;
    }

    /** The last undoing of one's own, as long as no own change came after it. */
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
                return $this->entry($job, $number);
            }
        }

        return null;
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
            "SELECT number, undoes, login, made_by FROM journal_entry WHERE job_id = ? AND edits <> '[]' ORDER BY number DESC LIMIT 400",
            [$job->id],
        )->iterateAssociative() as $row) {
            $row = new Row($row);
            if ($author->isNamed($row->text('made_by'), $row->textOrNull('login'))) {
                $own[$row->int('number')] = $row->intOrNull('undoes');
            }
        }

        return $own;
    }

    /**
     * The history as it is shown, the newest first; of a change of many fields only that it was made.
     *
     * @param list<string> $about  texts of which one must stand in its edits, as History::patterns() gives them; empty for all
     * @param int|null     $before only what is older than this number
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

    /** @return list<JournalEntry> newest first */
    public function entries(Job $job, int $most = 50): array
    {
        return $this->manager->getRepository(JournalEntry::class)->findBy(['job' => $job], ['number' => 'DESC'], $most);
    }

    public function entry(Job $job, int $number): ?JournalEntry
    {
        return $this->manager->getRepository(JournalEntry::class)->findOneBy(['job' => $job, 'number' => $number]);
    }

    /**
     * The plan as it stood at a moment: what was changed since is taken back on it, and nowhere else.
     *
     * @return Plan|null null where so much was changed since that nobody would read what came of it
     */
    public function planAt(Job $job, Plan $plan, string $at): ?Plan
    {
        /** @var list<JournalEntry> $since */
        $since = $this->manager->createQuery(
            'SELECT e FROM '.JournalEntry::class.' e WHERE e.job = :job AND e.at > :at ORDER BY e.number DESC',
        )->setParameters(new ArrayCollection([new Parameter('job', $job), new Parameter('at', $at)]))
            ->setMaxResults(self::TAKEN_BACK + 1)->getResult();
        if (\count($since) > self::TAKEN_BACK) {
            return null;
        }
        foreach ($since as $entry) {
            $change = self::change($entry);
            $plan = [] === $change->edits ? $plan : $plan->with($change->reverse(new Message('')));
        }

        return $plan;
    }

    public function undoneBy(Job $job, JournalEntry $entry): ?JournalEntry
    {
        $undoing = $this->manager
            ->getRepository(JournalEntry::class)
            ->findOneBy(['job' => $job, 'undoes' => $entry->number], ['number' => 'DESC']);

        return null === $undoing || null !== $this->undoneBy($job, $undoing) ? null : $undoing;
    }

    /** What was done, to be put into the reader's language. */
    public static function why(JournalEntry $entry): Message
    {
        return Message::fromStored($entry->why);
    }

    public static function change(JournalEntry $entry): Change
    {
        return new Change(self::why($entry), array_map(Edit::fromArray(...), $entry->edits));
    }

    /**
     * Evidence is no change: it is added and never altered. It counts the revision up so that open pages see it.
     *
     * @param array<string, scalar|list<mixed>|null> $row
     */
    public function evidence(Job $job, string $section, array $row): void
    {
        $this->inLock($job, function (Job $job) use ($section, $row): JournalEntry {
            $this->records->add($job, $section, $row + ['arrived' => $this->records->lastArrived($job, $section) + 1]);

            return new JournalEntry();
        });
    }

    /**
     * The same of many at once.
     *
     * @param list<array<string, scalar|list<mixed>|null>> $rows in the order in which they came
     */
    public function evidences(Job $job, string $section, array $rows): void
    {
        $this->inLock($job, function (Job $job) use ($section, $rows): JournalEntry {
            $arrived = $this->records->lastArrived($job, $section);
            foreach ($rows as $row) {
                $this->records->add($job, $section, $row + ['arrived' => ++$arrived]);
            }

            return new JournalEntry();
        });
    }

    /**
     * Drops evidence from before a time, but nothing that a verdict stands on.
     *
     * @param string $before as now() writes it
     *
     * @return int how much went
     */
    public function forget(Job $job, string $before): int
    {
        $gone = $this->records->dropEvidence($job, $before);
        // The snapshot is the same with it and without it; only what shows all of it has to look again.
        if (0 !== $gone) {
            $this->inLock($job, static fn (): JournalEntry => new JournalEntry());
        }

        return $gone;
    }

    /** Whether the lab plays the job: no part of its plan, and written down like everything else that somebody does to it. */
    public function rehearse(Job $job, bool $on, User|string $by): void
    {
        $author = Author::of($by);
        $this->inLock($job, function (Job $job) use ($on, $author): JournalEntry {
            if ($on === $job->rehearsed) {
                return new JournalEntry();
            }
            $job->rehearsed = $on;
            $entry = $this->newEntry(
                $job,
                $author,
                $this->now(),
                $on ? new Message('The lab plays this job.') : new Message('The lab no longer plays this job.'),
            );
            $this->manager->persist($entry);

            return $entry;
        });
    }

    private function newEntry(Job $job, Author $author, string $at, Message $why): JournalEntry
    {
        $entry = new JournalEntry();
        $entry->job = $job;
        $entry->number = $this->lastNumber($job) + 1;
        $entry->at = $at;
        $entry->by = $author->name;
        $entry->login = $author->login;
        $entry->why = $why->toStored();

        return $entry;
    }

    /** @param string $moved as \DateTimeImmutable::modify() takes it */
    public function now(string $moved = '+0 days'): string
    {
        return $this->clock->now()->modify($moved)->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s\Z');
    }

    /**
     * @param callable(Job): JournalEntry $write
     */
    private function inLock(Job $job, callable $write): JournalEntry
    {
        for ($try = 1;; ++$try) {
            $connection = $this->manager->getConnection();
            $connection->beginTransaction();
            try {
                // After a rollback nothing is left in memory; the job is looked up anew.
                $job = $this->manager->contains($job)
                    ? $job
                    : $this->manager->find(Job::class, $job->id) ?? throw Refused::because('The job is gone.');
                $this->manager->refresh($job, LockMode::PESSIMISTIC_WRITE);
                $entry = $write($job);
                ++$job->revision;
                $job->stamp = self::stamp();
                $this->manager->flush();
                $connection->commit();

                return $entry;
            } catch (\Throwable $e) {
                $connection->rollBack();
                // What was half applied must not be in memory either.
                $this->manager->clear();
                if (!$e instanceof RetryableException || self::TRIES <= $try) {
                    throw $e;
                }
            }
        }
    }

    /** What phones are given is made of the plan, never of what was typed, marked or seen: a thousand phones that fetch move no file. */
    private static function movesFiles(Change $change): bool
    {
        foreach ($change->edits as $edit) {
            $isPlan = match ($edit->section) {
                'marks', 'waits', 'tests', 'licences' => false,
                'settings' => EditKind::Put === $edit->kind
                    ? Face::Planned->value === $edit->field
                    : null !== ($edit->row[Face::Planned->value] ?? null),
                default => true,
            };
            if ($isPlan) {
                return true;
            }
        }

        return false;
    }

    private static function stamp(): string
    {
        return bin2hex(random_bytes(8));
    }

    /** Some new records one by one, many of them at once; what goes and what changes first, so that its keys are free. */
    private function flush(AffectedRecords $touched): void
    {
        $work = $this->manager->getUnitOfWork();
        $new = [];
        foreach ($touched->allChanged() as [, $record]) {
            if ($work->isScheduledForInsert($record)) {
                $new[] = $record;
            }
        }
        if (\count($new) < self::MANY) {
            $this->manager->flush();

            return;
        }
        foreach ($new as $record) {
            $this->manager->detach($record);
        }
        $this->manager->flush();
        $this->rows->write($new);
    }

    /** A setting that has no face left is none. */
    private function dropEmpty(AffectedRecords $touched): void
    {
        foreach ($touched->allChanged() as [$section, $record]) {
            if ($record instanceof SettingValue && null === ($record->planned ?? $record->set ?? $record->seen ?? $record->odd)) {
                $this->records->remove($record);
                $touched->remove($section, $record->key);
            }
        }
    }

    /** All records that the change names, in one look for each section. */
    private function affectedRecords(Job $job, Change $change): AffectedRecords
    {
        $keys = [];
        foreach ($change->edits as $edit) {
            if ('job' !== $edit->section) {
                $keys[$edit->section][] = $edit->key;
            }
        }
        $touched = new AffectedRecords();
        foreach ($keys as $section => $some) {
            $this->look($job, $touched, $section, $some);
        }

        return $touched;
    }

    /** @param list<string> $keys */
    private function look(Job $job, AffectedRecords $touched, string $section, array $keys): void
    {
        $keys = array_values(array_filter($keys, static fn (string $key): bool => !$touched->knows($section, $key)));
        $found = [] === $keys ? [] : $this->records->findAll($job, $section, $keys);
        foreach ($keys as $key) {
            $touched->know($section, $key, $found[$key] ?? null);
        }
    }

    /**
     * What the change leaves behind must be what the job's own document would be read with: nothing of a wrong type, nothing that points
     * to what is not there, nothing left of what went.
     *
     * @throws Refused
     */
    private function check(Job $job, AffectedRecords $touched, Change $change): void
    {
        $integrity = new Integrity($this->records->catalogueOf($job), function (string $section, string $key) use ($job, $touched): ?array {
            $this->look($job, $touched, $section, [$key]);
            $record = $touched->find($section, $key);

            return null === $record ? null : Records::row($section, $record);
        });
        $changed = [];
        foreach ($touched->allChanged() as [$section, $record]) {
            $changed[] = [$section, $record->key, Records::row($section, $record)];
        }
        $this->lookAhead($job, $touched, $changed);
        if ([] !== array_filter($change->edits, static fn (Edit $edit): bool => 'job' === $edit->section)) {
            $changed[] = ['job', '', Records::jobRow($job)];
        }
        foreach ($changed as [$section, $key, $row]) {
            $why = $integrity->why($section, $row);
            if (null !== $why) {
                throw Refused::because('{record}: {why}', [
                    'record' => 'job' === $section ? $job->name ?? '' : $section.'/'.$key,
                    'why' => $why,
                ]);
            }
        }
        foreach ($touched->allRemoved() as $section => $keys) {
            $leaning = $this->records->leaning($job, $section, $keys);
            if (null !== $leaning) {
                throw Refused::because('{what} is used by {who}; take it away there first.', [
                    'what' => $section.'/'.implode(', ', \array_slice($keys, 0, 3)),
                    'who' => $leaning[0].'/'.$leaning[1],
                ]);
            }
        }
    }

    /** A kind that comes, goes or is put back has to have a place for all that is recorded by now, whoever asks for it. */
    private function checkKinds(Job $job, Change $change): void
    {
        $sources = [];
        foreach ($change->edits as $edit) {
            if ('ownKinds' === $edit->section && ('source' === $edit->field || EditKind::Put !== $edit->kind)) {
                $sources[$edit->key] = match ($edit->kind) {
                    EditKind::Put => $edit->after,
                    EditKind::Add => $edit->row['source'] ?? null,
                    EditKind::Remove => null,
                };
            }
        }
        if ([] === $sources) {
            return;
        }
        $stored = $this->records->whole($job);
        $catalogue = $this->records->shippedCatalogue()->with(array_filter($sources, is_string(...)));
        foreach (array_keys($sources) as $code) {
            $kind = $catalogue->kind((string) $code);
            $lost = null === $kind ? [] : KindVersion::unsupported($stored, (string) $code, $kind);
            if ([] !== $lost) {
                throw Refused::because('{why}', ['why' => $lost[0]]);
            }
        }
    }

    /**
     * What the changed records point to, in one look for each section.
     *
     * @param list<array{string, string, array<string, scalar|list<mixed>|null>}> $changed
     */
    private function lookAhead(Job $job, AffectedRecords $touched, array $changed): void
    {
        $keys = [];
        foreach ($changed as [$section, $key, $row]) {
            foreach (Schema::sections()[$section] as $field) {
                $to = $row[$field->name] ?? null;
                if (null !== $field->pointsTo && 'kinds' !== $field->pointsTo && \is_string($to) && '' !== $to) {
                    $keys[$field->pointsTo][] = $to;
                }
            }
            $ref = 'settings' === $section ? SettingRef::tryFromString($key) : null;
            if (null !== $ref) {
                $keys[$ref->section][] = $ref->key;
            }
        }
        foreach ($keys as $section => $some) {
            $this->look($job, $touched, $section, array_values(array_unique($some)));
        }
        $devices = [];
        foreach ($keys['nics'] ?? [] as $nic) {
            $record = $touched->find('nics', $nic);
            $device = null === $record ? null : Records::get($record, 'device');
            if (\is_string($device)) {
                $devices[] = $device;
            }
        }
        $this->look($job, $touched, 'devices', array_values(array_unique($devices)));
    }

    private function apply(Job $job, AffectedRecords $touched, Edit $edit, string $by, string $at): void
    {
        if ('job' === $edit->section) {
            $this->put($job, $job, $edit);

            return;
        }
        $record = $touched->find($edit->section, $edit->key);
        if (EditKind::Add === $edit->kind) {
            if (null !== $record) {
                throw new Conflict($edit, $edit->key, $this->lastEditor($job, $edit));
            }
            if ($touched->isRemoved($edit->section, $edit->key)) {
                // One of the same key went in this very change: it has to be gone before the new one comes.
                $this->manager->flush();
            }
            $touched->change($edit->section, $this->records->add($job, $edit->section, $edit->row ?? []));

            return;
        }
        if (null === $record && 'settings' === $edit->section && EditKind::Put === $edit->kind) {
            $record = $this->records->add($job, 'settings', ['key' => $edit->key]);
        }
        if (
            null === $record
            && 'settings' === $edit->section
            && EditKind::Remove === $edit->kind
            && Plan::isEmptySetting($edit->row ?? [])
        ) {
            return;
        }
        if (null === $record) {
            throw new Conflict($edit, null, $this->lastEditor($job, $edit));
        }
        if (EditKind::Remove === $edit->kind) {
            // What somebody changed since must not vanish with the record.
            foreach (Schema::sections()[$edit->section] as $field) {
                $before = $edit->row[$field->name] ?? null;
                if (self::differ(Records::get($record, $field->name), $before)) {
                    throw new Conflict(
                        Edit::put($edit->section, $edit->key, $field->name, $before, null),
                        Records::get($record, $field->name),
                        $this->lastEditor($job, $edit),
                    );
                }
            }
            $this->records->remove($record);
            $touched->remove($edit->section, $edit->key);

            return;
        }
        $this->put($job, $record, $edit);
        // What is odd was seen too.
        $face = Face::tryFrom('odd' === $edit->field ? Face::Seen->value : $edit->field);
        if ($record instanceof SettingValue && null !== $face) {
            Records::put($record, $face->value.'By', null === $edit->after ? null : $by);
            Records::put($record, $face->value.'At', null === $edit->after ? null : $at);
        }
        $touched->change($edit->section, $record);
    }

    private function put(Job $job, Job|Record $record, Edit $edit): void
    {
        $stored = Records::get($record, $edit->field);
        if (self::differ($stored, $edit->before)) {
            throw new Conflict($edit, $stored, $this->lastEditor($job, $edit));
        }
        Records::put($record, $edit->field, $edit->after);
    }

    /** An empty list, an empty text field and nothing are the same in the database; the empty text of a face is not. */
    private static function differ(mixed $a, mixed $b): bool
    {
        return ([] === $a ? null : $a) !== ([] === $b ? null : $b);
    }

    private function lastEditor(Job $job, Edit $edit): ?string
    {
        foreach ($this->entries($job, 100) as $entry) {
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
