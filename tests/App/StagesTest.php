<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Symfony\Component\HttpFoundation\File\UploadedFile;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\WorkOrder;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\EvidenceLog;
use Vorhut\Journal\History;
use Vorhut\Journal\JournalClock;
use Vorhut\Journal\JournalEntries;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Secrets\Vault;
use Vorhut\Tests\Support\JobPagesTestCase;

/** Each stage by its forms, as a browser without scripts would use it. */
final class StagesTest extends JobPagesTestCase
{
    public function testANewJobBeginsWithItsQuestions(): void
    {
        $this->enter();
        $this->browser->request('GET', '/');
        $this->send('/new', [], ['name' => '']);
        self::assertStringContainsString('A job needs a name', $this->browser->followRedirect()->text());
        $this->send('/new', [], ['name' => 'Ærø lock & weir']);
        $page = $this->browser->followRedirect();
        self::assertSame('Ærø lock & weir', $page->filter('h1')->text());
        self::assertStringContainsString('Which time zone', $page->text());
        $first = $this->browser->getRequest()->getPathInfo();
        $this->browser->request('GET', '/');
        $this->send('/new', [], ['name' => 'Ærø lock & weir']);
        self::assertNotSame(
            $first,
            $this->browser->followRedirect()->filter('.stages a')->eq(1)->attr('href'),
            'two of one name have two addresses',
        );
    }

    public function testABadDocumentTellsEveryErrorAndImportsNothing(): void
    {
        $this->enter();
        $before = \count(self::service(Jobs::class)->all());
        $file = (string) tempnam(sys_get_temp_dir(), 'vorhut');
        file_put_contents(
            $file,
            str_replace(
                ['"10.64.40.0/24"', '"kind": "router"'],
                ['"10.64.40.7/24"', '"kind": "toaster"'],
                (string) file_get_contents(\dirname(__DIR__, 2).'/demo/port.json'),
            ),
        );
        $token = (string) $this->browser->request('GET', '/')->filter('input[name=_token]')->first()->attr('value');
        $this->browser->request('POST', '/import', ['_token' => $token], [
            'document' => new UploadedFile($file, 'port.json', null, null, true),
        ]);
        $page = $this->browser->followRedirect()->text();
        self::assertStringContainsString('did you mean 10.64.40.0/24', $page);
        self::assertMatchesRegularExpression('~/segments/\d+/network~', $page);
        self::assertMatchesRegularExpression('~/devices/\d+/kind~', $page);
        self::assertCount($before, self::service(Jobs::class)->all());
        @unlink($file);
    }

    public function testNoFixIsOfferedForADeviceThatMustNotBeReachable(): void
    {
        $this->enter();
        $this->write(Edit::add('tests', ['key' => 't', 'what' => 'reach', 'from' => 'tech', 'to' => 'ra-01', 'requires' => 'no-answer']));
        self::assertCount(0, $this->page('proof?sel=tests/'.rawurlencode('blocked:tech>ra-01:80/tcp'))->filter('#walk .curebox'));
        $this->write(Edit::put('tests', 't', 'requires', 'no-answer', null));
        $opposite = $this->page('proof?sel=tests/'.rawurlencode('reach:tech>ra-01:80/tcp'));
        self::assertCount(1, $opposite->filter('#walk .curebox'), 'its walk is broken');
    }

    public function testSegmentsComeAndGoWithWhatLeansOnThem(): void
    {
        $this->enter();
        $this->page('networks');
        $this->send('/add/segments', [], ['row' => ['name' => 'Guests', 'network' => '10.64.50.0/23', 'gateway' => '10.64.50.1x']]);
        $page = $this->browser->followRedirect();
        self::assertStringContainsString('1x', $page->filter('.wrong')->text());
        self::assertSame('Guests', $page->filter('input[name="row[name]"]')->attr('value'), 'what was typed stays');
        $this->send('/add/segments', [], [
            'row' => ['name' => 'Guests', 'network' => '10.64.50.0/23', 'gateway' => '10.64.50.1', 'pattern' => '4'],
        ]);
        self::assertSame('10.64.50.0/23', (string) $this->plan($this->job)->segments['guests']->network);

        $this->page('networks?sel=segments/quay');
        $this->send('/remove', ['record' => 'segments/quay'], []);
        $plan = $this->plan($this->job);
        self::assertArrayNotHasKey('quay', $plan->segments);
        self::assertNull($plan->nics['cam-02.lan']->segment);
        self::assertSame([], array_filter($plan->filters, static fn ($rule): bool => 'quay' === $rule->from || 'quay' === $rule->to));
        $this->page('networks');
        $this->send('/undo', [], []);
        self::assertEquals(
            ['quay', 'quay'],
            [$this->plan($this->job)->nics['cam-02.lan']->segment, $this->plan($this->job)->segments['quay']->key],
            'one undo brings all of it back',
        );
    }

    public function testWhatMakesNoSenseInASegmentIsToldWhereItIsTyped(): void
    {
        $this->enter();
        $this->page('networks?sel=segments/quay');
        foreach (['gateway' => '10.64.41.1', 'pools' => '10.64.40.60-90', 'blocks' => '10.64.40.200-209 teapot'] as $field => $text) {
            $before = $this->plan($this->job)->row('segments', 'quay')[$field] ?? null;
            $this->send('/edit', ['record' => 'segments/quay', 'field' => $field], ['value' => $text]);
            $page = $this->browser->followRedirect();
            self::assertNotSame('', trim($page->filter('form.cell .wrong')->text('')), $field);
            self::assertSame($before, $this->plan($this->job)->row('segments', 'quay')[$field] ?? null, $field);
            $this->page('networks?sel=segments/quay');
        }
        $this->send('/add/segments', [], ['row' => ['name' => 'New', 'network' => '10.20.30.0/24', 'gateway' => '10.20.31.1']]);
        self::assertStringContainsString('10.20.31.1 is not in 10.20.30.0/24', $this->browser->followRedirect()->filter('.wrong')->text());
        self::assertNull($this->plan($this->job)->segments['new'] ?? null);
    }

    public function testWhatARecordPointsToIsTypedByItsNameOrItsKey(): void
    {
        $this->enter();
        foreach ([['VA-01', 'SW-01', '31'], ['va-01', 'sw-02', '32'], ['NOBODY', 'SW-01', '33']] as [$device, $switch, $port]) {
            $this->page('services/links');
            $this->send('/add/cables', [], ['row' => ['device' => $device, 'switch' => $switch, 'port' => $port]]);
        }
        self::assertStringContainsString('There is no "NOBODY"', $this->browser->followRedirect()->filter('.wrong')->text());
        $added = array_filter(
            $this->plan($this->job)->rows('cables'),
            static fn (array $row): bool => \in_array($row['port'], ['31', '32', '33'], true),
        );
        self::assertSame([['va-01', 'sw-01'], ['va-01', 'sw-02']], array_values(array_map(
            static fn (array $row): array => [$row['device'], $row['switch']],
            $added,
        )));
    }

    public function testAWalkIsAskedByItsAddressAndCuredFromThere(): void
    {
        $this->enter();
        $page = $this->page('networks?from=outposts/tech&to=ra-01&proto=tcp&port=80&face=set');
        self::assertCount(2, $page->filter('.walk .hop.broken'), 'two halves');
        self::assertStringContainsString('RA-01 has no gateway', $page->filter('ol.reasons li.broken')->text());
        self::assertStringContainsString('gateway blank', $page->filter('ol.reasons li.broken')->text(), 'and the fact it stands on');
        $this->send('/cure', ['to' => 'ra-01'], []);
        $gateway = $this->plan($this->job)->nics['ra-01.lan']->setting('gateway');
        self::assertSame(['10.64.40.1', ''], [$gateway->planned, $gateway->set], 'it is set when the device has acknowledged it');
        $order = self::service(Orders::class)->open($this->fresh($this->job))[0];
        self::assertSame([WorkOrder::WRITE, 'ra-01'], [$order->kind, $order->what['device']], 'and the outpost is sent to write it');
        self::assertCount(0, $this->page('networks?from=outposts/tech&to=ra-01&proto=tcp&port=80&face=planned')->filter('.hop.broken'));
        self::assertStringContainsString('ports run', $this->page('networks?from=outposts/tech&to=ra-01&port=99999')->text());
    }

    public function testAFindingsCureShowsWhatItMendsBeforeItIsApplied(): void
    {
        $this->enter();
        $page = $this->page('cure/preview?finding='.rawurlencode('static-inside-pool:devices/enc-01+nics/enc-01.lan'));
        self::assertStringContainsString('10.64.30.120', $page->filter('table')->text());
        self::assertStringContainsString('in the DHCP pool', $page->text());
        $this->send('/cure', ['finding' => 'static-inside-pool:devices/enc-01+nics/enc-01.lan'], []);
        self::assertSame('10.64.30.51', (string) $this->plan($this->job)->nics['enc-01.lan']->plannedAddress());
        self::assertStringContainsString('not needed any more', $this->page('cure/preview?finding=gone')->text());
    }

    public function testATechnicianMayCureADeviceButNotThePlan(): void
    {
        $this->enter('technician');
        $this->page('devices');
        $this->send('/cure', ['finding' => 'static-inside-pool:devices/enc-01+nics/enc-01.lan'], []);
        self::assertStringContainsString('Only a lead engineer can apply it', $this->browser->followRedirect()->text());
        $this->page('bench');
        $this->send('/cure', ['finding' => 'typed-other-than-planned:devices/cam-01+nics/cam-01.lan#lan.gateway'], []);
        $gateway = fn (): ?string => $this->plan($this->job)->nics['cam-01.lan']->setting('gateway')->set;
        self::assertSame(['10.64.30.120', '10.46.30.1'], [
            (string) $this->plan($this->job)->nics['enc-01.lan']->plannedAddress(),
            $gateway(),
        ], 'the outpost is sent, and nothing is recorded before it was there');
        $this->page('bench');
        $this->send('/cure', ['finding' => 'typed-other-than-planned:devices/cam-01+nics/cam-01.lan#lan.gateway'], ['entered' => '1']);
        self::assertSame('10.64.30.1', $gateway(), 'the technician says that it was entered');
    }

    public function testARosterIsPastedLookedAtAndAllocated(): void
    {
        $this->enter();
        $this->page('devices');
        $this->send('/devices/paste', [], [
            'table' => "CAM-9\tPTZ camera\tMast\tQuay\t00-00-5E-00-53-90\tZ1\nCAM-1\ttoaster",
            'do' => 'look',
        ]);
        $page = $this->browser->followRedirect();
        self::assertStringContainsString('No kind is called "toaster"', $page->text());
        self::assertArrayNotHasKey('cam-9', $this->plan($this->job)->devices, 'looking takes nothing');
        $this->send('/devices/paste', [], ['do' => 'take', 'table' => $page->filter('#table')->text(null, false)]);
        self::assertSame("CAM-1\ttoaster", trim($this->browser->followRedirect()->filter('#table')->text(null, false)));
        $this->send('/devices/allocate', [], []);
        $plan = $this->plan($this->job);
        self::assertSame(['10.64.40.33', 'Z1', 'Mast'], [
            (string) $plan->nics['cam-9.lan']->plannedAddress(),
            $plan->devices['cam-9']->serial,
            $plan->devices['cam-9']->room,
        ]);
        self::assertSame('10.64.40.31', (string) $plan->nics['cam-02.lan']->plannedAddress(), 'and nobody moved');
    }

    public function testWhatTakesLongSaysHowFarItHasComeAndWhereItsAnswerIs(): void
    {
        $this->enter();
        $token = $this->page('devices')->filter('input[name=_token]')->first()->attr('value');
        $rows = implode("\n", array_map(static fn (int $i): string => "X-$i\tPTZ camera\tMast", range(1, 400)))."\nCAM-1\ttoaster";
        $said = function (string $do) use ($token, $rows): array {
            $this->browser->request('POST', '/j/'.$this->job->slug.'/devices/paste', [
                '_token' => $token, 'table' => $rows, 'do' => $do,
            ], [], ['HTTP_ACCEPT' => 'application/x-ndjson']);
            self::assertStringStartsWith('application/x-ndjson', (string) $this->browser->getResponse()->headers->get('Content-Type'));
            $lines = explode("\n", trim($this->browser->getInternalResponse()->getContent()));
            self::assertSame(1, preg_match('~^\{"to":"(/[^"]+)"\}$~', (string) array_pop($lines), $to));

            return [$to[1], $lines];
        };
        [$to, $lines] = $said('look');
        self::assertSame('{"said":"0 of 401 rows read","done":0,"of":401}', $lines[0]);
        self::assertStringContainsString('No kind is called "toaster"', $this->browser->request('GET', $to)->text());
        self::assertArrayNotHasKey('x-1', $this->plan($this->fresh($this->job))->devices);
        [$to, $lines] = $said('take');
        self::assertStringContainsString('values are written', implode('', $lines));
        self::assertArrayHasKey('x-400', $this->plan($this->fresh($this->job))->devices);
        self::assertSame("CAM-1\ttoaster", trim($this->browser->request('GET', $to)->filter('#table')->text(null, false)));
        $this->browser->request('POST', '/j/'.$this->job->slug.'/devices/paste', ['_token' => 'no'], [], [
            'HTTP_ACCEPT' => 'application/x-ndjson',
        ]);
        self::assertSame(403, $this->browser->getResponse()->getStatusCode(), 'refused before the answer begins');
    }

    public function testABlockIsTakenWholeOrNotAtAll(): void
    {
        $this->enter();
        $this->page('devices');
        $cell = static fn (string $record, string $field, string $before, string $value): array => [
            'record' => $record, 'field' => $field, 'before' => $before, 'value' => $value,
        ];
        $send = fn (array ...$cells) => $this->send('/block', [], ['cells' => json_encode($cells)]);
        $room = $this->plan($this->job)->devices['cam-01']->room;
        $send($cell('devices/cam-01', 'room', $room, 'Truss'), $cell('nics/cam-02.lan', 'mac', '00-00-5E-00-53-17', 'no MAC'));
        self::assertStringContainsString('The block was not saved', $this->browser->followRedirect()->text());
        self::assertSame($room, $this->plan($this->job)->devices['cam-01']->room);
        $send($cell('devices/cam-01', 'room', $room, 'Truss'), $cell('settings/devices/cam-02#frameRate', 'planned', '', '50'));
        $plan = $this->plan($this->fresh($this->job));
        self::assertSame(['Truss', '50'], [$plan->devices['cam-01']->room, $plan->devices['cam-02']->setting('frameRate')->planned]);
        $this->page('devices');
        $send($cell('devices/cam-01', 'room', 'Somewhere', 'Roof'));
        self::assertStringContainsString('The block was not saved', $this->browser->followRedirect()->text(), 'another was quicker');
        $this->page('devices');
        $send(...array_fill(0, 5001, $cell('devices/cam-01', 'room', 'Truss', 'Roof')));
        self::assertStringContainsString('at most 5000 cells', $this->browser->followRedirect()->text(), 'nothing is cut off in silence');
        self::assertSame('Truss', $this->plan($this->fresh($this->job))->devices['cam-01']->room);
        $this->page('devices');
        $send($cell('marks/x', 'state', '', 'done'));
        self::assertSame(400, $this->browser->getResponse()->getStatusCode(), 'no evidence by hand');
    }

    public function testMarksThatComeLateKeepTheirTimeAreTakenOnceAndContradictInTheOpen(): void
    {
        $this->enter('technician');
        $page = $this->page('bench/along?stop=2');
        self::assertStringContainsString('PBX-01', $page->text());
        $send = function (array ...$marks) use ($page): array {
            $this->browser->request('POST', '/j/'.$this->job->slug.'/bench/along', [
                '_token' => $page->filter('#along')->attr('data-token'),
                'marks' => json_encode($marks),
            ]);
            $answer = json_decode((string) $this->browser->getResponse()->getContent(), true);
            self::assertIsArray($answer);
            self::assertIsArray($answer['answers']);

            return array_map(
                static fn (mixed $why): ?string => \is_string($why) ? $why : null,
                array_column($answer['answers'], 'why', 'id'),
            );
        };
        $at = gmdate('Y-m-d\TH:i:s\Z', time() - 3600);
        $mark = ['device' => 'fx-01', 'step' => 'unpack', 'state' => 'done', 'at' => $at, 'id' => 'a'];
        $late = ['step' => 'hook-up', 'state' => 'failed', 'note' => 'No lamp.', 'at' => '2099-01-01T00:00:00Z', 'id' => 'b'] + $mark;
        self::assertSame(['a' => null, 'b' => null], $send($mark, $late));
        $marks = $this->plan($this->fresh($this->job))->marksOf('fx-01');
        self::assertSame([$at, 'No lamp.'], [$marks['unpack']->at, $marks['hook-up']->note]);
        self::assertSame(gmdate('Y-m-d'), substr($marks['hook-up']->at, 0, 10), 'a clock that is years ahead is not believed');
        self::assertSame(['a' => null], $send($mark), 'sent twice is taken once');
        self::assertStringContainsString('marked it done at', (string) $send(['state' => 'failed', 'note' => 'Broken.'] + $mark)['a']);
        self::assertStringContainsString('"contradicts":true', (string) $this->browser->getResponse()->getContent());
        self::assertSame(MarkState::Done, $this->plan($this->fresh($this->job))->marksOf('fx-01')['unpack']->state);
        self::assertSame(['a' => null], $send(['state' => 'failed', 'note' => 'Broken.', 'force' => true] + $mark));
        self::assertSame(MarkState::Failed, $this->plan($this->fresh($this->job))->marksOf('fx-01')['unpack']->state);
        self::assertStringContainsString('no longer exists', (string) $send(['step' => 'no-such', 'id' => 'c'] + $mark)['c']);
        self::assertStringContainsString('no longer exists', (string) $send(['device' => ['x'], 'id' => 'd'] + $mark)['d']);
        self::assertSame('Write why.', $send(['step' => 'reach', 'state' => 'skipped', 'id' => 'e'] + $mark)['e']);
        self::assertStringContainsString('"contradicts":false', (string) $this->browser->getResponse()->getContent());
        $early = $this->stepThatWaits();
        self::assertStringContainsString('If the step was done anyway, write why', (string) $send($early + ['id' => 'f'] + $mark)['f']);
        self::assertNull($send($early + ['id' => 'f', 'note' => 'The file came later.'] + $mark)['f']);
    }

    public function testWritingManyIsLookedAtFirstOrderedOnceAndCalledOff(): void
    {
        $this->enter('technician');
        $page = $this->page('bench/write');
        self::assertStringContainsString('CAM-04', $page->filter('table.book')->text());
        self::assertStringContainsString('→ 10.64.50.41', $page->filter('table.book')->text(), 'the dry run');
        $orders = fn (): array => array_map(
            static fn (WorkOrder $one): string => (\is_string($one->what['device']) ? $one->what['device'] : '').' '.$one->state,
            self::service(Orders::class)->latest($this->fresh($this->job), WorkOrder::WRITE),
        );
        $form = ['_token' => $page->filter('form[action$="/bench/write"] input[name=_token]')->attr('value'), 'do' => 'write'];
        foreach ([1, 2] as $again) {
            $this->browser->request('POST', '/j/'.$this->job->slug.'/bench/write', $form + ['device' => ['cam-04', 'hn-01', 'no-such']]);
        }
        self::assertSame(['hn-01 waiting', 'cam-04 waiting'], $orders(), 'sent twice is ordered once');
        $this->browser->request('POST', '/j/'.$this->job->slug.'/bench/write', ['do' => 'stop'] + $form);
        self::assertSame(['hn-01 failed', 'cam-04 failed'], $orders());
        self::assertStringContainsString('Called off by', $this->browser->followRedirect()->filter('#written')->text());
    }

    public function testARouterThatWasChangedForAnEncoderIsOnEverybodysStripUntilItIsPutBack(): void
    {
        $this->enter('technician');
        foreach ($this->plan($this->job)->devices['enc-01']->steps as $step) {
            if ('put-back' !== $step->code) {
                $way = 'reach' === $step->code ? 'router' : '';
                $this->mark('enc-01', $step->code, ['state' => 'done', 'way' => $way, 'note' => 'So it was.']);
            }
        }
        self::assertSame('router', $this->plan($this->fresh($this->job))->marksOf('enc-01')['reach']->way);
        self::assertStringContainsString('put back', $this->page('bench?sel=devices/enc-01')->filter('#step-put-back')->text());
        $this->browser->loginUser($this->user('lead'));
        self::assertStringContainsString('put back ENC-01', $this->page('brief')->filter('#strip')->text(), 'the lead sees it');
        self::assertStringContainsString('ENC-01: Restore the recorded LAN range', $this->page('handover')->filter('.caution')->text());
        $this->mark('enc-01', 'put-back', ['state' => 'done', 'note' => 'So it was.']);
        self::assertStringNotContainsString('put back', $this->page('handover')->filter('#strip')->text());
    }

    public function testAWaitRunsOnTheServerForEverybody(): void
    {
        $this->enter('technician');
        $this->page('bench?sel=devices/ln-01');
        $this->mark('ln-01', 'unpack', ['state' => 'done']);
        $this->send('/bench/wait', ['step' => 'hook-up'], ['do' => 'begin']);
        $page = $this->page('proof');
        self::assertStringContainsString('LN-01', $page->filter('#strip')->text());
        self::assertGreaterThan(5, (int) $page->filter('#strip [data-left]')->attr('data-left'));
        $this->page('bench?sel=devices/ln-01');
        $this->send('/bench/wait', ['step' => 'hook-up'], ['do' => 'end']);
        self::assertCount(0, $this->page('proof')->filter('#strip li'));
    }

    public function testTheRunSheetTakesWhatWasReallyTyped(): void
    {
        $this->enter('technician');
        $this->page('bench?sel=devices/cam-02');
        self::assertStringContainsString('Write why', $this->mark('cam-02', 'reach', ['state' => 'blocked'])->text());
        $blocked = $this->mark('cam-02', 'reach', ['state' => 'blocked', 'note' => 'waiting for a PoE port']);
        self::assertSame(MarkState::Blocked, $this->plan($this->job)->marksOf('cam-02')['reach']->state);
        self::assertStringContainsString('waiting for a PoE port', $blocked->text());
        $this->mark('cam-02', 'reach', ['state' => 'done']);
        $this->mark('cam-02', 'password', ['state' => 'done']);
        self::assertStringContainsString(
            '400 is more than 255',
            $this->mark('cam-02', 'address', ['state' => 'done', 'typed_gateway' => '10.64.400.1'])->text(),
        );
        self::assertNull($this->plan($this->job)->nics['cam-02.lan']->setting('address')->set);
        $this->mark('cam-02', 'address', ['state' => 'done', 'typed_gateway' => '-']);
        $nic = $this->plan($this->job)->nics['cam-02.lan'];
        self::assertSame(
            ['10.64.40.31', '', 'Technician'],
            [$nic->setting('address')->set, $nic->setting('gateway')->set, $nic->setting('address')->setBy],
            '"-" is how one says blank',
        );
        $this->mark('cam-02', 'address', ['state' => 'open']);
        self::assertArrayNotHasKey('address', $this->plan($this->job)->marksOf('cam-02'));
    }

    public function testASecretIsShownOnDemandAndTheShowingIsWrittenDown(): void
    {
        $this->enter('technician');
        $page = $this->page('bench?sel=devices/cam-02');
        $this->send('/bench/secret', ['owner' => 'devices/cam-02'], []);
        $secret = self::service(Vault::class)->secretOf($this->fresh($this->job), 'devices/cam-02', 'admin');
        self::assertNotNull($secret);
        self::assertStringNotContainsString($secret, $page->html());
        self::assertStringContainsString($secret, $this->browser->followRedirect()->html());
        self::assertStringNotContainsString($secret, $this->page('bench?sel=devices/cam-02')->html(), 'once');
        $entry = self::service(JournalEntries::class)->all($this->fresh($this->job))[0];
        self::assertStringContainsString('Secret shown', (string) History::why($entry));
        self::assertStringNotContainsString($secret, (string) json_encode($entry->edits));
    }

    public function testNumbersAreGivenInBulkOrRefusedWithTheReason(): void
    {
        $this->enter('lead');
        $this->changes()->write($this->fresh($this->job), new Change(new Message('x'), [
            Edit::add('devices', ['key' => 'ph-9', 'tag' => 'PH-19', 'kind' => 'desk-phone-poe', 'room' => 'Store', 'position' => 990]),
            Edit::add('nics', [
                'key' => 'ph-9.lan',
                'device' => 'ph-9',
                'name' => 'lan',
                'mac' => '00-00-5E-00-53-99',
                'segment' => 'voice',
                'mode' => 'reserved',
            ]),
        ]), 'Mara');
        $this->page('services');
        $this->send('/services/bulk', [], ['start' => '2899']);
        $plan = $this->plan($this->job);
        $given = $plan->extensionNumbered('2899') ?? self::fail('not numbered');
        self::assertSame(
            ['ph-9', null, ''],
            [$given->phone, $plan->accountOf($given->key)?->macEntered, $given->location],
            'nobody has entered it there, nobody has said where it stands',
        );
        $this->page('services');
        $this->send('/services/bulk', [], ['start' => '2101']);
        self::assertStringContainsString('Every phone of the roster has an extension already', $this->browser->followRedirect()->text());
        foreach ([
            ['9999', 'PH-09', 'This job has no number 9999'],
            ['2102', 'PH-99', 'The roster has no device "PH-99"'],
            ['2102', 'PH-02', 'PH-02 rings for 2102 already.'],
            ['2102', 'CAM-01', 'which cannot be that'],
            ['2102', 'PH-19', 'PH-19 rings for 2102 too.'],
            ['2102', 'PH-19', 'PH-19 rings for 2102 already.'],
        ] as [$number, $device, $said]) {
            $this->page('services');
            $this->send('/services/terminal', [], ['number' => $number, 'device' => $device]);
            self::assertStringContainsString($said, $this->browser->followRedirect()->text());
        }
        $plan = $this->plan($this->job);
        self::assertSame(['ph-02', 'ph-9'], $plan->ringing($plan->extensions['x2102']));
        self::assertStringContainsString('rings PH-02', $this->page('services?from=2101&digits=2102')->text());
        self::assertStringContainsString('a menu answers', $this->page('services?from=2101&digits=2200')->text());
        self::assertStringContainsString('never dialled as a test', $this->page('services?from=2101&digits=112')->text());
    }

    public function testAFilePreviewSaysWhatWasChangedSinceItWasTaken(): void
    {
        $this->enter('lead');
        $text = function (string $phone): string {
            $this->browser->request('GET', '/j/'.$this->job->slug.'/services/file/'.$phone);

            return (string) $this->browser->getResponse()->getContent();
        };
        self::service(Vault::class)->fill($this->fresh($this->job), $this->plan($this->job), 'Mara');
        self::service(EvidenceLog::class)->add($this->fresh($this->job), 'fetches', [
            'key' => 'now', 'device' => 'ph-02', 'mac' => '00-00-5E-00-53-06',
            'at' => self::service(JournalClock::class)->now('-1 second'), 'status' => 200, 'onSite' => true,
        ]);
        self::assertStringContainsString('and says the same since', $text('ph-02'));
        self::assertStringNotContainsString('It was taken', $text('ph-08'), 'nobody has taken that one');
        $plan = $this->plan($this->job);
        $extension = $plan->extensions['x2102'];
        self::service(ChangeWriter::class)->write($this->fresh($this->job), new Change(new Message('x'), [
            Edit::put('extensions', 'x2102', 'name', $extension->name, 'Gate house'),
        ]), 'Mara');
        $said = $text('ph-02');
        self::assertStringContainsString('displayName: Gate 2 → Gate house', $said);
        self::assertSame(1, preg_match_all('/ → /', $said), 'and nothing else');
    }

    public function testAFilePreviewHidesItsSecrets(): void
    {
        $this->enter('technician');
        self::service(Vault::class)->fill($this->fresh($this->job), $this->plan($this->job), 'Mara');
        $this->page('services/file/ph-01');
        $file = (string) $this->browser->getResponse()->getContent();
        self::assertStringContainsString('extension="2101"', $file);
        self::assertStringNotContainsString(
            (string) self::service(Vault::class)->secretOf($this->fresh($this->job), 'accounts/a2101', 'sip'),
            $file,
        );
        $this->page('services/file/ph-05');
        self::assertStringContainsString(
            'The MAC of PH-05 is not entered at the registrar for 2105 yet',
            (string) $this->browser->getResponse()->getContent(),
        );
    }

    public function testProofShowsVerdictsStalenessAndWhatMoved(): void
    {
        $this->enter('technician');
        $key = 'reach:tech>pbx-01:80/tcp';
        $basis = TestPlan::of($this->plan($this->job))->test($key)?->facts()->texts() ?? [];
        self::service(EvidenceLog::class)->add($this->fresh($this->job), 'observations', [
            'key' => 'o1',
            'test' => $key,
            'at' => self::service(JournalClock::class)->now(),
            'by' => 'Jo',
            'outcome' => 'answers',
            'detail' => 'HTTP 401',
            'basis' => $basis,
            'evidence' => ['raw line'],
        ]);
        $page = $this->page('proof?sel=tests/'.rawurlencode($key));
        self::assertMatchesRegularExpression('/passed/', $page->filter('#walk')->text());
        self::assertStringContainsString('raw line', $page->filter('#walk details')->text());
        $this->changes()->write(
            $this->fresh($this->job),
            new Change(new Message('x'), [Edit::setting('nics/pbx-01.lan#gateway', Face::Set, '10.64.20.1', '10.64.20.3')]),
            'Jo',
        );
        $page = $this->page('proof?sel=tests/'.rawurlencode($key));
        self::assertStringContainsString('outdated', $page->filter('#walk')->text());
        self::assertStringContainsString('gateway=10.64.20.3', $page->filter('#walk')->text());
        $this->send('/proof/run', [], ['which' => 'open']);
        $order = self::service(Orders::class)->open($this->fresh($this->job))[0];
        self::assertContains($key, (array) $order->what['tests']);
        self::assertStringContainsString('Running', $this->page('proof')->text());
    }

    public function testAFaultNeedsTheLab(): void
    {
        $this->enter('technician');
        self::assertCount(0, $this->page('proof')->filter('form[action$="/proof/fault"]'));
        $this->send('/proof/rehearse', [], ['lab' => 'on']);
        self::assertTrue($this->fresh($this->job)->rehearsed);
        $this->page('proof');
        $this->send('/proof/fault', [], ['fault' => 'wrong-mask', 'device' => 'cam-01']);
        self::assertStringContainsString('wrong mask is played at CAM-01', $this->browser->followRedirect()->text());
    }

    public function testWhatIsSentElsewhereComesBackHere(): void
    {
        $this->enter();
        $elsewhere = ['Mast' => '//evil.example/x', 'Bow' => "/j/x\r\nSet-Cookie: a=b", 'Stern' => "/j/x\0", 'Keel' => '/\\evil.example'];
        foreach ($elsewhere as $room => $back) {
            $this->page('devices');
            $this->send('/edit', ['record' => 'devices/cam-02', 'field' => 'room'], ['value' => $room, '_back' => $back]);
            self::assertSame('/j/'.$this->job->slug.'/devices', $this->browser->getResponse()->headers->get('Location'));
        }
        $this->browser->request('GET', '/j/no-such-job/brief');
        self::assertSame(404, $this->browser->getResponse()->getStatusCode());
    }

    public function testEvidenceIsNotWrittenByHand(): void
    {
        $this->enter();
        $token = (string) $this->page('devices')->filter('input[name=_token]')->first()->attr('value');
        foreach ([
            '/add/observations' => ['row' => ['test' => 'x', 'at' => '2026-03-01T09:00:00Z', 'by' => 'x', 'outcome' => 'answers']],
            '/edit' => ['record' => 'marks/sw-01.unpack', 'field' => 'by', 'before' => 'Jonas Aydin', 'value' => 'x'],
            '/remove' => ['record' => 'credentials/sw-01.admin'],
            '/edit?seen' => ['record' => 'settings/nics/sw-01.lan#gateway', 'field' => 'seen', 'value' => '10.64.10.1'],
            '/edit?secret' => ['record' => 'settings/accounts/a2101#sipSecret', 'field' => 'planned', 'value' => 'abc'],
        ] as $path => $form) {
            $this->browser->request('POST', '/j/'.$this->job->slug.$path, $form + ['_token' => $token]);
            self::assertSame(400, $this->browser->getResponse()->getStatusCode(), $path);
        }
        self::assertSame([], $this->plan($this->job)->rows('observations'));
    }

    /** @return array{device: string, step: string} a step that something stands in the way of */
    private function stepThatWaits(): array
    {
        $plan = $this->plan($this->fresh($this->job));
        foreach ($plan->devices as $device) {
            $sheet = RunSheet::of($plan, $device);
            foreach ($device->steps as $step) {
                if (null === $sheet->mark($step) && [] !== $sheet->obstacles($step) && null !== $device->nic()?->plannedAddress()) {
                    return ['device' => $device->key, 'step' => $step->code];
                }
            }
        }
        self::fail('nothing waits');
    }
}
