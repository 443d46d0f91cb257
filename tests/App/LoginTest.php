<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\BrowserKit\Cookie;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\PasswordHasher\Hasher\PasswordHasherFactoryInterface;
use Symfony\Component\PasswordHasher\PasswordHasherInterface;
use Symfony\Component\Security\Core\Exception\AuthenticationException;
use Symfony\Component\Security\Core\Exception\BadCredentialsException;
use Symfony\Component\Security\Core\Exception\UserNotFoundException;
use Symfony\Component\Security\Http\Authenticator\AuthenticatorInterface;
use Symfony\Component\Security\Http\Event\LoginFailureEvent;
use Vorhut\Entity\User;
use Vorhut\Tests\Support\ApplicationTestCase;
use Vorhut\Web\Accounts\ConstantTimeLogin;

/** The door: what one mistypes holds up nobody else, and it does not tell who is here. */
final class LoginTest extends ApplicationTestCase
{
    private function knock(string $name, string $password): string
    {
        $page = $this->browser->request('GET', '/login');
        $this->browser->submit($page->filter('form')->form(), ['_username' => $name, '_password' => $password]);

        return (string) $this->browser->getResponse()->headers->get('Location');
    }

    public function testWhatOneMistypesHoldsUpNobodyElseAtThatAddress(): void
    {
        $user = $this->user('lead');
        $hasher = self::service(PasswordHasherFactoryInterface::class)->getPasswordHasher(User::class);
        $user->passwordHash = $hasher->hash('right');
        self::service(EntityManagerInterface::class)->flush();
        $nobody = 'nobody-'.bin2hex(random_bytes(4));
        for ($try = 0; $try < 40; ++$try) {
            self::assertStringEndsWith('/login', $this->knock($nobody, 'guess '.$try));
        }
        self::assertStringContainsString('Too many', $this->browser->followRedirect()->filter('main, body')->text());
        self::assertStringEndsNotWith('/login', $this->knock($user->login, 'right'));
    }

    public function testAScriptWithoutALoginGetsNoSessionThatCouldOverwriteALogin(): void
    {
        foreach (['/', '/me'] as $path) {
            foreach ([null, 'a-session-that-has-expired'] as $cookie) {
                $this->browser->restart();
                if (null !== $cookie) {
                    $this->browser->getCookieJar()->set(new Cookie('MOCKSESSID', $cookie));
                }
                $this->browser->request('GET', $path, server: ['HTTP_HX_REQUEST' => 'true']);
                $response = $this->browser->getResponse();
                self::assertSame([401, []], [$response->getStatusCode(), $response->headers->getCookies()], $path);
            }
        }
        $this->browser->request('GET', '/');
        self::assertStringEndsWith('/login', (string) $this->browser->getResponse()->headers->get('Location'));
    }

    public function testANameThatNobodyHasCostsWhatAWrongPasswordCosts(): void
    {
        $counting = new class implements PasswordHasherInterface, PasswordHasherFactoryInterface {
            public int $made = 0;

            public function getPasswordHasher(mixed $user): PasswordHasherInterface
            {
                return $this;
            }

            public function hash(string $plainPassword): string
            {
                ++$this->made;

                return 'x';
            }

            public function verify(string $hashedPassword, string $plainPassword): bool
            {
                return false;
            }

            public function needsRehash(string $hashedPassword): bool
            {
                return false;
            }
        };
        $even = new ConstantTimeLogin($counting);
        $event = static fn (AuthenticationException $e) => new LoginFailureEvent(
            $e,
            self::createStub(AuthenticatorInterface::class),
            new Request(),
            null,
            'main',
        );
        $even($event(new BadCredentialsException('')));
        self::assertSame(0, $counting->made);
        $unknown = new UserNotFoundException();
        $even($event(new BadCredentialsException('', 0, $unknown)));
        self::assertSame(1, $counting->made);
    }
}
