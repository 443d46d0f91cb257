<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use PHPUnit\Framework\Attributes\TestWith;
use Symfony\Component\DomCrawler\Crawler;
use Symfony\Component\PasswordHasher\Hasher\UserPasswordHasherInterface;
use Vorhut\Core\Wire\Totp;
use Vorhut\Entity\AuditEvent;
use Vorhut\Entity\JobAccess;
use Vorhut\Entity\User;
use Vorhut\Journal\AuditTrail;
use Vorhut\Tests\Support\ApplicationTestCase;

/** Who comes in, as what, into which job; and what is written down of it. */
final class DoorsTest extends ApplicationTestCase
{
    private function named(string $login): User
    {
        $user = self::service(EntityManagerInterface::class)->getRepository(User::class)->findOneBy(['login' => $login]);
        self::assertNotNull($user);

        return $user;
    }

    private function withPassword(string $role, string $password): User
    {
        $user = $this->user($role);
        $user->passwordHash = self::service(UserPasswordHasherInterface::class)->hashPassword($user, $password);
        self::service(EntityManagerInterface::class)->flush();

        return $user;
    }

    private function knock(string $login, string $password, string $code = ''): string
    {
        $this->browser->restart();
        $page = $this->browser->request('GET', '/login');
        $this->browser->submit($page->filter('form')->form(), ['_username' => $login, '_password' => $password, '_code' => $code]);
        $to = (string) $this->browser->getResponse()->headers->get('Location');

        return str_ends_with($to, '/login') ? $this->browser->followRedirect()->filter('.wrong')->text() : '';
    }

    /**
     * @param array<string, string> $hidden
     * @param array<string, string> $typed
     */
    private function sent(string $page, string $action, array $hidden, array $typed): Crawler
    {
        $this->browser->request('GET', $page);
        $this->send($action, $hidden, $typed);

        return $this->browser->getResponse()->isRedirect() ? $this->browser->followRedirect() : $this->browser->getCrawler();
    }

    private function answers(string $path): int
    {
        $this->browser->request('GET', $path);

        return $this->browser->getResponse()->getStatusCode();
    }

    public function testWhoIsSwitchedOffIsOutAtTheNextLookAndComesInNoMore(): void
    {
        $tech = $this->withPassword('technician', 'right');
        self::assertSame('', $this->knock($tech->login, 'right'));
        self::assertSame(200, $this->answers('/'));
        $tech = $this->named($tech->login);
        $tech->isActive = false;
        self::service(EntityManagerInterface::class)->flush();
        self::assertSame(302, $this->answers('/'));
        self::assertStringContainsString('disabled', $this->knock($tech->login, 'right'));
        self::assertStringNotContainsString('disabled', $this->knock($tech->login, 'wrong'), 'nobody else is told');
    }

    public function testTheLeadLetsPeopleInAndHandsOutAPasswordOnce(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $page = $this->sent('/people', '/people/new', [], ['login' => 'No Such', 'name' => 'Ada']);
        self::assertStringContainsString('lower-case', $page->filter('.wrong')->text());
        self::assertSame('Ada', $page->filter('input[name=name]')->attr('value'));
        $page = $this->sent('/people', '/people/new', [], ['login' => 'ada.new', 'name' => 'Ada', 'role' => 'guest']);
        $password = $page->filter('.addr')->text();
        self::assertStringContainsString('no-store', (string) $this->browser->getResponse()->headers->get('Cache-Control'));
        $page = $this->sent('/people', '/people/ada.new', [], ['do' => 'off']);
        self::assertFalse($this->named('ada.new')->isActive);
        self::assertStringContainsString('disabled', $page->filter('main')->text());
        $this->sent('/people', '/people/ada.new', [], ['do' => 'on']);
        $this->sent('/people', '/people/ada.new', [], ['do' => 'role', 'role' => 'viewer']);
        self::assertSame('viewer', $this->named('ada.new')->role);
        self::assertSame('', $this->knock('ada.new', $password));
        self::assertSame(403, $this->answers('/people'));
    }

    public function testNobodyMakesThemselvesLess(): void
    {
        $lead = $this->user('lead');
        $this->browser->loginUser($lead);
        $token = $this->browser->request('GET', '/people')->filter('input[name=_token]')->first()->attr('value');
        foreach ([['do' => 'off'], ['do' => 'role', 'role' => 'viewer']] as $form) {
            $this->browser->request('POST', '/people/'.$lead->login, $form + ['_token' => $token, '_back' => '/people']);
            self::assertStringContainsString('You cannot disable yourself', $this->browser->followRedirect()->filter('.said')->text());
        }
        self::assertTrue($this->named($lead->login)->isActive);
        self::assertSame('lead', $this->named($lead->login)->role);
    }

    public function testInAJobOneIsWhatThatJobSays(): void
    {
        $port = $this->jobOf();
        $museum = $this->jobOf('museum');
        $manager = self::service(EntityManagerInterface::class);
        $viewer = $this->user('viewer');
        $guest = $this->user('guest');
        foreach ([[$port, $viewer, 'lead'], [$museum, $viewer, JobAccess::NONE], [$museum, $guest, 'technician']] as [$job, $user, $role]) {
            $manager->persist(new JobAccess($this->fresh($job), $this->named($user->login), $role));
        }
        $manager->flush();

        $this->browser->loginUser($viewer);
        $shelf = $this->browser->request('GET', '/');
        self::assertCount(1, $shelf->filter('a[href="/j/'.$port->slug.'/brief"]'));
        self::assertCount(0, $shelf->filter('a[href="/j/'.$museum->slug.'/brief"]'), 'it is not even named');
        self::assertSame(403, $this->answers('/j/'.$museum->slug.'/brief'));
        self::assertSame(403, $this->answers('/j/'.$museum->slug.'/handover'));
        $page = $this->browser->request('GET', '/j/'.$port->slug.'/brief');
        self::assertGreaterThan(5, $page->filter('input[name=field]')->count(), 'there the fields are open');
        $token = $page->filter('input[name=_token]')->first()->attr('value');
        $edit = ['_token' => $token, '_back' => '/', 'record' => 'job/', 'field' => 'domain', 'before' => 'nordmole.example'];
        $edit['value'] = 'a.example';
        $this->browser->request('POST', '/j/'.$port->slug.'/edit', $edit);
        self::assertSame('a.example', $this->plan($port)->job->text('domain'));
        self::assertSame(403, $this->answers('/people'), 'and nowhere else');

        $this->browser->loginUser($guest);
        self::assertCount(1, $this->browser->request('GET', '/')->filter('.jobcard'));
        self::assertSame(200, $this->answers('/j/'.$museum->slug.'/bench'));
        self::assertSame(403, $this->answers('/j/'.$port->slug.'/bench'));
    }

    public function testASecondFactorIsSetByItsDigitsAskedForAndTakenOnce(): void
    {
        $tech = $this->withPassword('technician', 'right');
        $this->browser->loginUser($tech);
        $page = $this->sent('/me', '/me/factor', [], ['do' => 'begin', 'password' => 'wrong']);
        self::assertStringContainsString('not your password', $page->filter('.wrong')->text(), 'an open browser is not enough');
        self::assertCount(0, $page->filter('.qr'));
        $page = $this->sent('/me', '/me/factor', [], ['do' => 'begin', 'password' => 'right']);
        $totp = Totp::fromString($page->filter('.addr')->text());
        self::assertGreaterThan(0, $page->filter('.qr svg')->count());
        $wrong = '000000' === $totp->at(time()) ? '000001' : '000000';
        $page = $this->sent('/me', '/me/factor', [], ['do' => 'keep', 'code' => $wrong]);
        self::assertStringContainsString('not the digits', $page->filter('.wrong')->text());
        self::assertNull($this->named($tech->login)->totpSealed);
        $page = $this->sent('/me', '/me/factor', [], ['do' => 'keep', 'code' => $totp->at(time())]);
        self::assertStringContainsString('Two-factor authentication is on', $page->filter('.said')->text());

        self::assertStringContainsString('six digits', $this->knock($tech->login, 'right'));
        self::assertStringNotContainsString('six digits of your', $this->knock($tech->login, 'wrong'));
        self::assertNotSame('', $this->knock($tech->login, 'right', $totp->at(time())), 'they were taken when it was set');
        self::assertSame('', $this->knock($tech->login, 'right', $totp->at(time() + Totp::STEP)), 'a clock may be ahead');
        self::assertNotSame('', $this->knock($tech->login, 'right', $totp->at(time() + Totp::STEP)), 'and each is taken once');

        // The clock was a day ahead when the last digits were taken, and was set right since.
        $manager = self::service(EntityManagerInterface::class);
        $this->named($tech->login)->totpStep = intdiv(time() + 86400, Totp::STEP);
        $manager->flush();
        self::assertSame('', $this->knock($tech->login, 'right', $totp->at(time())), 'nobody is locked out by it');
        self::assertNotSame('', $this->knock($tech->login, 'right', $totp->at(time())), 'and each is taken once as before');
        self::assertStringContainsString(
            'The clock of this server was set back',
            implode(' ', array_map(
                static fn ($event): string => (string) json_encode($event->what),
                self::service(AuditTrail::class)->latest(),
            )),
        );

        $this->browser->loginUser($this->named($tech->login));
        $this->sent('/me', '/me/factor', [], ['do' => 'drop', 'password' => 'wrong']);
        self::assertNotNull($this->named($tech->login)->totpSealed);
        $this->sent('/me', '/me/factor', [], ['do' => 'drop', 'password' => 'right']);
        self::assertNull($this->named($tech->login)->totpSealed);
    }

    public function testAPasswordIsChangedByWhoKnowsIt(): void
    {
        $tech = $this->withPassword('technician', 'right');
        self::assertSame('', $this->knock($tech->login, 'right'));
        $page = $this->sent('/me', '/me/password', [], ['old' => 'wrong', 'new' => 'short', 'again' => 'short']);
        self::assertSame(2, $page->filter('.wrong')->count());
        $page = $this->sent('/me', '/me/password', [], ['old' => 'right', 'new' => 'long enough 1', 'again' => 'long enough 2']);
        self::assertStringContainsString('another one', $page->filter('.wrong')->text());
        $page = $this->sent('/me', '/me/password', [], ['old' => 'right', 'new' => 'long enough 1', 'again' => 'long enough 1']);
        self::assertStringContainsString('was changed', $page->filter('.said')->text());
        self::assertSame(200, $this->answers('/'), 'this browser stays in');
        self::assertNotSame('', $this->knock($tech->login, 'right'));
        self::assertSame('', $this->knock($tech->login, 'long enough 1'));
    }

    public function testWhatHappensAtTheDoorsIsWrittenDown(): void
    {
        $tech = $this->withPassword('technician', 'right');
        $this->knock($tech->login, 'wrong');
        $this->knock($tech->login, 'wrong');
        $this->knock($tech->login, 'right');
        $trail = self::service(AuditTrail::class);
        self::assertSame(
            [[$tech->login, 'Logged in.'], [$tech->login, 'Login refused.']],
            array_map(static fn (AuditEvent $one): array => [$one->login, $one->what], $trail->latest(2)),
            'the same again within a minute is no news',
        );
        $this->knock("o'<b>x", 'y');
        $this->browser->loginUser($this->user('lead'));
        self::assertStringContainsString("o'<b>x", $this->browser->request('GET', '/people')->filter('main')->text());
        self::assertSame(0, $trail->forget());
    }

    #[TestWith(['elsewhere.example'])]
    #[TestWith(['127.0.0.1.elsewhere.example'])]
    public function testUnderAnotherNameNobodyAnswers(string $host): void
    {
        $this->browser->request('GET', '/login', server: ['HTTP_HOST' => $host]);
        self::assertSame(421, $this->browser->getResponse()->getStatusCode());
        $this->browser->request('GET', '/login', server: ['HTTP_HOST' => '127.0.0.1:8400']);
        self::assertSame(200, $this->browser->getResponse()->getStatusCode());
    }
}
