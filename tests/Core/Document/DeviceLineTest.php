<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Document;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Document\JobOutline;
use Vorhut\Core\Document\RosterPaste;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

/** Devices as they are noted in a mail, without headings and without tags. */
final class DeviceLineTest extends TestCase
{
    private static function plan(): Plan
    {
        return (new Jobs())
            ->segment('studio', '172.29.12.0/24', null, ['name' => 'Studio', 'vlan' => 12])
            ->segment('hall', '172.29.13.0/24', null, ['name' => 'Hall'])
            ->device('cam-04', 'ptz-camera', 'hall')->plan();
    }

    /** @return iterable<string, array{string, list<list<string|null>>}> tag, kind, room, segment, address, MAC, serial of each device */
    public static function lines(): iterable
    {
        yield 'everything by its form, in any order' => [
            'Video bar, Q7rT402, .31, Studio, Small meeting room, 00-00-5E-00-53-30',
            [['VB-01', 'video-bar', 'Small meeting room', 'studio', '172.29.12.31', '00-00-5E-00-53-30', 'Q7rT402']],
        ];
        yield 'the segment follows from the address' => [
            'touch panel; 172.29.13.32',
            [['TP-01', 'touch-panel', '', 'hall', '172.29.13.32', '', '']],
        ];
        yield 'a name before a value' => [
            'IP phone, VLAN 12, room: 101, s/n 77, tag P-9',
            [['P-9', 'desk-phone-poe', '101', 'studio', null, '', '77']],
        ];
        yield 'a series with a range, its tags go on' => [
            '3 × PTZ camera, Studio, .171-.173',
            [
                ['CAM-05', 'ptz-camera', '', 'studio', '172.29.12.171', '', ''],
                ['CAM-06', 'ptz-camera', '', 'studio', '172.29.12.172', '', ''],
                ['CAM-07', 'ptz-camera', '', 'studio', '172.29.12.173', '', ''],
            ],
        ];
        yield 'in plural, counted up from the first address' => [
            "2 projectors\tHall\t.9\t00:00:5e:00:53:41\t00:00:5e:00:53:42",
            [
                ['PJ-01', 'projector', '', 'hall', '172.29.13.9', '00-00-5E-00-53-41', ''],
                ['PJ-02', 'projector', '', 'hall', '172.29.13.10', '00-00-5E-00-53-42', ''],
            ],
        ];
    }

    /** @param list<list<string|null>> $devices */
    #[DataProvider('lines')]
    public function testALineIsReadByTheFormOfItsCells(string $line, array $devices): void
    {
        $before = self::plan();
        $paste = RosterPaste::of($before, $line);
        self::assertSame([], array_filter(array_column($paste->rows, 'why'), is_object(...)));
        $after = $before->with($paste->change());
        $found = [];
        foreach (array_diff_key($after->devices, $before->devices) as $device) {
            $nic = $device->nic();
            $found[] = [
                $device->tag, $device->kind->code, $device->room, $nic?->segment, $nic?->setting('address')->planned, (string) $nic?->mac,
                $device->serial,
            ];
        }
        self::assertSame($devices, $found);
    }

    /** @return iterable<string, array{string, string}> */
    public static function refusals(): iterable
    {
        yield 'fewer values than devices' => ['3 PTZ cameras, Studio, .171-.172', '3 devices, but 2 values for address.'];
        yield 'one MAC for two devices' => ['2 PTZ cameras, 00-00-5E-00-53-41', '2 devices, but 1 value for MAC.'];
        yield 'two cells of one form' => [
            'PTZ camera, S1, S2',
            '"S1" and "S2" are both read as serial. Write "serial: …" before the right one.',
        ];
        yield 'a short address without a segment' => ['PTZ camera, .7', '.7 is short for an address: name its segment too.'];
        yield 'not in its network' => ['PTZ camera, Hall, .300', '.300 is not a host of 172.29.13.0/24.'];
        yield 'too many' => ['900 PTZ cameras', 'Add 1 to 200 devices at a time.'];
        yield 'a word where a first number is needed' => [
            '2 PTZ cameras, tag Left',
            '"Left" does not end in a number: 2 values are counted up from it.',
        ];
    }

    #[DataProvider('refusals')]
    public function testALineThatCannotBeMeantIsRefusedWithItsReason(string $line, string $why): void
    {
        $paste = RosterPaste::of(self::plan(), $line);
        self::assertSame(['refused', $why], [$paste->rows[0]['fate'], (string) $paste->rows[0]['why']]);
        self::assertSame($line, $paste->refusedText(), 'once, as it was written');
    }

    public function testPhonesGetTheirExtensionsWithAnAccountAtTheOnlyPbx(): void
    {
        $before = self::plan();
        $paste = RosterPaste::of(
            $before,
            "3 IP phones, Hall, ext 6201-6203\nPBX, Studio, .10, label 10.99.2.9/24\nIP phone, Hall, ext 6202",
        );
        self::assertSame(['', '', '', '', 'The extension 6202 is taken.'], array_map(strval(...), array_column($paste->rows, 'why')));
        $after = $before->with($paste->change());
        $pbx = $after->deviceTagged('PBX-01')?->key;
        self::assertSame(
            [['6201', $pbx, 'PH-01', '6201'], ['6202', $pbx, 'PH-02', '6202'], ['6203', $pbx, 'PH-03', '6203']],
            array_values(array_map(static fn ($one): array => [
                $one->number,
                $one->pbx,
                $after->devices[$one->phone ?? '']->tag ?? '',
                $after->accountOf($one->key)?->user,
            ], $after->extensions)),
        );
        self::assertFalse($after->extensionNumbered('6201')?->voicemail, 'nobody asked for a mailbox');
        $row = $after->row('devices', (string) $pbx) ?? [];
        self::assertSame(['10.99.2.9', '/24'], [$row['labelAddress'] ?? null, $row['labelMask'] ?? null]);
    }

    public function testAPhoneOfTheRosterGetsItsExtensionToo(): void
    {
        $before = (new Jobs())->segment('s', '10.64.30.0/24')->device('P', 'desk-phone-poe', 's')->device('pbx', 'on-site-pbx', 's')
            ->number('6201', 'P')->plan();
        $paste = RosterPaste::of($before, "tag\text\nP\t6201\nPBX\t\nP\t6202");
        self::assertSame(['same', 'same', 'refused'], array_column($paste->rows, 'fate'));
        $paste = RosterPaste::of($before, "tag\text\tdefault ip\nP\t6202\t10.99.2.9/24");
        self::assertSame(['changed'], array_column($paste->rows, 'fate'));
        $after = $before->with($paste->change());
        self::assertSame(['6201', '6202'], array_map(static fn ($one): string => $one->number, $after->extensionsOf('P')));
        self::assertSame('10.99.2.9', $after->row('devices', 'P')['labelAddress'] ?? null);
    }

    public function testLinesAndATableMayFollowEachOther(): void
    {
        $plan = (new Jobs())->plan();
        $text = "Studio 172.29.12.0/24\n2 PTZ cameras, .31\n\nTag\tType\tIP\nCAM-09\tPTZ\t172.29.12.39";
        $outline = JobOutline::read($plan, $text);
        $after = $plan->with(new Change(new Message(''), $outline->edits));
        self::assertSame(['CAM-01', 'CAM-02', 'CAM-09'], array_values(array_map(static fn ($one): string => $one->tag, $after->devices)));
        $refused = JobOutline::read($plan, str_replace('PTZ cameras, .31', 'PTZ cameras, .31-.39', $text));
        self::assertSame("2 PTZ cameras, .31-.39, segment: Studio\nTag\tType\tIP\nCAM-09\tPTZ\t172.29.12.39", $refused->left);
        $networks = $plan->with(new Change(new Message(''), $refused->edits));
        self::assertSame([], $networks->devices);
        $paste = RosterPaste::of($networks, $refused->left."\nCAM-08\tToaster\t");
        self::assertSame(['refused', 'new', 'refused'], array_column($paste->rows, 'fate'));
        self::assertSame([1, 3, 4], array_column($paste->rows, 'n'));
        self::assertSame("2 PTZ cameras, .31-.39, segment: Studio\nTag\tType\tIP\nCAM-08\tToaster\t", $paste->refusedText());
    }

    public function testASeriesIsTakenWholeOrNotAtAll(): void
    {
        $paste = RosterPaste::of(
            self::plan(),
            "3 IP phones, Hall, ext 6201-6203\n2 IP phones, Hall, ext 6203-6204\nIP phone, Hall, ext 6204",
        );
        self::assertSame(['new', 'new', 'new', 'refused', 'new'], array_column($paste->rows, 'fate'));
        self::assertSame('2 IP phones, Hall, ext 6203-6204', $paste->refusedText());
        $after = self::plan()->with($paste->change());
        $numbers = array_map(static fn ($one): string => $one->number, $after->extensions);
        self::assertSame(['6201', '6202', '6203', '6204'], array_values($numbers));
        self::assertNotNull($after->deviceTagged('PH-04'));
        self::assertNull($after->deviceTagged('PH-05'));
    }

    public function testARowOfATableHasATag(): void
    {
        $paste = RosterPaste::of(self::plan(), "tag\tkind\n\tPTZ");
        self::assertSame('The tag is missing.', (string) $paste->rows[0]['why']);
    }

    public function testAWholeAddressIsNotPutIntoTheNetworkAbove(): void
    {
        $plan = (new Jobs())->plan();
        $outline = JobOutline::read(
            $plan,
            "Hall 10.64.30.0/24\nStudio 10.64.31.0/24\nPTZ camera, 10.64.30.7\nPTZ camera, dhcp\nProjector, Hall",
        );
        $after = $plan->with(new Change(new Message(''), $outline->edits));
        $where = array_map(static fn ($one): string => $one->tag.' '.$one->nic()?->segment, $after->devices);
        self::assertSame(['CAM-01 hall', 'CAM-02 studio', 'PJ-01 hall'], array_values($where));
        self::assertTrue($after->deviceTagged('CAM-02')?->nic()?->pooled);
    }

    public function testDevicesBelowTheirNetworkAreInIt(): void
    {
        $plan = (new Jobs())->plan();
        $outline = JobOutline::read($plan, <<<TEXT
            House 10.135.60.0/24, gateway .1, DNS 10.135.8.4
            2 presentation gateways, .41-.42
            Island 192.168.94.0/24, no router
            2 local presentation gateways, .11
            Projector, House, .50

            Recording PC, 192.168.94.20
            TEXT);
        self::assertSame('', $outline->left);
        $plan = $plan->with(new Change(new Message(''), $outline->edits));
        $addresses = array_map(static fn ($one): string => $one->tag.' '.$one->nic()?->setting('address')->planned, $plan->devices);
        self::assertSame([
            'PG-01 10.135.60.41', 'PG-02 10.135.60.42', 'PL-01 192.168.94.11', 'PL-02 192.168.94.12', 'PJ-01 10.135.60.50',
            'PC-01 192.168.94.20',
        ], array_values($addresses));
    }
}
