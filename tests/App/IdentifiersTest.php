<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use PHPUnit\Framework\Attributes\TestWith;
use Symfony\Component\PasswordHasher\Hasher\PasswordHasherFactoryInterface;
use Symfony\Component\Routing\Route;
use Symfony\Component\Routing\RouterInterface;
use Vorhut\Entity\JobAccess;
use Vorhut\Entity\User;
use Vorhut\Tests\Support\ApplicationTestCase;

/** Another spelling of an identifier is another identifier: in case, accent, blanks and Unicode form. */
final class IdentifiersTest extends ApplicationTestCase
{
    private const VALUES = [
        '{section}' => 'segments', '{what}' => 'addresses', '{device}' => 'cam-1', '{form}' => 'csv', '{login}' => 'test-lead',
        '{code}' => 'ptz-camera', '{key}' => 'cameras', '{id}' => '1', '{mac}' => '00005e005301', '{shape}' => 'xml',
        '{fingerprint}' => '0000',
    ];

    /** @return list<string> as they stand in a URL */
    private static function spellings(string $identifier): array
    {
        $accented = strtr($identifier, ['o' => 'ó', 'e' => 'é', 'a' => 'á']);

        return array_map(rawurlencode(...), array_values(array_filter([
            strtoupper($identifier),
            ucfirst($identifier),
            $accented,
            // Decomposed: a letter, and then its accent.
            str_replace(['ó', 'é', 'á'], ["o\u{301}", "e\u{301}", "a\u{301}"], $accented),
            $identifier.' ',
            ' '.$identifier,
            $identifier."\u{00A0}",
            $identifier."\0",
            // Fullwidth letters, which are compatible with the usual ones (NFKC).
            (string) preg_replace_callback('/[a-z]/', static fn (array $of): string => mb_chr(0xFEE0 + \ord($of[0])), $identifier),
        ], static fn (string $one): bool => $one !== $identifier)));
    }

    private static function path(Route $route, string $name, string $value): string
    {
        return strtr($route->getPath(), [$name => $value] + self::VALUES);
    }

    private static function method(Route $route): string
    {
        return \in_array('GET', $route->getMethods(), true) ? 'GET' : 'POST';
    }

    /** @return iterable<string, Route> routes with a place in their path */
    private static function routesWith(string $place): iterable
    {
        foreach (self::service(RouterInterface::class)->getRouteCollection() as $name => $route) {
            if (str_contains($route->getPath(), $place)) {
                yield $name => $route;
            }
        }
    }

    public function testNoRouteOpensAJobUnderAnotherSpelling(): void
    {
        $job = $this->jobOf('museum');
        $this->browser->loginUser($this->user('lead'));
        $token = (string) $this->browser->request('GET', '/j/'.$job->slug.'/brief')->filter('input[name=_token]')->first()->attr('value');
        self::assertNotSame('', $token);
        $revision = $this->fresh($job)->revision;
        $asked = 0;
        $opened = [];
        foreach (self::routesWith('{slug}') as $name => $route) {
            foreach (self::spellings($job->slug) as $slug) {
                $this->browser->request(self::method($route), self::path($route, '{slug}', $slug), ['_token' => $token]);
                $status = $this->browser->getResponse()->getStatusCode();
                if (!\in_array($status, [400, 404], true)) {
                    $opened[$name] = "$name as $slug: $status";
                }
                ++$asked;
            }
        }
        self::assertSame([], array_values($opened));
        self::assertGreaterThan(400, $asked);
        self::assertSame($revision, $this->fresh($job)->revision);
    }

    public function testWhoHasNoRoleInAJobGetsNoneBySpellingItOtherwise(): void
    {
        $job = $this->jobOf('museum');
        $user = $this->user('technician');
        $manager = self::service(EntityManagerInterface::class);
        $manager->persist(new JobAccess($job, $user, 'guest'));
        $manager->flush();
        $this->browser->loginUser($user);
        foreach ([rawurlencode($job->slug), ...self::spellings($job->slug)] as $slug) {
            $this->browser->request('GET', "/j/$slug/brief");
            self::assertContains($this->browser->getResponse()->getStatusCode(), [400, 403, 404], $slug);
        }
    }

    public function testNobodyIsChangedUnderAnotherSpelling(): void
    {
        $lead = $this->user('lead');
        $this->browser->loginUser($lead);
        $token = (string) $this->browser->request('GET', '/people')->filter('input[name=_token]')->first()->attr('value');
        foreach (self::spellings($lead->login) as $login) {
            $this->browser->request('POST', '/people/'.$login, ['_token' => $token, 'do' => 'off']);
            self::assertContains($this->browser->getResponse()->getStatusCode(), [400, 404], $login);
        }
        $manager = self::service(EntityManagerInterface::class);
        self::assertEquals(1, $manager->getConnection()->fetchOne('SELECT is_active FROM app_user WHERE login = ?', [$lead->login]));
    }

    #[TestWith([' Test-LEAD '])]
    #[TestWith(['TEST-lead'])]
    public function testALoginIsTakenHoweverItIsTyped(string $typed): void
    {
        $user = $this->user('lead');
        $user->passwordHash = self::service(PasswordHasherFactoryInterface::class)->getPasswordHasher(User::class)->hash('right');
        self::service(EntityManagerInterface::class)->flush();
        $this->knock($typed, 'right');
        self::assertStringEndsNotWith('/login', (string) $this->browser->getResponse()->headers->get('Location'));
    }

    public function testGuessesAtOneLoginAreCountedTogetherHoweverItIsSpelled(): void
    {
        $user = $this->user('viewer');
        $user->passwordHash = self::service(PasswordHasherFactoryInterface::class)->getPasswordHasher(User::class)->hash('right');
        self::service(EntityManagerInterface::class)->flush();
        foreach (['test-viewer', 'TEST-VIEWER', ' test-viewer', 'Test-Viewer ', 'tEST-viewer', 'test-VIEWER', 'teST-viewer'] as $name) {
            $this->knock($name, 'wrong');
        }
        $this->knock('test-viewer', 'right');
        self::assertStringEndsWith('/login', (string) $this->browser->getResponse()->headers->get('Location'));
        self::assertStringContainsString('Too many', $this->browser->followRedirect()->filter('body')->text());
        // Another spelling by accents is nobody, and no way round the count.
        self::assertNull(self::service(EntityManagerInterface::class)->getRepository(User::class)->findOneBy(['login' => 'tést-viewer']));
    }

    private function knock(string $name, string $password): void
    {
        $page = $this->browser->request('GET', '/login');
        $this->browser->submit($page->filter('form')->form(), ['_username' => $name, '_password' => $password]);
    }

    public function testEveryTextColumnIsComparedOctetByOctet(): void
    {
        $connection = self::service(EntityManagerInterface::class)->getConnection();
        $loose = $connection->fetchFirstColumn(
            'SELECT CONCAT(table_name, ".", column_name, " ", collation_name) FROM information_schema.columns '
                .'WHERE table_schema = DATABASE() AND collation_name IS NOT NULL AND collation_name NOT IN ("utf8mb4_nopad_bin") '
                .'AND table_name <> "doctrine_migration_versions"',
        );
        self::assertSame([], $loose);
    }
}
