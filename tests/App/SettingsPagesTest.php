<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use PHPUnit\Framework\Attributes\Group;
use PHPUnit\Framework\Attributes\TestWith;
use Symfony\Component\DomCrawler\Crawler;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Secrets\Vault;
use Vorhut\Tests\Support\JobPagesTestCase;

/**
 * Settings, ports and labels by their pages: everything that can be put into a device has its place, and nothing that is typed gets lost.
 */
#[Group('wide')]
final class SettingsPagesTest extends JobPagesTestCase
{
    #[TestWith(['port'])]
    #[TestWith(['museum'])]
    public function testEverySettingOfEveryPortHasAFieldInTheLedger(string $demo): void
    {
        $this->enter('lead', $demo);
        $this->write(
            Edit::add('devices', ['key' => 'serve', 'tag' => 'SERVE', 'kind' => 'media-server', 'position' => 900]),
            Edit::add('nics', ['key' => 'serve.nic1', 'device' => 'serve', 'name' => 'nic1', 'mode' => 'static']),
            Edit::add('nics', ['key' => 'serve.nic2', 'device' => 'serve', 'name' => 'nic2', 'mode' => 'static']),
        );
        $plan = $this->plan($this->job);
        $seen = [];
        foreach ($plan->devices as $device) {
            $page = $this->page('devices?sel=devices/'.$device->key);
            $fields = $page->filter('.ledger form.cell input[name=record]')->extract(['value']);
            foreach ($plan->settings()->slots($device) as $slot) {
                if (null === $slot->setting->secret && !$slot->setting->found) {
                    self::assertContains('settings/'.$slot->ref, $fields, $device->tag);
                    $seen[$slot->setting->name] = true;
                }
            }
        }
        self::assertArrayHasKey('hostName', $seen);
        self::assertSame(
            ['settings/nics/serve.nic1#address', 'settings/nics/serve.nic2#address'],
            array_values(array_filter(
                $this->page('devices?sel=devices/serve')->filter('table.roster form.cell input[name=record]')->extract(['value']),
                static fn (mixed $record): bool => \is_string($record) && 1 === preg_match('/serve\.nic\d#address$/D', $record),
            )),
            'both ports stand in the roster',
        );
    }

    public function testTheBoxIsHeldAgainstItsListAndWhatNoPageTellsIsLookedAt(): void
    {
        $this->enter('technician');
        $this->mark('cam-05', 'unpack', ['state' => 'open']);
        $this->mark('cam-05', 'unpack', ['state' => 'done', 'missing' => ['safety rope', 'a wish'], 'note' => 'ordered']);
        self::assertSame('Missing: safety rope. ordered', $this->plan($this->job)->marksOf('cam-05')['unpack']->note);
        $this->mark('cam-05', 'dial', ['state' => 'open']);
        $this->mark('cam-05', 'dial', ['state' => 'done', 'typed_dialSize' => '3', 'note' => 'before its turn']);
        $this->page('bench?sel=devices/cam-05');
        $this->send('/bench/looked', ['device' => 'cam-05'], ['local' => ['dialSize']]);
        $value = $this->plan($this->job)->devices['cam-05']->setting('dialSize');
        self::assertSame([$value->set, 'Technician'], [$value->seen, $value->seenBy]);
    }

    public function testASettingIsCheckedByItsTypeAndKeptInOneForm(): void
    {
        $this->enter();
        $this->page('devices?sel=devices/cam-02');
        $this->send('/edit', ['record' => 'settings/devices/cam-02#timeZone', 'field' => 'planned'], ['value' => 'Moon/Sea']);
        self::assertStringContainsString('not a time zone', $this->browser->followRedirect()->filter('.ledger .wrong')->text());
        $this->send('/edit', ['record' => 'settings/devices/cam-02#timeZone', 'field' => 'planned'], ['value' => 'Europe/Lisbon']);
        $page = $this->browser->followRedirect();
        self::assertSame('Europe/Lisbon', $this->plan($this->job)->devices['cam-02']->setting('timeZone')->planned);
        self::assertStringContainsString('Europe/Lisbon', $page->filter('.ledger .finding, .ledger .agreement, .ledger')->text());
        $this->browser->request('POST', '/j/'.$this->job->slug.'/edit', [
            '_token' => $page->filter('input[name=_token]')->first()->attr('value'),
            '_back' => '/j/'.$this->job->slug.'/devices',
            'record' => 'settings/devices/cam-02#nonsense',
            'field' => 'planned',
            'value' => 'x',
        ]);
        self::assertLessThan(500, $this->browser->getResponse()->getStatusCode());
        self::assertNull($this->plan($this->job)->row('settings', 'devices/cam-02#nonsense'));
    }

    public function testWhatIsToldForAnAccountComesIntoItsPhonesFile(): void
    {
        $this->enter();
        self::service(Vault::class)->fill($this->fresh($this->job), $this->plan($this->job), 'Mara');
        $this->page('devices?sel=devices/ph-01');
        $this->send('/edit', ['record' => 'settings/accounts/a2101#lineLabel', 'field' => 'planned'], ['value' => 'Gate <1>']);
        self::assertSame('Gate <1>', $this->plan($this->job)->settings()->value('accounts/a2101#lineLabel')->planned);
        $token = $this->fresh($this->job)->fileToken;
        $this->browser->request('GET', "/p/$token/00005e005304.xml", server: ['REMOTE_ADDR' => '10.64.20.31']);
        $file = simplexml_load_string((string) $this->browser->getResponse()->getContent());
        self::assertInstanceOf(\SimpleXMLElement::class, $file);
        self::assertSame('Gate <1>', (string) $file->account['label']);
        $told = $this->plan($this->job)->settings()->value('accounts/a2101#lineLabel');
        self::assertSame(['Gate <1>', 'File server'], [$told->set, $told->setBy], 'and is set from then on');
    }

    public function testChosenColumnsAreShownAndEditedInTheRoster(): void
    {
        $this->enter();
        $page = $this->page('devices?cols[]=ringOutput&cols[]=hostName');
        self::assertStringContainsString('Ring output', $page->filter('table.roster thead')->text());
        $this->send('/edit', ['record' => 'settings/devices/ph-01#ringOutput', 'field' => 'planned'], ['value' => 'headset']);
        self::assertStringContainsString('cols', (string) $this->browser->getResponse()->headers->get('Location'), 'the columns stay');
        self::assertSame('headset', $this->plan($this->job)->devices['ph-01']->setting('ringOutput')->planned);
    }

    public function testALongRosterComesInWindowsAndIsFilteredByWhatStandsInIt(): void
    {
        $this->enter();
        $this->write(...array_map(
            static fn (int $n): Edit => Edit::add('devices', [
                'key' => 'z-'.$n,
                'tag' => 'Z-'.$n,
                'kind' => 'ptz-camera',
                'position' => 1000 + $n,
            ]),
            range(1, 100),
        ));
        $tags = static fn (Crawler $page): array => $page->filter('table.roster tbody td:first-child a')->extract(['_text']);
        $page = $this->page('devices');
        self::assertCount(60, $tags($page));
        self::assertSame('1 to 60 of 169', $page->filter('.window .small')->text());
        self::assertContains('Z-41', $tags($this->page('devices?page=2')));
        $selected = $this->page('devices?sel=devices/z-90');
        self::assertContains('Z-90', $tags($selected), 'what is selected is shown');
        self::assertStringContainsString('page=3', (string) $selected->filter('table.roster tr.sel a')->attr('href'));
        self::assertSame(['CAM-02'], $tags($this->page('devices?q=10.64.40.31')));
        self::assertContains('CAM-02', $tags($this->page('devices?q=quay,+EAST&cols[]=hostName')));
        self::assertSame([], $tags($this->page('devices?q=nothing+of+ours')));
        self::assertCount(0, $this->page('services')->filter('.window'), 'a short list needs none');
    }

    public function testAColumnThatMeansNothingIsAskedAboutAndTheTextIsKept(): void
    {
        $this->enter();
        $this->page('devices');
        $table = "tag,kind,segment,Gain [dB],colour\nCAM-8,PTZ camera,Quay,cam-eight,\"on the\nmast\"";
        $this->send('/devices/paste', [], ['table' => $table, 'do' => 'take']);
        $page = $this->browser->followRedirect();
        self::assertStringContainsString('Gain [dB], colour', $page->filter('#table ~ .wrong')->text());
        self::assertSame($table, $page->filter('#table')->text(null, false));
        self::assertArrayNotHasKey('cam-8', $this->plan($this->job)->devices);
        $this->send('/devices/paste', [], ['do' => 'look', 'means' => ['Gain%20%5BdB%5D' => 'hostName', 'colour' => '-']]);
        self::assertStringContainsString('will be added', $this->browser->followRedirect()->text());
        $this->send('/devices/paste', [], ['do' => 'take']);
        self::assertSame('cam-eight', $this->plan($this->job)->devices['cam-8']->setting('hostName')->planned);

        // What was said once is taken for so the next time, in another job too, and shown.
        $this->job = $this->jobOf('museum');
        $this->page('devices');
        $this->send('/devices/paste', [], ['table' => str_replace(['CAM-8', 'Quay'], ['CAM-9', ''], $table), 'do' => 'look']);
        $page = $this->browser->followRedirect();
        self::assertCount(0, $page->filter('#table ~ .wrong'));
        self::assertStringContainsString('“Gain [dB]” = hostName, “colour” ignored', $page->text());
    }

    public function testATableThatIsTooLongIsRefusedAndNotCut(): void
    {
        $this->enter();
        $this->page('devices');
        $this->send('/devices/paste', [], ['table' => "tag\n".str_repeat("CAM-8\n", 300_000), 'do' => 'take']);
        self::assertStringContainsString('Nothing was taken', $this->browser->followRedirect()->filter('.wrong')->text());
    }

    public function testWhatTheLabelSaysGoesBeforeTheKindOnBenchWalkAndSheet(): void
    {
        $this->enter('technician');
        $this->page('devices?sel=devices/cam-03');
        $this->send('/edit', ['record' => 'devices/cam-03', 'field' => 'labelAddress'], ['value' => '192.168.77.300']);
        self::assertStringContainsString('300 is more than 255', $this->browser->followRedirect()->filter('.ledger .wrong')->text());
        $this->send('/edit', ['record' => 'devices/cam-03', 'field' => 'labelAddress'], ['value' => '192.168.77.30']);
        $this->page('devices?sel=devices/cam-03');
        $this->send('/bench/label', ['device' => 'cam-03'], ['secret' => '']);
        self::assertStringContainsString(
            'Type the password as it is printed',
            $this->browser->followRedirect()->filter('.ledger .wrong')->text(),
        );
        $this->send('/bench/label', ['device' => 'cam-03'], ['secret' => 'Printed-77']);
        $plan = $this->plan($this->job);
        self::assertSame('192.168.77.30', (string) $plan->devices['cam-03']->factory->address);
        $stops = array_filter(
            Queue::of($plan)->stops,
            static fn ($stop): bool => \in_array($plan->devices['cam-03'], $stop->devices(), true),
        );
        self::assertSame('192.168.77.', substr((string) array_values($stops)[0]->laptop, 0, 11), 'a stop of its own');
        $job = $this->fresh($this->job);
        self::assertSame('Printed-77', self::service(Vault::class)->secretOf($job, 'devices/cam-03', 'label'));
        self::assertStringContainsString('192.168.77.30', $this->page('bench?sel=devices/cam-03')->filter('.sheet')->text());
        self::assertStringNotContainsString('Printed-77', $this->page('bench?sel=devices/cam-03')->html());
        self::assertStringContainsString(
            '192.168.77.30',
            $this->page('networks?from=lt-01&to=cam-03&port=80&face=box')->filter('#walk, main')->text(),
        );
    }

    public function testAStepBeforeItsTimeIsTakenOnlyWithAReason(): void
    {
        $this->enter('technician');
        $this->write(Edit::put('accounts', 'a2107', 'macEntered', '00-00-5E-00-53-10', null));
        $this->mark('ph-07', 'address', ['state' => 'done']);
        $page = $this->page('bench?sel=devices/ph-07');
        $next = (string) $page->filter('.sheet li.next input[name=step]')->attr('value');
        self::assertStringContainsString('waits', $page->filter('.sheet li.next')->text());
        $refused = $this->mark('ph-07', $next, ['state' => 'done']);
        self::assertStringContainsString('If the step was done anyway, write why', $refused->filter('.sheet li.next .wrong')->text());
        self::assertArrayNotHasKey($next, $this->plan($this->job)->marksOf('ph-07'));
        $this->mark('ph-07', $next, ['state' => 'done', 'note' => 'entered by phone, told to the PBX people']);
        self::assertSame(MarkState::Done, $this->plan($this->job)->marksOf('ph-07')[$next]->state);
    }

    public function testWhatIsReadOffTheLabelFillsTheRosterAndIsHeldAgainstIt(): void
    {
        $this->enter('technician');
        $this->write(
            Edit::add('devices', ['key' => 'mrc', 'tag' => 'MRC-1', 'kind' => 'multi-room-controller', 'position' => 901]),
            Edit::add('nics', ['key' => 'mrc.lan', 'device' => 'mrc', 'name' => 'lan', 'segment' => 'hall', 'mode' => 'reserved']),
        );
        self::assertStringContainsString(
            'not a MAC',
            $this->mark('mrc', 'unpack', ['state' => 'done', 'read_mac' => 'zz', 'read_serial' => 'S-1'])->filter('.sheet .wrong')->text(),
        );
        self::assertSame('S-1', $this->browser->getCrawler()->filter('input[name=read_serial]')->attr('value'), 'what was typed stays');
        $this->mark('mrc', 'unpack', ['state' => 'done', 'read_mac' => '00005e005377', 'read_serial' => 'S-1']);
        $plan = $this->plan($this->job);
        self::assertSame(['00-00-5E-00-53-77', 'S-1'], [(string) $plan->nics['mrc.lan']->mac, $plan->devices['mrc']->serial]);
        $this->mark('mrc', 'unpack', ['state' => 'open']);
        self::assertStringContainsString(
            'The roster has S-1',
            $this->mark('mrc', 'unpack', ['state' => 'done', 'read_serial' => 'S-2'])->filter('.sheet .wrong')->text(),
        );
    }

    public function testAPasswordIsOnRecordThoughItsStepWasMarkedBeforeItWasShown(): void
    {
        $this->enter('technician');
        $this->mark('cam-03', 'password', ['state' => 'done', 'note' => 'the one on the paper']);
        $credential = $this->plan($this->job)->credential('devices/cam-03', 'admin');
        self::assertFalse($credential?->isDefault);
        self::assertNotNull(self::service(Vault::class)->secretOf($this->fresh($this->job), 'devices/cam-03', 'admin'));
    }

    public function testEveryRefusedValueStaysUntilItIsCorrected(): void
    {
        $this->enter('lead');
        $this->page('networks?sel=segments/quay');
        $send = function (string $field, string $value): void {
            $this->send('/edit', ['record' => 'segments/quay', 'field' => $field], ['value' => $value]);
            $this->browser->followRedirect();
        };
        $refused = fn (): array => $this->browser->getCrawler()->filter('input[aria-invalid=true]')->each(
            static fn (Crawler $input): string => $input->attr('aria-label').' '.$input->attr('value'),
        );
        $send('network', '10.64.300.0/24');
        $send('vlan', '5000');
        $send('outpost', '10.64.40.999');
        self::assertCount(3, $refused());
        $send('dns', '10.64.40.53');
        self::assertSame(
            ['Network 10.64.300.0/24', 'VLAN (- for untagged) 5000', 'Outpost address 10.64.40.999'],
            $refused(),
            'a field that is saved takes no other one away',
        );
        $send('vlan', '41');
        self::assertSame(['Network 10.64.300.0/24', 'Outpost address 10.64.40.999'], $refused());
        $this->page('networks?sel=segments/quay');
        self::assertSame([], $refused(), 'a page that is opened anew begins anew');
    }

    public function testNoRouterHereCanBeSaidAndCloseItsQuestion(): void
    {
        $this->enter('lead');
        $asked = fn (): bool => str_contains($this->page('brief')->text(), 'Which gateway does Island have');
        $this->write(Edit::add('segments', ['key' => 'island', 'name' => 'Island', 'network' => '10.64.90.0/24']));
        self::assertTrue($asked());
        $this->page('networks?sel=segments/island');
        $this->send('/edit', ['record' => 'segments/island', 'field' => 'gateway'], ['value' => '-']);
        self::assertFalse($asked());
        self::assertStringNotContainsString('is not an address', $this->page('networks?sel=segments/island')->text());
        $this->write(
            Edit::add('devices', ['key' => 'is', 'tag' => 'IS-1', 'kind' => 'ptz-camera', 'position' => 902]),
            Edit::add('nics', ['key' => 'is.lan', 'device' => 'is', 'name' => 'lan', 'segment' => 'island', 'mode' => 'static']),
        );
        $this->page('devices');
        $this->send('/devices/allocate', [], []);
        self::assertNotSame('10.64.90.1', (string) $this->plan($this->job)->nics['is.lan']->plannedAddress());
        self::assertStringContainsString('No router is on Island', $this->page('bench?sel=devices/is')->filter('.sheet')->text());
    }

    public function testTheHistoryOfADeviceIsItsOwn(): void
    {
        $this->enter('lead', 'museum');
        $this->write(
            Edit::add('devices', ['key' => 'cam-10', 'tag' => 'CAM-10', 'kind' => 'ptz-camera', 'position' => 903]),
            Edit::add('nics', ['key' => 'cam-10.lan', 'device' => 'cam-10', 'name' => 'lan', 'mode' => 'static']),
        );
        $this->page('devices?sel=devices/cam-10');
        $this->send('/edit', ['record' => 'settings/nics/cam-10.lan#mask', 'field' => 'planned'], ['value' => '/20']);
        $this->page('devices?sel=devices/cam-10');
        $this->send('/edit', ['record' => 'devices/cam-10', 'field' => 'room'], ['value' => 'The tenth room']);
        self::assertStringContainsString('tenth room', $this->page('devices?sel=devices/cam-10')->filter('.history')->text());
        self::assertStringNotContainsString('CAM-10', $this->page('devices?sel=devices/cam-1')->filter('.history')->text());
        self::assertStringNotContainsString('tenth', $this->page('devices?sel=devices/cam-1')->filter('.history')->text());
    }

    #[TestWith(['99999/udp'])]
    #[TestWith(['x'])]
    public function testABadPortInACuresAddressIsRefusedInASentence(string $port): void
    {
        $this->enter();
        $page = $this->page('proof');
        $this->browser->request('POST', '/j/'.$this->job->slug.'/cure', [
            '_token' => $page->filter('input[name=_token]')->first()->attr('value'),
            'from' => 'outposts/tech',
            'to' => 'ra-01',
            'port' => $port,
            'face' => 'set',
        ]);
        self::assertSame(303, $this->browser->getResponse()->getStatusCode());
        self::assertStringContainsString('is not a port', $this->browser->followRedirect()->text());
    }

    public function testAJobWithoutATimeZoneSaysSoAndWritesNoEmptyTimeServer(): void
    {
        $this->enter();
        $this->write(
            Edit::put('job', '', 'timeZone', 'Europe/Oslo', null),
            Edit::put('job', '', 'ntp', '10.64.10.5', null),
        );
        self::service(Vault::class)->fill($this->fresh($this->job), $this->plan($this->job), 'Mara');
        $this->page('services/file/ph-01');
        self::assertStringContainsString('time zone', (string) $this->browser->getResponse()->getContent());
        self::assertStringNotContainsString('<phone', (string) $this->browser->getResponse()->getContent());
        self::assertStringContainsString('time zone', $this->page('brief')->filter('.ledger .finding')->text());
        self::assertStringContainsString('time zone', $this->page('services')->filter('.board')->text());
        $this->write(Edit::put('job', '', 'timeZone', null, 'Europe/Oslo'));
        $this->page('services/file/ph-01');
        $file = (string) $this->browser->getResponse()->getContent();
        self::assertStringContainsString('Europe/Oslo', $file);
        self::assertStringNotContainsString('server=""', $file);
    }

    public function testSettingsAndRosterGoOutAsTables(): void
    {
        $this->enter();
        self::service(Vault::class)->fill($this->fresh($this->job), $this->plan($this->job), 'Mara');
        $secret = (string) self::service(Vault::class)->secretOf($this->fresh($this->job), 'devices/cam-03', 'admin');
        self::assertNotSame('', $secret);
        $this->page('handover/settings.csv');
        $settings = (string) $this->browser->getResponse()->getContent();
        self::assertStringContainsString('10.46.30.1', $settings, 'what was really typed');
        self::assertStringNotContainsString($secret, $settings);
        $this->page('handover/roster.csv');
        $roster = (string) $this->browser->getResponse()->getContent();
        $this->job = $this->jobOf('museum');
        $this->page('devices');
        $this->send('/devices/paste', [], ['table' => $roster, 'do' => 'look']);
        $page = $this->browser->followRedirect();
        self::assertStringNotContainsString('Choose a meaning', $page->text(), 'the program reads every column that it writes');
    }
}
