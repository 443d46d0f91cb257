<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\PasswordHasher\Hasher\UserPasswordHasherInterface;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\JobAccess;
use Vorhut\Entity\User;
use Vorhut\Journal\AuditTrail;
use Vorhut\Secrets\Secrets;

#[AsCommand('vorhut:user', 'Creates a user or sets a new password; prints the password once')]
final readonly class UserCommand
{
    public function __construct(
        private EntityManagerInterface $manager,
        private UserPasswordHasherInterface $hasher,
        private CommandInput $input,
        private AuditTrail $trail,
    ) {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('login name')]
        string $login,
        #[Option('name in the history')]
        string $name = '',
        #[Option('lead, technician, viewer or guest')]
        string $role = '',
        #[Option('job that the role applies to; default: all jobs; the role none removes access')]
        string $in = '',
        #[Option('disable the user')]
        bool $off = false,
        #[Option('enable the user')]
        bool $on = false,
        #[Option('remove two-factor authentication')]
        bool $withoutFactor = false,
    ): int {
        $login = User::normalise($login);
        if ($off || $on || $withoutFactor || '' !== $in) {
            return $this->change($output, $login, $role, $in, match (true) {
                $off => false,
                $on => true,
                default => null,
            }, $withoutFactor);
        }
        $role = '' === $role ? 'viewer' : $role;
        if (!isset(User::ROLES[$role])) {
            throw BadInput::because('--role is one of {list}, not "{role}".', [
                'list' => implode(', ', array_keys(User::ROLES)),
                'role' => $role,
            ]);
        }
        if ('' === $login || 1 !== preg_match(User::LOGIN, $login)) {
            throw new BadInput('A login has 2 to 64 lower-case letters, digits, dots and hyphens.');
        }
        $user = $this->manager
            ->getRepository(User::class)
            ->findOneBy(['login' => $login]) ?? new User($login, '' === $name ? $login : $name, $role);
        $user->role = $role;
        $user->name = '' === $name ? $user->name : $name;
        $password = Secrets::generate(14);
        $user->passwordHash = $this->hasher->hashPassword($user, $password);
        $this->manager->persist($user);
        $this->manager->flush();
        $this->trail->write('console', '', new Message('{login} got a new password.', ['login' => $login]));
        $output->writeln(\sprintf('%s (%s): %s', $login, $role, $password), OutputInterface::OUTPUT_RAW);

        return CommandInput::DONE;
    }

    private function change(OutputInterface $output, string $login, string $role, string $in, ?bool $active, bool $withoutFactor): int
    {
        $user = $this->manager->getRepository(User::class)->findOneBy(['login' => $login])
            ?? throw BadInput::because('User "{login}" was not found.', ['login' => $login]);
        $user->isActive = $active ?? $user->isActive;
        $user->totpSealed = $withoutFactor ? null : $user->totpSealed;
        if ('' !== $in) {
            $job = $this->input->job($in);
            $known = $this->manager->getRepository(JobAccess::class)->findOneBy(['job' => $job, 'user' => $user]);
            if ('' === $role) {
                if (null !== $known) {
                    $this->manager->remove($known);
                }
            } elseif (isset(User::ROLES[$role]) || JobAccess::NONE === $role) {
                if (null === $known) {
                    $this->manager->persist(new JobAccess($job, $user, $role));
                } else {
                    $known->role = $role;
                }
            } else {
                throw BadInput::because('--role is one of {list}, not "{role}".', [
                    'list' => implode(', ', [...array_keys(User::ROLES), JobAccess::NONE]),
                    'role' => $role,
                ]);
            }
        }
        $this->manager->flush();
        $this->trail->write('console', '', new Message('{login} was changed at the console.', ['login' => $login]));
        $output->writeln(\sprintf('%s: %s, %s', $login, $user->role, $user->isActive ? 'on' : 'off'), OutputInterface::OUTPUT_RAW);

        return CommandInput::DONE;
    }
}
