<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Credential;
use Vorhut\Entity\Device;
use Vorhut\Entity\Job;
use Vorhut\Entity\JournalEntry;
use Vorhut\Journal\BulkInsert;
use Vorhut\Journal\Records;
use Vorhut\Secrets\Sealed;
use Vorhut\Secrets\Secrets;

/** Jobs as wholes: new ones, by name, in from a document, out into one. */
final readonly class Jobs
{
    /** Records that are written together. */
    private const AT_ONCE = 1000;

    public function __construct(
        private EntityManagerInterface $manager,
        private Records $records,
        private Secrets $secrets,
        private BulkInsert $rows,
    ) {
    }

    /** @return list<Job> */
    public function all(): array
    {
        return $this->manager->getRepository(Job::class)->findBy([], ['name' => 'ASC']);
    }

    public function find(string $slug): ?Job
    {
        return $this->manager->getRepository(Job::class)->findOneBy(['slug' => $slug]);
    }

    public function create(string $name): Job
    {
        $job = $this->blank($name);
        $job->name = $name;
        $job->featureCodes = [];
        $this->manager->persist($job);
        $this->manager->flush();

        return $job;
    }

    /** How many devices it has, without reading them. */
    public function devices(Job $job): int
    {
        return $this->manager->getRepository(Device::class)->count(['job' => $job]);
    }

    /**
     * Takes a document in as a new job, all of it or nothing.
     *
     * @param (\Closure(int, int): void)|null $tell hears how many records were written, and of how many
     *
     * @throws \InvalidArgumentException where its sealed secrets do not open with the passphrase
     */
    public function import(JobDocument $document, ?string $slug = null, ?string $passphrase = null, ?\Closure $tell = null): Job
    {
        $all = \count($document->journal) + array_sum(array_map(count(...), $document->sections));
        $done = 0;
        $secrets = [];
        if (null !== $passphrase) {
            $secrets = null === $document->sealed
                ? throw new NotOpened('The document carries no secrets.')
                : Sealed::unlock($document->sealed, $passphrase)
                    ?? throw new NotOpened('The passphrase does not open the secrets of this document.');
        }
        $job = $this->blank($slug ?? (new Row($document->job))->text('name'));
        foreach ($document->job as $field => $value) {
            Records::put($job, $field, $value);
        }
        $this->manager->wrapInTransaction(function () use ($job, $document, $secrets, $tell, $all, &$done): void {
            $this->manager->persist($job);
            $this->manager->flush();
            $written = [];
            foreach ($document->sections as $section => $rows) {
                foreach ($rows as $row) {
                    $written[] = $record = Records::create($job, $section, $row);
                    if ($record instanceof Credential && isset($secrets[$record->key])) {
                        $record->sealed = $this->secrets->seal($secrets[$record->key]);
                    }
                    ++$done;
                    if (\count($written) >= self::AT_ONCE) {
                        $written = $this->write($written);
                        if (null !== $tell) {
                            $tell($done, $all);
                        }
                    }
                }
            }
            foreach ($document->journal as $data) {
                $row = new Row($data);
                $entry = new JournalEntry();
                $entry->job = $job;
                $entry->number = $row->int('number');
                $entry->at = $row->text('at');
                $entry->by = $row->text('by');
                $entry->why = Message::fromStored($data['why'] ?? '')->toStored();
                $entry->undoes = $row->intOrNull('undoes');
                $entry->edits = array_values(array_map(self::edit(...), array_filter($row->list('edits'), is_array(...))));
                $written[] = $entry;
                if (\count($written) >= self::AT_ONCE) {
                    $written = $this->write($written);
                }
            }
            $this->write($written);
        });

        return $job;
    }

    /**
     * Of a large job not all records are held at once.
     *
     * @param list<object> $records
     *
     * @return array{}
     */
    private function write(array $records): array
    {
        $this->rows->write($records);

        return [];
    }

    /** @param string|null $passphrase asks for the secrets too, sealed under it */
    public function export(Job $job, ?string $passphrase = null): JobDocument
    {
        $journal = [];
        foreach ($this->manager->getRepository(JournalEntry::class)->findBy(['job' => $job], ['number' => 'ASC']) as $entry) {
            $journal[] = ['number' => $entry->number, 'at' => $entry->at, 'by' => $entry->by, 'why' => $entry->why]
                + (null === $entry->undoes ? [] : ['undoes' => $entry->undoes])
                + ['edits' => $entry->edits];
        }
        $sealed = null;
        if (null !== $passphrase) {
            $secrets = [];
            foreach ($this->manager->getRepository(Credential::class)->findBy(['job' => $job], ['key' => 'ASC']) as $credential) {
                $secret = $this->secrets->open($credential);
                if (null !== $secret) {
                    $secrets[$credential->key] = $secret;
                }
            }
            $sealed = Sealed::lock($secrets, $passphrase);
        }

        return JobDocument::of($this->records->whole($job), $journal, $sealed);
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

    private function blank(string $name): Job
    {
        $base = trim(preg_replace('/[^a-z0-9]+/', '-', strtolower($name)) ?? '', '-');
        $base = substr('' === $base ? 'job' : $base, 0, 48);
        $job = new Job();
        $job->slug = $base;
        for ($n = 2; null !== $this->find($job->slug); ++$n) {
            $job->slug = $base.'-'.$n;
        }
        $job->fileToken = bin2hex(random_bytes(16));
        $job->stamp = $job->planStamp = bin2hex(random_bytes(8));

        return $job;
    }
}
