<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use PHPUnit\Framework\Attributes\Group;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Vorhut\Application\ImportJob;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Sample\SampleJob;
use Vorhut\Tests\Support\ApplicationTestCase;

/** What a page of a large job costs: questions to the database and bytes, both without regard to how large it is. */
#[Group('wide')]
final class SizeTest extends ApplicationTestCase
{
    private const PAGES = [
        'networks/reach', 'networks/rules', 'networks/ranges', 'networks/groups', 'networks/ipv6', 'networks/ask', 'services/calls',
        'services/links', 'services/streams', 'services/power', 'services/light', 'services/sound',
        'brief', 'networks', 'devices', 'bench', 'bench/along', 'services', 'proof', 'handover'];
    private const QUESTIONS = 20;
    private const BYTES = 500 * 1024;

    public function testAPageAsksTheDatabaseAFewTimesHoweverLargeTheJobIs(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $asked = [];
        foreach ([60, 520] as $devices) {
            $slug = $this->laidIn($devices);
            foreach (self::PAGES as $page) {
                $this->browser->request('GET', "/j/$slug/$page");
                $before = $this->questions();
                $this->browser->request('GET', "/j/$slug/$page");
                self::assertSame(200, $this->browser->getResponse()->getStatusCode(), $page);
                $asked[$page][] = $this->questions() - $before;
                self::assertLessThan(self::BYTES, \strlen((string) $this->browser->getResponse()->getContent()), "$page of $devices");
            }
            // An open page asks whether anything is new, and the plan is not loaded for that.
            preg_match('/X-Since": "([^"]+)"/', html_entity_decode((string) $this->browser->getResponse()->getContent()), $since);
            $before = $this->questions();
            $this->browser->request('GET', "/j/$slug/handover", server: ['HTTP_X_SINCE' => $since[1] ?? '']);
            self::assertSame(204, $this->browser->getResponse()->getStatusCode());
            self::assertLessThanOrEqual(6, $this->questions() - $before);
        }
        foreach ($asked as $page => [$small, $large]) {
            self::assertLessThanOrEqual(self::QUESTIONS, $large, $page);
            self::assertSame($small, $large, "$page: not one more for a larger job");
        }
    }

    public function testALargeJobKeepsNobodyWaitingForTheShelf(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $slug = $this->laidIn(520);
        $shelf = $this->browser->request('GET', '/');
        self::assertCount(1, $shelf->filter("[data-card='/j/$slug/card']"));
        self::assertStringNotContainsString('520 devices in', $shelf->text());
        $small = $this->jobOf('museum')->slug;
        self::assertCount(
            0,
            $this->browser->request('GET', '/')->filter("[data-card='/j/$small/card']"),
            'the small one beside it is there',
        );
        $card = $this->browser->request('GET', "/j/$slug/card");
        self::assertStringContainsString('520 devices in', $card->text());
        self::assertCount(0, $card->filter('[data-card]'));
        self::assertStringContainsString('520 devices in', $this->browser->request('GET', '/')->text(), 'made once, it is there');
    }

    public function testOneCellIsWrittenWithoutLookingAtTheRest(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $asked = [];
        foreach ([60, 520] as $devices) {
            $slug = $this->laidIn($devices);
            $this->browser->request('GET', "/j/$slug/devices");
            $before = $this->questions();
            $this->send('/edit', ['field' => 'room'], ['value' => 'Hall of many']);
            self::assertSame(303, $this->browser->getResponse()->getStatusCode());
            $asked[] = $this->questions() - $before;
        }
        self::assertSame($asked[0], $asked[1]);
        self::assertLessThanOrEqual(30, $asked[1]);
    }

    public function testARefreshBringsWhatChangedAndNotThePage(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $slug = $this->laidIn(60);
        $this->browser->request('GET', "/j/$slug/devices");
        $page = (string) $this->browser->getResponse()->getContent();
        self::assertSame(1, preg_match('/hx-headers=\'([^\']+)\'/', $page, $headers));
        $shown = json_decode(html_entity_decode($headers[1]), true);
        self::assertIsArray($shown);
        self::assertIsString($shown['X-Parts']);
        $this->send('/edit', ['field' => 'room'], ['value' => 'Hall of one']);
        $this->browser->request('GET', "/j/$slug/devices", server: [
            'HTTP_X_SINCE' => \is_string($shown['X-Since']) ? $shown['X-Since'] : '',
            'HTTP_X_PARTS' => $shown['X-Parts'],
        ]);
        $sent = (string) $this->browser->getResponse()->getContent();
        self::assertSame(1, substr_count($sent, '<tr'), 'one row');
        self::assertStringContainsString('Hall of one', $sent);
        self::assertLessThan(\strlen($page) / 10, \strlen($sent));
    }

    /** Two hands at one bench see each other within two seconds, in however large a job. */
    public function testABenchLooksAtOnceAndALargeRosterLessOften(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $slug = $this->laidIn(600);
        foreach (['bench' => 700, 'devices' => 6000] as $page => $pulse) {
            $this->browser->request('GET', "/j/$slug/$page");
            self::assertStringContainsString("every {$pulse}ms", (string) $this->browser->getResponse()->getContent());
        }
    }

    private function laidIn(int $devices): string
    {
        $chance = new Randomizer(new Xoshiro256StarStar(11));
        $plan = SampleJob::of(
            \Vorhut\Tests\Support\Jobs::catalogue(),
            $devices,
            intdiv($devices, 20),
            static fn (int $below): int => $chance->getInt(0, $below - 1),
        );

        return self::service(ImportJob::class)->import(JobDocument::of($plan), 'size-'.$devices)->slug;
    }

    /** Statements that this connection has sent, by the server's own count; asking is one of them. */
    private function questions(): int
    {
        $row = self::service(EntityManagerInterface::class)->getConnection()->fetchAssociative("SHOW SESSION STATUS LIKE 'Questions'");

        return \is_array($row) && is_numeric($row['Value'] ?? null) ? (int) $row['Value'] : self::fail('the server does not count');
    }
}
