<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\PasswordHasher\Hasher\UserPasswordHasherInterface;
use Vorhut\Application\ImportJob;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Net\HostName;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Entity\WorkOrder;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Records;
use Vorhut\Lab\InjectedFault;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Secrets\FileCertificates;
use Vorhut\Secrets\Secrets;
use Vorhut\Secrets\Vault;

#[AsCommand('vorhut:demo', 'Creates the demo users and the demo jobs')]
final readonly class DemoCommand
{
    private const USERS = ['lead' => 'Mara Lindqvist', 'technician' => 'Jonas Aydin', 'viewer' => 'Petra Solheim'];

    public function __construct(
        private CommandInput $input,
        private Jobs $jobs,
        private ImportJob $importJob,
        private Records $records,
        private Vault $vault,
        private Orders $orders,
        private EntityManagerInterface $manager,
        private UserPasswordHasherInterface $hasher,
        private FileCertificates $certificates,
        private ChangeWriter $changes,
        private string $projectDir,
    ) {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('file to write the logins to')]
        string $logins,
        #[Option('delete all jobs and users first')]
        bool $erase = false,
    ): int {
        $users = \count($this->manager->getRepository(User::class)->findAll());
        $jobs = \count($this->jobs->all());
        if (!$erase && $users + $jobs > 0) {
            // The stored data decides, not whether a file next to it was lost.
            $said = \sprintf(
                "%d jobs and %d users are here, and the file with the demo's logins is gone. Nothing was touched.\n"
                    ."A new password: bin/console vorhut:user. The demo as it was, and everything else thrown away: bin/demo --reset.\n",
                $jobs,
                $users,
            );
            self::keep($logins, $said);
            $output->write($said, false, OutputInterface::OUTPUT_RAW);

            return CommandInput::DONE;
        }
        $lines = [];
        // All of it or nothing: a start that breaks off leaves an empty house, and the next one finds it so.
        $this->manager->wrapInTransaction(function () use (&$lines): void {
            $lines = $this->lay();
        });
        self::keep($logins, implode('', $lines));
        $output->writeln('The demo data is loaded.');

        return CommandInput::DONE;
    }

    private static function keep(string $file, string $text): void
    {
        $umask = umask(0o077);
        file_put_contents($file, $text);
        umask($umask);
    }

    /** @return list<string> the logins */
    private function lay(): array
    {
        $this->manager->clear();
        foreach ($this->jobs->all() as $job) {
            $this->manager->remove($job);
        }
        foreach ($this->manager->getRepository(User::class)->findAll() as $user) {
            $this->manager->remove($user);
        }
        $this->manager->flush();
        $lines = ["Logins (role, name, password):\n"];
        foreach (self::USERS as $role => $name) {
            $password = Secrets::generate(12);
            $user = new User($role, $name, $role);
            $user->passwordHash = $this->hasher->hashPassword($user, $password);
            $this->manager->persist($user);
            $lines[] = \sprintf("  %-11s %s\n", $role, $password);
        }
        $this->manager->flush();
        foreach (['museum' => 'museum', 'port' => 'nordmole'] as $file => $slug) {
            $job = $this->importJob->import($this->input->document($this->projectDir.'/demo/'.$file.'.json'), $slug);
            $this->vault->fill($job, $this->records->plan($job), self::USERS['lead']);
            $job->rehearsed = true;
            $this->manager->flush();
            if ('port' === $file) {
                $this->certificates->make($job, HostName::fromString('files.nordmole.example'), null, self::USERS['lead']);
                $this->trustAuthority($job);
                // In the director's room another gateway was typed in; the record has the right one.
                $this->orders->give($job, WorkOrder::FAULT, ['fault' => InjectedFault::WrongGateway->value, 'device' => 'vc-02'], 'demo');
                $this->orders->give($job, WorkOrder::PROVE, ['tests' => $this->provable($job), 'after' => 8], self::USERS['technician']);
            }
        }

        return $lines;
    }

    /** Phones of the demo that have their file were told of the job's authority before; it is drawn anew with every demo. */
    private function trustAuthority(Job $job): void
    {
        $edits = [];
        $plan = $this->records->plan($job);
        foreach ($plan->devices as $device) {
            $value = $device->setting(FileAddress::TRUST);
            if (FileAddress::isOf($device, Face::Set) && null !== $value->planned) {
                $edits = [...$edits, ...SettingChange::toBeSet($device->record().'#'.FileAddress::TRUST, $value, $value->planned)];
            }
        }
        $why = new Message('The authority was loaded into the phones.');
        $this->changes->write($job, new Change($why, $edits), self::USERS['technician']);
    }

    /** @return list<string> tests of devices that were staged: the rest is still on the bench */
    private function provable(Job $job): array
    {
        $plan = $this->records->plan($job);
        $keys = [];
        foreach (Proof::of($plan)->results as $result) {
            $device = $plan->devices[$result->test->to] ?? null;
            if (
                null !== $device?->nic()?->setting('address')->set
                && !$result->test->isForeseenToFail()
                && !str_contains($result->test->key, '2104')
                && 'discover:tech>vc-02' !== $result->test->key
            ) {
                $keys[] = $result->test->key;
            }
        }

        return $keys;
    }
}
