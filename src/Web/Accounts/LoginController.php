<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Core\Authentication\Token\Storage\TokenStorageInterface;
use Symfony\Component\Security\Http\Authentication\AuthenticationUtils;
use Twig\Environment;
use Vorhut\Entity\User;

final readonly class LoginController
{
    public function __construct(private Environment $twig, private AuthenticationUtils $attempt, private TokenStorageInterface $tokens)
    {
    }

    #[Route('/login', name: 'login', methods: ['GET', 'POST'])]
    public function login(): Response
    {
        if ($this->tokens->getToken()?->getUser() instanceof User) {
            return new RedirectResponse('/');
        }
        $error = $this->attempt->getLastAuthenticationError();

        return new Response(
            $this->twig->render('frame/login.html.twig', ['error' => $error, 'last' => $this->attempt->getLastUsername()]),
            null === $error ? 200 : 401,
        );
    }

    /** The firewall answers here. */
    #[Route('/logout', name: 'logout', methods: ['GET', 'POST'])]
    public function logout(): Response
    {
        return new RedirectResponse('/login');
    }
}
