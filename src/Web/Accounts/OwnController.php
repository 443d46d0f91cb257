<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\PasswordHasher\Hasher\UserPasswordHasherInterface;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Twig\Environment;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Totp;
use Vorhut\Entity\User;
use Vorhut\Journal\AuditTrail;
use Vorhut\Secrets\Secrets;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;

/** One's own password and second factor. */
#[IsGranted('ROLE_GUEST')]
final readonly class OwnController
{
    private const LEAST = 10;
    private const MOST = 200;
    /** Bytes of a secret (RFC 4226 §4). */
    private const SECRET = 20;
    private const HELD = 'vorhut.totp';

    public function __construct(
        private JobPages $pages,
        private EntityManagerInterface $manager,
        private UserPasswordHasherInterface $hasher,
        private Secrets $secrets,
        private SecondFactor $factor,
        private AuditTrail $trail,
        private Security $security,
        private FormFeedback $feedback,
        private Environment $twig,
    ) {
    }

    #[Route('/me', name: 'me', methods: ['GET'])]
    public function page(Request $request): Response
    {
        $held = $this->secrets->openSealed(self::pendingSecret($request));
        $totp = null === $held ? null : Totp::ofBytes($held);
        $uri = $totp?->uri($this->pages->user()->login, 'Vorhut');
        $response = new Response($this->twig->render('doors/me.html.twig', [
            'factor' => null !== $this->pages->user()->totpSealed,
            'secret' => null === $totp ? null : chunk_split((string) $totp, 4, ' '),
            'qr' => null === $uri ? null : (new \TCPDF2DBarcode($uri, 'QRCODE,M'))->getBarcodeSVGcode(4, 4, 'black'),
            'feedback' => $this->feedback->of($request),
        ]));
        $response->headers->set('Cache-Control', 'no-store');

        return $response;
    }

    #[Route('/me/password', name: 'me_password', methods: ['POST'])]
    public function password(Request $request): Response
    {
        $this->pages->checkToken($request);
        $user = $this->pages->user();
        $form = $request->request;
        $new = $form->getString('new');
        $wrong = [];
        if (!$this->knows($user, $form->getString('old'))) {
            $wrong['old'] = new Message('That is not your password.');
        }
        if (mb_strlen($new) < self::LEAST || mb_strlen($new) > self::MOST) {
            $wrong['new'] = new Message('Between {least} and {most} characters.', ['least' => self::LEAST, 'most' => self::MOST]);
        } elseif ($new !== $form->getString('again')) {
            $wrong['again'] = new Message('That is another one than above.');
        }
        if ([] === $wrong) {
            $user->passwordHash = $this->hasher->hashPassword($user, $new);
            $this->manager->flush();
            $this->write($request, new Message('Changed their password.'));
            // Sessions elsewhere with the old password end; this browser stays logged in.
            $this->security->login($user, 'form_login', 'main');
            $this->feedback->tell(new Message('Your password was changed. Wherever else you were in, you are out.'));
        } else {
            $this->feedback->keep('password', [], $wrong);
        }

        return $this->pages->back($request, '/me');
    }

    /** First a secret is shown; it counts when its digits were typed back. */
    #[Route('/me/factor', name: 'me_factor', methods: ['POST'])]
    public function factor(Request $request): Response
    {
        $this->pages->checkToken($request);
        $user = $this->pages->user();
        $do = $request->request->getString('do');
        if ('begin' === $do && null === $user->totpSealed) {
            // A person who finds an open browser must not lock its owner out.
            if (null !== self::pendingSecret($request) || $this->knows($user, $request->request->getString('password'))) {
                $request->getSession()->set(self::HELD, $this->secrets->seal(random_bytes(self::SECRET)));
            } else {
                $this->feedback->keep('factor', [], ['password' => new Message('That is not your password.')]);
            }
        } elseif ('drop' === $do && null !== $user->totpSealed) {
            if ($this->knows($user, $request->request->getString('password'))) {
                $user->totpSealed = null;
                $this->manager->flush();
                $this->write($request, new Message('Put the second factor away.'));
            } else {
                $this->feedback->keep('factor', [], ['password' => new Message('That is not your password.')]);
            }
        } elseif ('keep' === $do && null === $user->totpSealed && null !== self::pendingSecret($request)) {
            $user->totpSealed = self::pendingSecret($request);
            $user->totpStep = 0;
            if ($this->factor->takes($user, $request->request->getString('code'))) {
                $this->manager->flush();
                $request->getSession()->remove(self::HELD);
                $this->write($request, new Message('Set a second factor.'));
                $this->feedback->tell(new Message('Two-factor authentication is on. Each login now needs a code from your app.'));
            } else {
                $this->manager->refresh($user);
                $this->feedback->keep('factor', [], ['code' => new Message('Those are not the digits that it shows just now.')]);
            }
        }

        return $this->pages->back($request, '/me');
    }

    private static function pendingSecret(Request $request): ?string
    {
        $held = $request->getSession()->get(self::HELD);

        return \is_string($held) ? $held : null;
    }

    private function knows(User $user, string $password): bool
    {
        return '' !== $password && mb_strlen($password) <= self::MOST && $this->hasher->isPasswordValid($user, $password);
    }

    private function write(Request $request, Message $what): void
    {
        $this->trail->write($this->pages->user()->login, (string) $request->getClientIp(), $what);
    }
}
