<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use PHPUnit\Framework\Attributes\Group;
use PHPUnit\Framework\Attributes\TestWith;
use Symfony\Component\DomCrawler\Crawler;
use Symfony\Component\Yaml\Yaml;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Row;
use Vorhut\Exchange\Jobs;
use Vorhut\Exchange\KindShelf;
use Vorhut\Secrets\Vault;
use Vorhut\Tests\Support\JobPagesTestCase;

/** A kind that this job has differently, by its page: looked at, taken, put on the shelf, taken by another job. */
#[Group('wide')]
final class KindsPagesTest extends JobPagesTestCase
{
    private const CAMERA = 'kinds/ptz-camera';

    private function describe(string $code, string $source, string $do): Crawler
    {
        $this->page('kinds/'.$code);
        $this->send('/kinds/'.$code, [], ['source' => $source, 'do' => $do]);

        return $this->browser->followRedirect();
    }

    public function testItIsLookedAtTakenAndTakenBack(): void
    {
        $this->enter();
        self::assertStringContainsString('The library of device kinds', $this->page(self::CAMERA)->filter('.purpose')->text());
        $page = $this->describe('ptz-camera', "boot: 75\n", 'look');
        $cells = $page->filter('.differences tbody td')->each(static fn (Crawler $one): string => $one->text());
        self::assertSame(['boot', '50', '75'], $cells);
        self::assertSame("boot: 75\n", $page->filter('textarea#source')->text(null, false), 'what was typed is there');
        self::assertSame(50, $this->plan($this->job)->devices['cam-01']->kind->boot, 'nothing is in force by looking');

        self::assertStringContainsString('version 1', $this->describe('ptz-camera', "boot: 75\n", 'take')->filter('main')->text());
        self::assertSame(75, $this->plan($this->job)->devices['cam-01']->kind->boot);
        $this->describe('ptz-camera', "boot: 75\n", 'take');
        $row = $this->plan($this->job)->row('ownKinds', 'ptz-camera');
        self::assertSame(1, (new Row($row ?? []))->int('version'), 'sent twice is one version');
        $this->describe('ptz-camera', "boot: 80\n", 'take');
        self::assertSame(80, $this->plan($this->job)->devices['cam-01']->kind->boot);

        $this->page(self::CAMERA);
        $this->send('/kinds/ptz-camera', [], ['do' => 'drop']);
        self::assertSame(50, $this->plan($this->job)->devices['cam-01']->kind->boot, 'what ships is in force again');
    }

    #[TestWith(['boot: [', 'Line 1'])]
    #[TestWith(['just words', 'begin with'])]
    #[TestWith(["a: &a [x]\nb: *a", 'Aliases'])]
    #[TestWith(['factory: []', 'factory'])]
    #[TestWith(['steps: [unpack]', 'has recorded values under'])]
    #[TestWith(['steps: [unpack, juggle]', 'shared step "juggle"'])]
    #[TestWith(["plays: [{ family: nothing }]\nsurprise: 1", 'surprise'])]
    public function testWhatCannotBeReadIsSaidWhereItWasTypedAndStaysThere(string $source, string $why): void
    {
        $this->enter();
        $page = $this->describe('ptz-camera', $source, 'take');
        self::assertStringContainsString($why, $page->filter('[role=alert]')->text());
        self::assertSame($source, $page->filter('textarea#source')->text(null, false));
        self::assertNull($this->plan($this->job)->row('ownKinds', 'ptz-camera'));
    }

    public function testAKindOfOnesOwnIsUsedKeptOnTheShelfAndTakenByAnotherJob(): void
    {
        $this->enter();
        $this->page('kinds');
        $this->send('/kinds/new', [], ['code' => 'Not A Code']);
        self::assertStringContainsString('not a key', $this->browser->followRedirect()->filter('.wrong')->text());
        // What stands there to begin with needs only a name.
        $begun = $this->page('kinds/ceiling-camera')->filter('#source')->text(null, false);
        $source = str_replace("name: ''", 'name: "Ceiling camera"', $begun);
        $page = $this->describe('ceiling-camera', $source, 'take');
        self::assertCount(0, $page->filter('[role=alert]'), $page->filter('main')->text());
        self::assertSame('Ceiling camera', $this->plan($this->job)->catalogue->kind('ceiling-camera')?->name);
        $this->write(Edit::add('devices', ['key' => 'cc', 'tag' => 'CC-01', 'kind' => 'ceiling-camera', 'position' => 900]));
        self::assertSame('CC-01', $this->page('devices?sel=devices/cc')->filter('.ledger h2')->text());

        $this->page('kinds/ceiling-camera');
        $this->send('/kinds/ceiling-camera', [], ['do' => 'drop']);
        self::assertStringContainsString('devices/cc', $this->browser->followRedirect()->filter('main')->text(), 'it is in use');
        $this->page('kinds/ceiling-camera');
        $this->send('/kinds/ceiling-camera', [], ['do' => 'put']);
        self::assertSame([1], array_values(array_map(static fn ($one): int => $one->version, self::service(KindShelf::class)->newest())));

        $first = $this->job;
        $document = self::service(Jobs::class)->export($this->fresh($first));
        self::assertSame('Ceiling camera', JobDocument::fromJson($document->toJson(), \Vorhut\Tests\Support\Jobs::catalogue())
            ->plan(\Vorhut\Tests\Support\Jobs::catalogue())->devices['cc']->kind->name);

        $this->job = $this->jobOf('museum');
        self::assertNull($this->plan($this->job)->catalogue->kind('ceiling-camera'), 'another job has none of it');
        $page = $this->page('kinds');
        self::assertStringContainsString('not used', $page->filter('main')->text());
        $this->page('kinds/ceiling-camera?shelf=1');
        $this->send('/kinds/ceiling-camera', ['version' => '1'], ['do' => 'shelf']);
        $row = $this->plan($this->job)->row('ownKinds', 'ceiling-camera');
        self::assertSame('shelf, version 1', $row['takenFrom'] ?? null);
    }

    public function testNoVersionIsTakenBackUnderWhatWasRecordedSince(): void
    {
        $this->enter();
        $ships = (array) Yaml::parseFile(\dirname(__DIR__, 2).'/kinds/ptz-camera.yaml');
        $source = Yaml::dump(['settings' => [
            ...(array) $ships['settings'],
            ['name' => 'tallyLamp', 'label' => 'Tally lamp', 'type' => 'text', 'group' => 'pictures', 'found' => true],
        ]], 4);
        self::assertCount(0, $this->describe('ptz-camera', $source, 'take')->filter('[role=alert]'));
        self::assertNotNull($this->plan($this->job)->devices['cam-01']->kind->setting('tallyLamp'));
        $this->write(Edit::add('settings', ['key' => 'devices/cam-01#tallyLamp', 'planned' => 'yes']));

        $this->page(self::CAMERA);
        $this->send('/undo', [], []);
        self::assertStringContainsString('CAM-01 has recorded values under', $this->browser->followRedirect()->filter('main')->text());
        $this->page(self::CAMERA);
        $this->send('/kinds/ptz-camera', [], ['do' => 'drop']);
        self::assertStringContainsString('CAM-01 has recorded values under', $this->browser->followRedirect()->filter('main')->text());
        self::assertNotNull($this->plan($this->job)->row('ownKinds', 'ptz-camera'));
    }

    public function testNoOtherFormGetsPastTheLookAtWhatIsRecorded(): void
    {
        $this->enter();
        $this->describe('ptz-camera', "boot: 75\n", 'take');
        $token = (string) $this->page('devices')->filter('input[name=_token]')->first()->attr('value');
        foreach ([
            'edit' => ['record' => 'ownKinds/ptz-camera', 'field' => 'source', 'before' => '', 'value' => '{}'],
            'remove' => ['record' => 'ownKinds/ptz-camera'],
            'add/ownKinds' => ['source' => '{}'],
        ] as $path => $form) {
            $this->browser->request('POST', '/j/'.$this->job->slug.'/'.$path, ['_token' => $token] + $form);
            self::assertSame(400, $this->browser->getResponse()->getStatusCode(), $path);
        }
        self::assertSame(75, $this->plan($this->job)->devices['cam-01']->kind->boot);
    }

    public function testAKindWhoseTemplateIsNotHereHasNoFileAndSaysWhy(): void
    {
        $this->enter();
        self::service(Vault::class)->fill($this->fresh($this->job), $this->plan($this->job), 'Mara');
        $this->describe('desk-phone-poe', "provisioning: nowhere.xml\n", 'take');
        $this->browser->request('GET', '/j/'.$this->job->slug.'/services/file/ph-01');
        self::assertStringContainsString('emplate "nowhere.xml"', (string) $this->browser->getResponse()->getContent());
    }

    public function testOnlyTheLeadChangesThem(): void
    {
        $this->enter('technician');
        $page = $this->page(self::CAMERA);
        self::assertCount(0, $page->filter('textarea#source'));
        self::assertStringContainsString('boot: 50', $page->filter('pre.source')->text());
        $token = (string) $this->page('bench')->filter('input[name=_token]')->first()->attr('value');
        $this->browser->request('POST', '/j/'.$this->job->slug.'/kinds/ptz-camera', [
            '_token' => $token, 'source' => 'boot: 1', 'do' => 'take',
        ]);
        self::assertSame(403, $this->browser->getResponse()->getStatusCode());
    }
}
