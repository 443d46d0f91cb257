<?php

declare(strict_types=1);

namespace Vorhut\Secrets;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Plan\Plan;
use Vorhut\Entity\Credential;
use Vorhut\Entity\Job;
use Vorhut\Journal\Journal;

/** The secrets of a job: made where they are missing, opened for those who need them. */
final readonly class Vault
{
    private const SIP_LENGTH = 20;
    private const ADMIN_LENGTH = 16;

    public function __construct(private EntityManagerInterface $manager, private Secrets $secrets, private Journal $journal)
    {
    }

    /** @return array<string, string> owner (`devices/KEY`) or account key → secret */
    public function open(Job $job): array
    {
        $open = [];
        foreach ($this->manager->getRepository(Credential::class)->findBy(['job' => $job]) as $credential) {
            $secret = $this->secrets->open($credential);
            if (null !== $secret) {
                $open[str_starts_with((string) $credential->owner, 'accounts/') ? substr((string) $credential->owner, 9) : (string) $credential->owner] = $secret;
            }
        }

        return $open;
    }

    public function secretOf(Job $job, string $owner, string $purpose): ?string
    {
        return $this->secrets->open($this->manager->getRepository(Credential::class)->findOneBy(['job' => $job, 'owner' => $owner, 'purpose' => $purpose]));
    }

    /** What is missing: a SIP secret for each account, an administrator's password for each device that has a login. */
    public function fill(Job $job, Plan $plan, string $by): int
    {
        $edits = [];
        $fresh = [];
        foreach ($plan->accounts as $account) {
            if (null === $plan->credential('accounts/'.$account->key, 'sip')) {
                $edits[] = $this->add($account->key.'.sip', 'accounts/'.$account->key, 'sip', $account->user, 'changed', self::SIP_LENGTH);
            }
        }
        foreach ($plan->devices as $device) {
            if ('' !== $device->kind->loginUser && !$device->kind->isRouter() && null === $plan->credential('devices/'.$device->key, 'admin')) {
                // Made, but not in the device yet: it holds its default until somebody types it there.
                $edits[] = $this->add($device->key.'.admin', 'devices/'.$device->key, 'admin', $device->kind->loginUser, 'default', self::ADMIN_LENGTH);
            }
        }
        if ([] !== $edits) {
            $this->journal->write($job, new Change(new Message('{n} secrets generated.', ['n' => \count($edits)]), $edits), $by);
        }
        foreach ($this->manager->getRepository(Credential::class)->findBy(['job' => $job]) as $credential) {
            if (null === $credential->sealed) {
                $credential->sealed = $this->secrets->seal(Secrets::generate(max(12, $credential->length ?? self::SIP_LENGTH)));
                $fresh[] = $credential->key;
            }
        }
        $this->manager->flush();

        return \count($fresh);
    }

    private function add(string $key, string $owner, string $purpose, string $user, string $state, int $length): Edit
    {
        return Edit::add('credentials', ['key' => $key, 'owner' => $owner, 'purpose' => $purpose, 'user' => $user, 'state' => $state, 'length' => $length, 'weakness' => null, 'changedAt' => $this->journal->now()]);
    }
}
