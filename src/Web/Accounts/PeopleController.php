<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\PasswordHasher\Hasher\UserPasswordHasherInterface;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Twig\Environment;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\JobAccess;
use Vorhut\Entity\User;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\AuditTrail;
use Vorhut\Secrets\Secrets;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;

/** Users and roles; the sign-in log. */
#[IsGranted('ROLE_LEAD')]
final readonly class PeopleController
{
    private const PASSWORD = 14;

    public function __construct(
        private JobPages $pages,
        private EntityManagerInterface $manager,
        private UserPasswordHasherInterface $hasher,
        private Jobs $jobs,
        private AuditTrail $trail,
        private FormFeedback $feedback,
        private Environment $twig,
    ) {
    }

    #[Route('/people', name: 'people', methods: ['GET'])]
    public function page(Request $request): Response
    {
        $users = $this->manager->getRepository(User::class)->findBy([], ['login' => 'ASC']);
        $access = [];
        foreach ($this->manager->getRepository(JobAccess::class)->findAll() as $one) {
            $access[$one->user->login][] = $one;
        }

        return new Response($this->twig->render('doors/people.html.twig', [
            'users' => $users,
            'access' => $access,
            'jobs' => $this->jobs->all(),
            'roles' => array_keys(User::ROLES),
            'events' => $this->trail->latest(),
            'feedback' => $this->feedback->of($request),
        ]));
    }

    #[Route('/people/new', name: 'people_new', methods: ['POST'])]
    public function add(Request $request): Response
    {
        $this->pages->checkToken($request);
        $typed = ['login' => User::normalise($request->request->getString('login')), 'name' => trim($request->request->getString('name'))];
        $role = $this->role($request);
        $wrong = [];
        if (1 !== preg_match(User::LOGIN, $typed['login'])) {
            $wrong['login'] = new Message('A login has 2 to 64 lower-case letters, digits, dots and hyphens.');
        } elseif (null !== $this->manager->getRepository(User::class)->findOneBy(['login' => $typed['login']])) {
            $wrong['login'] = new Message('This login is already in use.');
        }
        if (mb_strlen($typed['name']) > 120) {
            $wrong['name'] = new Message('At most [n character|characters].', ['n' => 120]);
        }
        if ([] !== $wrong) {
            $this->feedback->keep('people', $typed + ['role' => $role], $wrong);

            return $this->pages->back($request, '/people');
        }
        $user = new User($typed['login'], '' === $typed['name'] ? $typed['login'] : $typed['name'], $role);
        $this->manager->persist($user);

        return $this->handOut($request, $user, new Message('{login} can log in as {role}.', ['login' => $user->login, 'role' => $role]));
    }

    #[Route('/people/{login}', name: 'people_change', methods: ['POST'])]
    public function change(Request $request, string $login): Response
    {
        $this->pages->checkToken($request);
        $user = $this->manager->getRepository(User::class)->findOneBy(['login' => $login])
            ?? throw new NotFoundHttpException('User not found.');
        $do = $request->request->getString('do');
        if ('password' === $do) {
            return $this->handOut($request, $user, new Message('{login} got a new password.', ['login' => $login]));
        }
        if ($login === $this->pages->user()->login && \in_array($do, ['off', 'role'], true)) {
            $this->feedback->tell(new Message('You cannot disable yourself or reduce your own role: ask another lead engineer.'));

            return $this->pages->back($request, '/people');
        }
        $said = match ($do) {
            'off', 'on' => $this->switch($user, 'on' === $do),
            'role' => $this->become($user, $this->role($request)),
            'factor' => $this->dropFactor($user),
            'job' => $this->inJob($user, $request->request->getString('job'), $request->request->getString('role')),
            default => null,
        };
        if (null !== $said) {
            $this->manager->flush();
            $this->write($request, $said);
            $this->feedback->tell($said);
        }

        return $this->pages->back($request, '/people');
    }

    private function switch(User $user, bool $on): Message
    {
        $user->isActive = $on;

        return $on
            ? new Message('{login} was enabled.', ['login' => $user->login])
            : new Message('{login} was disabled.', ['login' => $user->login]);
    }

    private function become(User $user, string $role): Message
    {
        $user->role = $role;

        return new Message('{login} is {role} now.', ['login' => $user->login, 'role' => $role]);
    }

    private function dropFactor(User $user): Message
    {
        $user->totpSealed = null;

        return new Message('Two-factor authentication of {login} was turned off.', ['login' => $user->login]);
    }

    private function inJob(User $user, string $slug, string $role): ?Message
    {
        $job = $this->jobs->find($slug) ?? throw new NotFoundHttpException('Job not found.');
        $known = $this->manager->getRepository(JobAccess::class)->findOneBy(['job' => $job, 'user' => $user]);
        if ('' === $role) {
            if (null !== $known) {
                $this->manager->remove($known);
            }

            return null === $known ? null : new Message('{login} has the default role in {job}.', self::places($user, $job));
        }
        if (!isset(User::ROLES[$role]) && JobAccess::NONE !== $role) {
            return null;
        }
        if (null === $known) {
            $this->manager->persist(new JobAccess($job, $user, $role));
        } else {
            $known->role = $role;
        }

        return JobAccess::NONE === $role
            ? new Message('{login} has no access to {job}.', self::places($user, $job))
            : new Message('{login} is {role} in {job}.', ['role' => $role] + self::places($user, $job));
    }

    /** @return array<string, string> */
    private static function places(User $user, Job $job): array
    {
        return ['login' => $user->login, 'job' => $job->name ?? $job->slug];
    }

    /** A password that is shown once, to the person who passes it on. */
    private function handOut(Request $request, User $user, Message $said): Response
    {
        $password = Secrets::generate(self::PASSWORD);
        $user->passwordHash = $this->hasher->hashPassword($user, $password);
        $this->manager->flush();
        $this->write($request, $said);
        $response = new Response($this->twig->render('doors/password.html.twig', ['user' => $user, 'password' => $password]));
        $response->headers->set('Cache-Control', 'no-store');

        return $response;
    }

    private function role(Request $request): string
    {
        $role = $request->request->getString('role');

        return isset(User::ROLES[$role]) ? $role : 'viewer';
    }

    private function write(Request $request, Message $what): void
    {
        $this->trail->write($this->pages->user()->login, (string) $request->getClientIp(), $what);
    }
}
