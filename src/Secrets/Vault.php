<?php

declare(strict_types=1);

namespace Vorhut\Secrets;

use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\FurtherLogin;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\SipSecret;
use Vorhut\Entity\Credential;
use Vorhut\Entity\FileCertificate;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\JobTransaction;
use Vorhut\Journal\JournalClock;

/** The secrets of a job: made where they are missing, opened for those who need them. */
final readonly class Vault
{
    public const SIP_LENGTH = 20;
    private const ADMIN_LENGTH = 16;

    public function __construct(
        private EntityManagerInterface $manager,
        private Secrets $secrets,
        private JobTransaction $transaction,
        private ChangeWriter $changes,
        private JournalClock $time,
    ) {
    }

    /** @return array<string, string> account key → its SIP secret, `devices/KEY` → its password, `owner#purpose` → any other */
    public function open(Job $job): array
    {
        $open = [];
        foreach ($this->manager->getRepository(Credential::class)->findBy(['job' => $job]) as $credential) {
            $secret = $this->secrets->open($credential);
            if (null === $secret) {
                continue;
            }
            $owner = (string) $credential->owner;
            $open[match ($credential->purpose) {
                'sip' => str_starts_with($owner, 'accounts/') ? substr($owner, 9) : $owner,
                'admin' => $owner,
                default => $owner.'#'.$credential->purpose,
            }] = $secret;
        }

        return $open;
    }

    /** Logs that secrets were shown: an entry without a change. */
    public function recordDisclosure(Job $job, Plan $plan, string $owner, string $purpose, Message $why, User|string $by): void
    {
        $known = $plan->credential($owner, $purpose);
        if (null !== $known) {
            $this->changes->write(
                $job,
                new Change($why, [Edit::put('credentials', $known->key, 'user', $known->user, $known->user)]),
                $by,
            );
        }
    }

    /** Stores a secret that a person read or received, unchanged. */
    public function keep(Job $job, Plan $plan, string $owner, string $purpose, string $user, string $secret, User|string $by): void
    {
        $known = $plan->credential($owner, $purpose);
        $key = $known->key ?? self::keyOf($owner, $purpose);
        $change = null === $known
            ? [$this->add($key, $owner, $purpose, $user, 'default', mb_strlen($secret))]
            : [
                Edit::put('credentials', $key, 'length', $known->length, mb_strlen($secret)),
                Edit::put('credentials', $key, 'user', $known->user, $user),
            ];
        $why = new Message('A secret of {owner} was written down ({purpose}).', [
            'owner' => $plan->nameOf(...explode('/', $owner, 2) + [1 => '']),
            'purpose' => $purpose,
        ]);
        $this->store($job, new Change($why, $change), $key, $secret, $by);
    }

    /** A login in addition to the one of the kind; without a password if only its holder is known. */
    public function note(Job $job, Plan $plan, string $owner, FurtherLogin $login, User|string $by): void
    {
        $known = $plan->credential($owner, $login->purpose);
        $key = $known->key ?? self::keyOf($owner, $login->purpose);
        $length = '' === $login->secret ? $known->length ?? 0 : mb_strlen($login->secret);
        $text = static fn (string $one): ?string => '' === $one ? null : $one;
        $change = null === $known
            ? [Edit::add('credentials', [
                'key' => $key,
                'owner' => $owner,
                'purpose' => $login->purpose,
                'user' => $login->user,
                'heldBy' => $text($login->heldBy),
                'state' => 'changed',
                'length' => $length,
                'changedAt' => $this->time->now(),
            ])]
            : [
                Edit::put('credentials', $key, 'user', $known->user, $login->user),
                Edit::put('credentials', $key, 'heldBy', $text($known->heldBy), $text($login->heldBy)),
                Edit::put('credentials', $key, 'length', $known->length, $length),
                ...('' === $login->secret ? [] : [
                    Edit::put('credentials', $key, 'changedAt', $known->changedAt, $this->time->now()),
                ]),
            ];
        $why = new Message('A login of {owner} was written down ({purpose}).', [
            'owner' => $plan->nameOf(...explode('/', $owner, 2) + [1 => '']),
            'purpose' => $login->purpose,
        ]);
        $this->store($job, new Change($why, $change), $key, $login->secret, $by);
    }

    /**
     * Stores the entry and the secret that it tells of, or neither.
     *
     * @param string $secret '' where only the login is recorded
     */
    private function store(Job $job, Change $change, string $key, string $secret, User|string $by): void
    {
        $this->transaction->run($job, function (Job $job) use ($change, $key, $secret, $by): void {
            $this->changes->write($job, $change, $by);
            $credential = '' === $secret
                ? null
                : $this->manager->getRepository(Credential::class)->findOneBy(['job' => $job, 'key' => $key]);
            if (null !== $credential) {
                $credential->sealed = $this->secrets->seal($secret);
                $this->manager->flush();
            }
        });
    }

    /** Such a login is gone, its password with it: that comes back by no undoing. */
    public function drop(Job $job, Plan $plan, string $owner, string $purpose, User|string $by): void
    {
        $known = $plan->credential($owner, $purpose);
        $row = null === $known || FurtherLogin::isReserved($purpose) ? null : $plan->row('credentials', $known->key);
        if (null !== $known && null !== $row) {
            $this->changes->write($job, new Change(new Message('A login of {owner} was removed ({purpose}).', [
                'owner' => $plan->nameOf(...explode('/', $owner, 2) + [1 => '']),
                'purpose' => $purpose,
            ]), [
                Edit::put('credentials', $known->key, 'length', $known->length, 0),
                Edit::remove('credentials', ['length' => 0] + $row),
            ]), $by);
        }
    }

    /** @return array<string, true> purposes of the owner's secrets that are kept here and can be shown */
    public function purposesOf(Job $job, string $owner): array
    {
        $kept = [];
        foreach ($this->manager->getRepository(Credential::class)->findBy(['job' => $job, 'owner' => $owner]) as $credential) {
            if (null !== $this->secrets->open($credential)) {
                $kept[(string) $credential->purpose] = true;
            }
        }

        return $kept;
    }

    public function secretOf(Job $job, string $owner, string $purpose): ?string
    {
        return $this->secrets->open(
            $this->manager->getRepository(Credential::class)->findOneBy(['job' => $job, 'owner' => $owner, 'purpose' => $purpose]),
        );
    }

    /**
     * Seals every secret of every job with a new key, and those of second factors, in one transaction.
     *
     * @return int how many of jobs
     */
    public function changeKey(): int
    {
        $count = 0;
        $this->secrets->changeKey(function (\Closure $seal) use (&$count): void {
            $this->manager->wrapInTransaction(function () use ($seal, &$count): void {
                foreach ($this->manager->getRepository(Credential::class)->findAll() as $credential) {
                    $this->manager->refresh($credential, LockMode::PESSIMISTIC_WRITE);
                    $secret = $this->secrets->open($credential);
                    if (null !== $secret) {
                        $credential->sealed = $seal($secret);
                        ++$count;
                    }
                }
                foreach ($this->manager->getRepository(FileCertificate::class)->findAll() as $kept) {
                    $this->manager->refresh($kept, LockMode::PESSIMISTIC_WRITE);
                    $key = $this->secrets->openSealed($kept->keySealed);
                    $authority = $this->secrets->openSealed($kept->authorityKeySealed);
                    $kept->keySealed = null === $key ? $kept->keySealed : $seal($key);
                    $kept->authorityKeySealed = null === $authority ? $kept->authorityKeySealed : $seal($authority);
                }
                foreach ($this->manager->getRepository(User::class)->findAll() as $user) {
                    $this->manager->refresh($user, LockMode::PESSIMISTIC_WRITE);
                    $secret = $this->secrets->openSealed($user->totpSealed);
                    if (null !== $secret) {
                        $user->totpSealed = $seal($secret);
                    }
                }
            });
        });

        return $count;
    }

    /** Missing secrets: a SIP secret for each account, an administrator's password for each device with a login. */
    public function fill(Job $job, Plan $plan, User|string $by): int
    {
        // The entry and the secrets that it tells of are stored together, or neither.
        return $this->transaction->run($job, fn (Job $job): int => $this->generateMissing($job, $plan, $by));
    }

    private function generateMissing(Job $job, Plan $plan, User|string $by): int
    {
        $edits = $this->replacements($job, $plan);
        $fresh = [];
        foreach ($plan->accounts as $account) {
            if (null === $plan->credential('accounts/'.$account->key, 'sip')) {
                $edits[] = $this->add($account->key.'.sip', 'accounts/'.$account->key, 'sip', $account->user, 'changed', self::SIP_LENGTH);
            }
        }
        foreach ($plan->devices as $device) {
            if (
                $device->kind->login->exists()
                && null !== $device->kind->stepThat(Effect::Secures)
                && null === $plan->credential('devices/'.$device->key, 'admin')
            ) {
                // Generated, but not in the device yet: it has its default until the new one is typed there.
                $edits[] = $this->add(
                    $device->key.'.admin',
                    'devices/'.$device->key,
                    'admin',
                    $device->loginUser(),
                    $this->isSecured($plan, $device) ? 'changed' : 'default',
                    self::ADMIN_LENGTH,
                );
            }
        }
        if ([] !== $edits) {
            $count = \count(array_unique(array_map(static fn (Edit $edit): string => $edit->key, $edits)));
            $this->changes->write($job, new Change(new Message('[n secret|secrets] generated.', ['n' => $count]), $edits), $by);
        }
        foreach ($this->manager->getRepository(Credential::class)->findBy(['job' => $job]) as $credential) {
            if (self::canBeGenerated($credential)) {
                $length = max(SipSecret::LEAST, $credential->length ?? self::SIP_LENGTH);
                $credential->sealed = $this->secrets->seal(Secrets::generate($length));
                $fresh[] = $credential->key;
            }
        }
        $this->manager->flush();

        return \count($fresh);
    }

    /** Whether Vorhut may generate it: not a password printed on a label or held by the customer. */
    private static function canBeGenerated(Credential $credential): bool
    {
        return null === $credential->sealed
            && '' === (string) $credential->heldBy
            && \in_array($credential->purpose, ['admin', 'sip'], true);
    }

    /**
     * Edits for weak SIP secrets that an imported job records without the secret itself: they are generated anew.
     *
     * @return list<Edit>
     */
    private function replacements(Job $job, Plan $plan): array
    {
        $edits = [];
        foreach ($this->manager->getRepository(Credential::class)->findBy(['job' => $job, 'purpose' => 'sip']) as $credential) {
            $known = $plan->credential((string) $credential->owner, 'sip');
            if (null === $known || !self::canBeGenerated($credential) || null === SipSecret::weakness($known)) {
                continue;
            }
            $edits[] = Edit::put('credentials', $known->key, 'length', $known->length, self::SIP_LENGTH);
            if (null !== $known->weakness) {
                $edits[] = Edit::put('credentials', $known->key, 'weakness', $known->weakness, null);
            }
        }

        return $edits;
    }

    private static function keyOf(string $owner, string $purpose): string
    {
        return str_replace('/', '.', substr($owner, (int) strpos($owner, '/') + 1)).'.'.$purpose;
    }

    /** Its step was marked before the password was generated: the person who marked it has changed it. */
    private function isSecured(Plan $plan, Device $device): bool
    {
        return RunSheet::of($plan, $device)->has(Effect::Secures);
    }

    private function add(string $key, string $owner, string $purpose, string $user, string $state, int $length): Edit
    {
        return Edit::add('credentials', [
            'key' => $key,
            'owner' => $owner,
            'purpose' => $purpose,
            'user' => $user,
            'state' => $state,
            'length' => $length,
            'weakness' => null,
            'changedAt' => $this->time->now(),
        ]);
    }
}
