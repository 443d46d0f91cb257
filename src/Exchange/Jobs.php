<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Entity\Credential;
use Vorhut\Entity\Device;
use Vorhut\Entity\Job;
use Vorhut\Entity\JournalEntry;
use Vorhut\Journal\Records;
use Vorhut\Secrets\Sealed;
use Vorhut\Secrets\Secrets;

/** Jobs as wholes: new ones, by name, out into a document. ImportJob takes one in. */
final readonly class Jobs
{
    public function __construct(
        private EntityManagerInterface $manager,
        private Records $records,
        private Secrets $secrets,
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

    /** A job with an address of its own and nothing in it, not stored yet. */
    public function blank(string $name): Job
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
