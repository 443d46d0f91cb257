<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Lock\LockFactory;
use Vorhut\Core\Bench\KnownNetwork;
use Vorhut\Core\Bench\LooseDevice;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Records;
use Vorhut\Journal\Refused;

/** Gives one device in hand its run sheet, without a job: it goes into the job *Loose work*, which is created when it is needed. */
final readonly class PrepareDevice
{
    private const NAME = 'Loose work';
    public const SLUG = 'loose-work';
    /** Taken over from the newest job that has them. */
    private const INHERITED = ['country', 'language', 'timeZone'];

    public function __construct(
        private Jobs $jobs,
        private Records $records,
        private ChangeWriter $changes,
        private Catalogue $catalogue,
        private EntityManagerInterface $manager,
        private LockFactory $locks,
    ) {
    }

    /**
     * @param string $kind    its code, name or another word for it
     * @param string $label   MAC or serial number
     * @param string $network as KnownNetwork reads it
     *
     * @return array{Job, LooseDevice}
     *
     * @throws FieldErrors
     * @throws Conflict
     * @throws Refused
     */
    public function prepare(string $kind, string $label, string $network, User|string $by): array
    {
        $errors = [];
        $found = $this->catalogue->kindNamed($kind);
        if (null === $found) {
            $errors['kind'] = '' === trim($kind)
                ? new Message('Choose the kind of the device.')
                : new Message('No kind is called "{kind}".', ['kind' => mb_substr($kind, 0, 80)]);
        }
        $known = null;
        try {
            $known = KnownNetwork::fromString($network);
        } catch (Malformed $e) {
            $errors['network'] = $e->message();
        }
        if (mb_strlen($label) > 100) {
            $errors['label'] = new Message('That is longer than [n character|characters].', ['n' => 100]);
        }
        if ([] !== $errors) {
            throw new FieldErrors($errors);
        }
        if (null === $found || null === $known) {
            throw new \LogicException('A missing value has an error.');
        }

        return $this->add($found, $label, $known, $by);
    }

    /**
     * @return array{Job, LooseDevice}
     *
     * @throws FieldErrors|Conflict|Refused
     */
    private function add(Kind $kind, string $label, KnownNetwork $known, User|string $by): array
    {
        $lock = $this->locks->createLock(self::SLUG);
        $lock->acquire(true);
        try {
            $job = $this->jobs->find(self::SLUG) ?? $this->create();
            $device = LooseDevice::of($this->records->plan($job), $kind, $label, $known);
            $this->changes->write($job, $device->change, $by);
        } catch (Malformed $e) {
            throw new FieldErrors(['label' => $e->message()]);
        } finally {
            $lock->release();
        }

        return [$job, $device];
    }

    private function create(): Job
    {
        $jobs = $this->jobs->all();
        usort($jobs, static fn (Job $one, Job $other): int => $other->id <=> $one->id);
        $job = $this->jobs->create(self::NAME);
        foreach (self::INHERITED as $field) {
            foreach ($jobs as $other) {
                $job->$field ??= $other->$field;
            }
        }
        $this->manager->flush();

        return $job;
    }
}
