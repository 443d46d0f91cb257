<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Credential;
use Vorhut\Entity\Job;
use Vorhut\Entity\JournalEntry;
use Vorhut\Exchange\Jobs;
use Vorhut\Exchange\NotOpened;
use Vorhut\Journal\BulkInsert;
use Vorhut\Journal\Records;
use Vorhut\Secrets\Sealed;
use Vorhut\Secrets\Secrets;

/** Takes a document in as a new job, all of it or nothing. */
final readonly class ImportJob
{
    /** Records that are written together: of a large job not all are held at once. */
    private const AT_ONCE = 1000;

    public function __construct(
        private EntityManagerInterface $manager,
        private Jobs $jobs,
        private Secrets $secrets,
        private BulkInsert $rows,
    ) {
    }

    /**
     * @param string|null                     $slug its name in addresses; null takes that of the job
     * @param (\Closure(int, int): void)|null $tell hears how many records were written, and of how many
     *
     * @throws NotOpened where its sealed secrets do not open with the passphrase
     */
    public function import(JobDocument $document, ?string $slug = null, ?string $passphrase = null, ?\Closure $tell = null): Job
    {
        $secrets = null === $passphrase ? [] : self::unlock($document, $passphrase);
        $all = \count($document->journal) + array_sum(array_map(count(...), $document->sections));
        $job = $this->jobs->blank($slug ?? (new Row($document->job))->text('name'));
        foreach ($document->job as $field => $value) {
            Records::put($job, $field, $value);
        }
        $this->manager->wrapInTransaction(function () use ($job, $document, $secrets, $tell, $all): void {
            $this->manager->persist($job);
            $this->manager->flush();
            $done = 0;
            $batch = [];
            foreach ($this->records($job, $document, $secrets) as $record) {
                $batch[] = $record;
                ++$done;
                if (\count($batch) >= self::AT_ONCE) {
                    $this->rows->write($batch);
                    $batch = [];
                    if (null !== $tell) {
                        $tell($done, $all);
                    }
                }
            }
            $this->rows->write($batch);
        });

        return $job;
    }

    /**
     * @return array<string, string> key of the credential → secret
     *
     * @throws NotOpened
     */
    private static function unlock(JobDocument $document, #[\SensitiveParameter] string $passphrase): array
    {
        if (null === $document->sealed) {
            throw new NotOpened('The document carries no secrets.');
        }

        return Sealed::unlock($document->sealed, $passphrase)
            ?? throw new NotOpened('The passphrase does not open the secrets of this document.');
    }

    /**
     * @param array<string, string> $secrets
     *
     * @return iterable<object>
     */
    private function records(Job $job, JobDocument $document, array $secrets): iterable
    {
        foreach ($document->sections as $section => $rows) {
            foreach ($rows as $row) {
                $record = Records::create($job, $section, $row);
                if ($record instanceof Credential && isset($secrets[$record->key])) {
                    $record->sealed = $this->secrets->seal($secrets[$record->key]);
                }
                yield $record;
            }
        }
        foreach ($document->journal as $data) {
            yield self::entry($job, $data);
        }
    }

    /** @param array<string, mixed> $data */
    private static function entry(Job $job, array $data): JournalEntry
    {
        $row = new Row($data);
        $entry = new JournalEntry();
        $entry->job = $job;
        $entry->number = $row->int('number');
        $entry->at = $row->text('at');
        $entry->by = $row->text('by');
        $entry->why = Message::fromStored($data['why'] ?? '')->toStored();
        $entry->undoes = $row->intOrNull('undoes');
        $entry->edits = array_values(array_map(self::edit(...), array_filter($row->list('edits'), is_array(...))));

        return $entry;
    }

    /**
     * @param array<mixed> $edit
     *
     * @return array<string, mixed>
     */
    private static function edit(array $edit): array
    {
        $named = [];
        foreach ($edit as $name => $value) {
            $named[(string) $name] = $value;
        }

        return $named;
    }
}
