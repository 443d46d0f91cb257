<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\FetchGuard;
use Vorhut\Entity\Job;
use Vorhut\Journal\Author;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\EvidenceLog;
use Vorhut\Journal\Records;
use Vorhut\Journal\Refused;
use Vorhut\Secrets\Secrets;

/** Files that are ready for the fast path, and the notes of who fetched one, until those are stored as evidence. */
final readonly class PhoneFileCache
{
    /** Notes that are entered at once. */
    private const AT_ONCE = 2000;
    /** Seconds after which an entered note is of no use: it counted within its minute. */
    private const OVER = 180;

    public function __construct(
        private EntityManagerInterface $manager,
        private Secrets $secrets,
        private Records $records,
        private ChangeWriter $changes,
        private EvidenceLog $evidenceLog,
        private Written $written,
    ) {
    }

    /**
     * Stores a file for the next request, valid while its inputs do not change.
     *
     * @param string $stamp of the job's files, from before the plan was read: anything newer is made again, never the other way
     */
    public function lay(Job $job, string $stamp, Mac $mac, FileResponse $served, FetchGuard $guard, ?int $until): void
    {
        if ('' === $stamp) {
            return;
        }
        $ranges = array_map(static fn (Range $range): array => [$range->first->number, $range->last->number], $guard->ranges);
        $this->manager->getConnection()->executeStatement(
            'INSERT INTO phone_file (job_id, mac, device, files_stamp, body, file_version, ranges, until_at) '
                .'VALUES (?, ?, ?, ?, ?, ?, ?, ?) '
                .'ON DUPLICATE KEY UPDATE device = VALUES(device), files_stamp = VALUES(files_stamp), body = VALUES(body), '
                .'file_version = VALUES(file_version), ranges = VALUES(ranges), until_at = VALUES(until_at)',
            [
                $job->id, $mac->digits, $served->device, $stamp, $this->secrets->seal($served->body), $served->version,
                json_encode($ranges, \JSON_THROW_ON_ERROR), $until,
            ],
        );
    }

    /**
     * Stores what the fast path noted: evidence, and the values that the files put into the phones. After a kill in the middle it is
     * stored whole the next time, and nothing twice.
     *
     * @return int how many notes
     */
    public function enter(Job $job): int
    {
        $connection = $this->manager->getConnection();
        $notes = array_map(static fn (array $row): Row => new Row($row), $connection->fetchAllAssociative(
            'SELECT * FROM fetch_note WHERE job_id = ? AND is_entered = 0 ORDER BY id LIMIT '.self::AT_ONCE,
            [$job->id],
        ));
        if ([] === $notes) {
            return 0;
        }
        try {
            $connection->transactional(fn () => $this->enterAll($job, $notes));
        } catch (Conflict|Refused) {
            // They are entered by another process, or a user typed into one of the phones meanwhile: they stay until the next time.
            return 0;
        }
        $this->tidy($job);

        return \count($notes);
    }

    /**
     * @param list<Row> $notes
     *
     * @throws Conflict
     * @throws Refused
     */
    private function enterAll(Job $job, array $notes): void
    {
        // By their numbers, so that no phone that comes meanwhile waits for a lock.
        $ids = implode(',', array_map(static fn (Row $note): int => $note->int('id'), $notes));
        $mine = $this->manager->getConnection()->executeStatement(
            "UPDATE fetch_note SET is_entered = 1 WHERE is_entered = 0 AND id IN ($ids)",
        );
        if ((int) $mine !== \count($notes)) {
            throw Refused::because('Another process is entering these.');
        }
        $devices = $rows = [];
        foreach ($notes as $note) {
            $onSite = 1 === $note->int('on_site');
            $rows[] = [
                'key' => bin2hex(random_bytes(10)),
                'device' => $note->text('device'),
                'mac' => (string) Mac::fromString($note->text('mac')),
                'at' => $note->text('made_at'),
                'address' => $note->text('address'),
                'agent' => $note->text('agent'),
                'file' => $note->text('file_version'),
                'status' => 200,
                'onSite' => $onSite,
            ];
            if ($onSite || !$job->isRehearsing()) {
                $devices[$note->text('device')] = true;
            }
        }
        $this->evidenceLog->addAll($job, 'fetches', $rows);
        $this->takenBy($job, array_map(strval(...), array_keys($devices)));
    }

    /** Notes that are entered, and count for nothing any more. */
    private function tidy(Job $job): void
    {
        $connection = $this->manager->getConnection();
        $over = $connection->fetchFirstColumn(
            'SELECT id FROM fetch_note WHERE job_id = ? AND is_entered = 1 AND minute < ? LIMIT '.self::AT_ONCE,
            [$job->id, intdiv(time() - self::OVER, 60)],
        );
        $ids = implode(',', array_map(static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0, $over));
        if ('' !== $ids) {
            $connection->executeStatement("DELETE FROM fetch_note WHERE id IN ($ids)");
        }
    }

    /** @param list<string> $devices the values in their files count as set, like typed values */
    private function takenBy(Job $job, array $devices): void
    {
        $plan = $this->records->plan($job);
        $edits = [];
        $tags = [];
        foreach ($devices as $key) {
            $own = isset($plan->devices[$key]) ? $this->written->by($plan, $plan->devices[$key]) : [];
            if ([] !== $own) {
                $edits = [...$edits, ...$own];
                $tags[] = $plan->devices[$key]->tag;
            }
        }
        if ([] !== $edits) {
            $why = 1 === \count($tags)
                ? new Message('{tag} took its file.', ['tag' => $tags[0]])
                : new Message('[n phone|phones] fetched the file.', ['n' => \count($tags)]);
            $this->changes->write($job, new Change($why, $edits), Author::FILE_SERVER);
        }
    }
}
