<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Symfony\Component\DomCrawler\Crawler;
use Vorhut\Secrets\Vault;
use Vorhut\Tests\Support\JobPagesTestCase;

/** Further logins of a device by its page: written down, shown on demand, made, taken away, never made up. */
final class LoginsTest extends JobPagesTestCase
{
    private const SHEET = 'bench?sel=devices/cam-01';

    /**
     * @param array<string, string> $hidden
     * @param array<string, string> $typed
     */
    private function sent(string $action, array $hidden, array $typed): Crawler
    {
        $this->page(self::SHEET);
        $this->send($action, $hidden, $typed);

        return $this->browser->followRedirect();
    }

    public function testALoginIsWrittenDownShownAndTakenAway(): void
    {
        $this->enter('technician');
        $page = $this->sent('/bench/login', ['device' => 'cam-01'], ['purpose' => 'Two words', 'secret' => 'S3cret-9']);
        self::assertStringContainsString('one word', $page->filter('#logins .wrong')->text());
        self::assertSame('Two words', $page->filter('#logins input[name=purpose]')->attr('value'), 'nothing typed is lost');
        self::assertSame('', $page->filter('#logins input[name=secret]')->attr('value'), 'but the password');

        $page = $this->sent('/bench/login', ['device' => 'cam-01'], ['purpose' => 'viewer', 'user' => 'look', 'secret' => 'S3cret-9']);
        self::assertStringNotContainsString('S3cret-9', $page->html());
        self::assertStringContainsString('look', $page->filter('#logins tbody')->text());
        $page = $this->sent('/bench/secret', ['owner' => 'devices/cam-01'], ['purpose' => 'viewer']);
        self::assertStringContainsString('S3cret-9', $page->filter('#logins tbody')->text());

        $this->sent('/bench/login', ['device' => 'cam-01'], ['purpose' => 'viewer', 'user' => 'look', 'do' => 'make']);
        $made = self::service(Vault::class)->secretOf($this->fresh($this->job), 'devices/cam-01', 'viewer');
        self::assertNotSame('S3cret-9', $made);
        self::assertSame(Vault::SIP_LENGTH, \strlen((string) $made));

        $page = $this->sent('/bench/login', ['device' => 'cam-01', 'purpose' => 'viewer'], ['do' => 'drop']);
        self::assertCount(0, $page->filter('#logins tbody'));
        $this->sent('/undo', [], []);
        self::assertStringContainsString('not stored here', $this->page(self::SHEET)->filter('#logins tbody')->text());
        self::service(Vault::class)->fill($this->fresh($this->job), $this->plan($this->fresh($this->job)), 'Jo');
        self::assertNull(
            self::service(Vault::class)->secretOf($this->fresh($this->job), 'devices/cam-01', 'viewer'),
            'no undoing makes a password up',
        );
    }
}
