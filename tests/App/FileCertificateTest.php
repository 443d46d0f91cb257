<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\DomCrawler\Crawler;
use Vorhut\Core\Net\Host;
use Vorhut\Core\Net\HostName;
use Vorhut\Core\Wire\Tls\CertificateChain;
use Vorhut\Entity\User;
use Vorhut\Provisioning\FastPath;
use Vorhut\Provisioning\FileRequest;
use Vorhut\Secrets\Authority;
use Vorhut\Secrets\FileCertificates;
use Vorhut\Secrets\Secrets;
use Vorhut\Secrets\Vault;
use Vorhut\Tests\Support\JobPagesTestCase;

/** Files over HTTPS under a certificate of the job: made, given, renewed, dropped; and what is handed to whom by then. */
final class FileCertificateTest extends JobPagesTestCase
{
    private const HOST = 'files.quay.example';
    private const MAC = '00005e005304';

    protected function enter(string $role = 'lead', string $demo = 'port'): void
    {
        parent::enter($role, $demo);
        self::service(Vault::class)->fill($this->fresh($this->job), $this->plan($this->job), 'Mara');
    }

    /** @param array<string, string> $form */
    private function change(array $form): Crawler
    {
        $token = (string) $this->page('services')->filter('input[name=_token]')->first()->attr('value');
        $this->browser->request('POST', '/j/'.$this->job->slug.'/services/certificate', $form + ['_token' => $token]);

        return $this->browser->followRedirect();
    }

    private function ask(bool $isSealed, string $path = ''): int
    {
        $this->browser->request('GET', $path ?: '/p/'.$this->job->fileToken.'/'.self::MAC.'.xml', server: [
            'REMOTE_ADDR' => '10.64.20.31',
            'HTTPS' => $isSealed,
        ]);

        return $this->browser->getResponse()->getStatusCode();
    }

    private function quickly(bool $isSealed): ?int
    {
        $database = self::service(EntityManagerInterface::class)->getConnection()->getNativeConnection();
        self::assertInstanceOf(\PDO::class, $database);
        $path = '/p/'.$this->job->fileToken.'/'.self::MAC.'.xml';
        $question = FileRequest::tryOf('GET', $path, '10.64.20.31', 'Phone', false, $isSealed);
        self::assertNotNull($question);

        return (new FastPath($database, self::service(Secrets::class)))->answer($question, time())?->status;
    }

    /** @return array{CertificateChain, string} what is shown, and the authority's fingerprint as the job has it */
    private function kept(): array
    {
        $job = $this->fresh($this->job);
        $kept = self::service(FileCertificates::class)->of($job);
        self::assertNotNull($kept);

        return [$kept->chain, (string) $job->filesAuthority];
    }

    public function testMadeHereItIsShownAndNothingGoesInTheClearAnyMore(): void
    {
        $this->enter();
        self::assertStringContainsString('unencrypted', $this->page('services')->filter('#certificate')->text());
        self::assertSame(200, $this->ask(false));
        self::assertSame(200, $this->quickly(false));
        $page = $this->change(['do' => 'make', 'host' => ' Files.Quay.Example ', 'port' => '8443']);
        self::assertStringContainsString(self::HOST.':8443', $page->filter('#certificate')->text());
        [$chain, $authority] = $this->kept();
        self::assertSame([self::HOST], $chain->names);
        self::assertSame($authority, $chain->authority());
        self::assertStringNotContainsString('PRIVATE', $page->html());

        self::assertSame([403, null], [$this->ask(false), $this->quickly(false)]);
        self::assertSame([200, 200], [$this->ask(true), $this->quickly(true)]);
        $board = $this->page('services')->filter('#board')->text();
        self::assertStringContainsString('took file', $board);
        $rows = $this->plan($this->job)->rows('fetches');
        $refused = array_filter(
            $rows,
            static fn (array $row): bool => [403, '10.64.20.31'] === [$row['status'] ?? 0, $row['address'] ?? ''],
        );
        self::assertStringContainsString('serves files over HTTPS only', json_encode(array_values($refused), \JSON_THROW_ON_ERROR));

        $sheet = $this->page('bench?sel=devices/ph-01')->html();
        self::assertStringContainsString('https://'.self::HOST.':8443/p/', $sheet);
        self::assertStringContainsString('/authority/'.substr($authority, 0, 16).'.pem', $sheet);
        self::assertStringContainsString('https://'.self::HOST.':8443/p/', $this->page('networks/ask')->html(), 'option 66');
    }

    public function testPhonesLoadTheAuthorityWithoutALogin(): void
    {
        $this->enter();
        $this->change(['do' => 'make', 'host' => self::HOST]);
        [, $authority] = $this->kept();
        $this->browser->restart();
        self::assertSame(200, $this->ask(false, '/authority/'.$authority.'.cer'));
        self::assertSame($authority, hash('sha256', (string) $this->browser->getResponse()->getContent()), 'DER, as its name says');
        self::assertSame(200, $this->ask(false, '/authority/'.$authority.'.pem'));
        $pem = (string) $this->browser->getResponse()->getContent();
        self::assertSame($authority, openssl_x509_fingerprint($pem, 'sha256'));
        self::assertStringNotContainsString('PRIVATE', $pem);
        self::assertSame(404, $this->ask(false, '/authority/'.str_repeat('a', 64).'.pem'));
    }

    public function testRenewedTheAuthorityStaysAndSoDoesWhatPhonesWereTold(): void
    {
        $this->enter();
        $this->change(['do' => 'make', 'host' => self::HOST]);
        [$first, $authority] = $this->kept();
        $this->change(['do' => 'make', 'host' => 'phones.nordmole.example']);
        [$second, $same] = $this->kept();
        self::assertSame($authority, $same);
        self::assertNotSame($first->fingerprints[0], $second->fingerprints[0]);
        self::assertSame(['phones.nordmole.example'], $second->names);
        self::service(Vault::class)->changeKey();
        self::assertSame($second->fingerprints, $this->kept()[0]->fingerprints, 'sealed under another key');
        $this->change(['do' => 'drop']);
        self::assertNull(self::service(FileCertificates::class)->of($this->fresh($this->job)));
        self::assertSame(200, $this->ask(false));
        $this->change(['do' => 'make', 'host' => self::HOST]);
        self::assertNotSame($authority, $this->kept()[1], 'its key is gone for good');
    }

    public function testTakenBackItIsAsBeforeAndWhatIsNotHereIsSaid(): void
    {
        $this->enter();
        $this->change(['do' => 'make', 'host' => self::HOST]);
        $lead = self::service(EntityManagerInterface::class)->getRepository(User::class)->findOneBy(['login' => 'test-lead']);
        self::assertNotNull($lead);
        $job = $this->fresh($this->job);
        $entry = $this->undoStack()->undoable($job, $lead);
        self::assertNotNull($entry);
        $undone = $this->undoStack()->undo($job, $entry, $lead);
        self::assertSame(200, $this->ask(false));
        $this->undoStack()->undo($this->fresh($this->job), $undone, $lead);
        self::assertSame(200, $this->ask(true), 'it lay there all the time');
        $this->change(['do' => 'drop']);
        $last = $this->undoStack()->undoable($this->fresh($this->job), $lead);
        self::assertNotNull($last);
        $this->undoStack()->undo($this->fresh($this->job), $last, $lead);
        self::assertStringContainsString('certificate is missing', $this->page('services')->filter('#certificate')->text());
    }

    /**
     * @param array<string, string> $with
     *
     * @return array<string, string> a form that gives a certificate
     */
    private static function given(string $chain, string $key, array $with = []): array
    {
        return $with + ['do' => 'take', 'host' => self::HOST, 'chain' => $chain, 'key' => $key];
    }

    /** @return iterable<string, array{array<string, string>, string}> */
    public static function refused(): iterable
    {
        $authority = Authority::fresh('the site');
        $server = $authority->issue(HostName::fromString(self::HOST));
        $both = $server->certificate.$authority->certificate;
        yield 'no name' => [['do' => 'make', 'host' => ''], 'A host name is missing'];
        yield 'no name of a host' => [['do' => 'make', 'host' => 'a b'], 'is not a host name'];
        yield 'no port' => [['do' => 'make', 'host' => self::HOST, 'port' => '70000'], 'is not a port'];
        yield 'a name of another job' => [['do' => 'make', 'host' => 'files.museum.example'], 'asked for by this name already'];
        yield 'two jobs by an address' => [['do' => 'make', 'host' => '10.64.10.9'], 'asked for by this name already'];
        yield 'a key of another' => [self::given($both, $authority->key), 'does not belong to the first certificate'];
        yield 'no key' => [self::given($both, 'x'), 'not a key in PEM'];
        $other = ['host' => 'other.nordmole.example'];
        yield 'another name' => [self::given($both, $server->key, $other), 'is for files.quay.example'];
        yield 'nobody to trust' => [self::given($server->certificate, $server->key), 'The last certificate must be self-signed'];
        $turned = $authority->certificate.$server->certificate;
        yield 'the wrong order' => [self::given($turned, $server->key), 'is not signed by the one that follows'];
        yield 'nothing' => [self::given('', $server->key), 'One to 6 certificates'];
    }

    /** @param array<string, string> $form */
    #[DataProvider('refused')]
    public function testWhatPhonesCouldNotFollowIsRefusedWhereItWasTyped(array $form, string $why): void
    {
        $this->enter();
        $other = $this->jobOf('museum');
        $taken = str_contains($form['host'], '10.') ? '192.0.2.5' : 'files.museum.example';
        self::service(FileCertificates::class)->make($this->fresh($other), Host::fromString($taken), null, 'Mara');
        $page = $this->change($form);
        $part = $page->filter('#certificate');
        self::assertStringContainsString(str_contains($form['host'], '10.') ? 'asked for by an address already' : $why, $part->text());
        self::assertSame($form['host'], $part->filter('input[name=host]')->attr('value'));
        self::assertSame(trim($form['chain'] ?? ''), trim($part->filter('textarea[name=chain]')->text('', false)));
        self::assertStringNotContainsString('PRIVATE KEY', $page->html(), 'a key is shown to nobody, nor kept for a form');
        self::assertNull($this->fresh($this->job)->filesAuthority);
    }

    public function testOneThatWasGivenIsTakenAndIsNotRenewedHere(): void
    {
        $this->enter();
        $authority = Authority::fresh('the site');
        $server = $authority->issue(HostName::fromString(self::HOST));
        $both = $server->certificate.$authority->certificate;
        $page = $this->change(['do' => 'take', 'host' => self::HOST, 'chain' => $both, 'key' => $server->key]);
        self::assertStringContainsString('Create certificate', $page->filter('#certificate')->text());
        [$chain, $fingerprint] = $this->kept();
        self::assertSame(CertificateChain::fromPem($authority->certificate)->authority(), $fingerprint);
        self::assertSame([self::HOST], $chain->names);
    }
}
