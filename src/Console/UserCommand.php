<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\PasswordHasher\Hasher\UserPasswordHasherInterface;
use Vorhut\Entity\User;
use Vorhut\Secrets\Secrets;

#[AsCommand('vorhut:user', 'Makes a user, or gives one a new password; prints the password once')]
final readonly class UserCommand
{
    public function __construct(private EntityManagerInterface $manager, private UserPasswordHasherInterface $hasher)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('what one types to come in')]
        string $login,
        #[Option('as the journal names this person')]
        string $name = '',
        #[Option('lead, technician or viewer')]
        string $role = 'viewer',
    ): int {
        if (!isset(User::ROLES[$role])) {
            throw BadInput::because('--role is one of {list}, not "{role}".', [
                'list' => implode(', ', array_keys(User::ROLES)),
                'role' => $role,
            ]);
        }
        if ('' === $login || 1 !== preg_match('/^[a-z0-9._-]{2,64}$/D', $login)) {
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
        $output->writeln(\sprintf('%s (%s): %s', $login, $role, $password), OutputInterface::OUTPUT_RAW);

        return CommandInput::DONE;
    }
}
