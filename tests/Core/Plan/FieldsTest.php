<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Fact;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Plan\TrackedValue;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

final class FieldsTest extends TestCase
{
    /** @return iterable<string, array{FieldType, string, mixed}> typed → stored */
    public static function typed(): iterable
    {
        yield 'address' => [FieldType::Address, ' 10.64.20.1 ', '10.64.20.1'];
        yield 'mask, dotted' => [FieldType::Mask, '255.255.254.0', '/23'];
        yield 'network, spaced' => [FieldType::Network, '10.64.20.0 255.255.255.0', '10.64.20.0/24'];
        yield 'MAC' => [FieldType::Mac, '00005e0053af', '00-00-5E-00-53-AF'];
        yield 'host name' => [FieldType::HostName, 'CAM-01.Quay', 'cam-01.quay'];
        yield 'host by name' => [FieldType::Host, ' Files.Quay.example', 'files.quay.example'];
        yield 'host by address' => [FieldType::Host, '10.64.20.1', '10.64.20.1'];
        yield 'fingerprint' => [FieldType::Fingerprint, implode(':', array_fill(0, 32, 'A0')), str_repeat('a0', 32)];
        yield 'number' => [FieldType::Number, '0042', 42];
        yield 'yes' => [FieldType::Flag, 'Yes', true];
        yield 'nothing is no' => [FieldType::Flag, '', false];
        yield 'time zone' => [FieldType::TimeZone, 'Europe/Oslo', 'Europe/Oslo'];
        yield 'dialled' => [FieldType::Dialled, '*97', '*97'];
        yield 'a port over TCP' => [FieldType::AskedPort, '554/TCP', '554/tcp'];
        yield 'SIP over UDP' => [FieldType::AskedPort, '5060/udp', '5060/udp'];
        yield 'ranges' => [
            FieldType::Ranges,
            "10.64.20.100-149\n10.64.20.200/30",
            ['10.64.20.100-10.64.20.149', '10.64.20.200-10.64.20.203'],
        ];
        yield 'ranges in one line' => [FieldType::Ranges, '10.64.20.5; 10.64.20.9-12', ['10.64.20.5', '10.64.20.9-10.64.20.12']];
        yield 'labelled' => [
            FieldType::LabelledRanges,
            '10.64.20.2-9 the administrator',
            [['range' => '10.64.20.2-10.64.20.9', 'for' => 'the administrator']],
        ];
        yield 'ranges with blanks and commas' => [
            FieldType::Ranges,
            '10.64.20.5, 10.64.20.9 - 10.64.20.12  10.64.20.20',
            ['10.64.20.5', '10.64.20.9-10.64.20.12', '10.64.20.20'],
        ];
        yield 'interfaces with commas' => [FieldType::Interfaces, '10.64.20.5/24, 10.64.21.5/24', ['10.64.20.5/24', '10.64.21.5/24']];
        yield 'VLAN' => [FieldType::Vlan, '4094', 4094];
        yield 'no VLAN' => [FieldType::Vlan, '-', 0];
        yield 'no DNS server' => [FieldType::AddressOrNone, 'None', 'none'];
        yield 'a time server' => [FieldType::HostOrNone, 'ntp.port.example', 'ntp.port.example'];
        yield 'no time server' => [FieldType::HostOrNone, '-', 'none'];
        yield 'texts' => [FieldType::Texts, "112\n\n113; 110", ['112', '113', '110']];
        yield 'mail' => [FieldType::Mail, 'net@port.example', 'net@port.example'];
        yield 'time' => [FieldType::Time, '2026-03-01T09:30:00Z', '2026-03-01T09:30:00Z'];
    }

    #[DataProvider('typed')]
    public function testWhatIsTypedIsStoredInOneFormAndShownSoThatItReadsBack(FieldType $type, string $text, mixed $stored): void
    {
        self::assertSame($stored, $type->read($text));
        self::assertSame($stored, $type->read($type->show($stored)), 'from the field again');
        self::assertSame($stored, $type->check($stored), 'and from a document');
    }

    /** @return iterable<string, array{FieldType, string}> */
    public static function refused(): iterable
    {
        yield 'number' => [FieldType::Number, '4.2'];
        yield 'negative' => [FieldType::Number, '-1'];
        yield 'a port that nobody can be asked at' => [FieldType::AskedPort, '5568/udp'];
        yield 'flag' => [FieldType::Flag, 'maybe'];
        yield 'VLAN' => [FieldType::Vlan, '4095'];
        yield 'VLAN by name' => [FieldType::Vlan, 'voice'];
        yield 'zone' => [FieldType::TimeZone, 'CET+1'];
        yield 'dialled' => [FieldType::Dialled, '+47 22'];
        yield 'label without a reason' => [FieldType::LabelledRanges, '10.64.20.2-9'];
        yield 'mail' => [FieldType::Mail, 'net@'];
        yield 'time' => [FieldType::Time, 'yesterday'];
        yield 'key' => [FieldType::Key, 'Has Spaces'];
    }

    #[DataProvider('refused')]
    public function testTheRestIsRefusedInAWholeSentence(FieldType $type, string $text): void
    {
        $this->expectException(Malformed::class);
        $this->expectExceptionMessageMatches('/^"?.+[.:].*$/');
        $type->read($text);
    }

    public function testEveryFieldOfEverySectionIsBounded(): void
    {
        foreach (Schema::sections() as $section => $fields) {
            $names = array_map(static fn ($field): string => $field->name, $fields);
            self::assertSame($names, array_unique($names), $section);
            self::assertNotContains('key', $names, 'every record has one anyway');
            foreach ($fields as $field) {
                self::assertTrue(
                    null === $field->pointsTo || 'kinds' === $field->pointsTo || isset(Schema::sections()[$field->pointsTo]),
                    "$section.$field->name",
                );
            }
        }
        $this->expectExceptionMessage('outside 1 to 255');
        Schema::field('groups', 'ttl')?->read('256');
    }

    public function testADocumentMayHoldATimeServerAsItWasOnceTyped(): void
    {
        self::assertSame('10.0.0.1 or 10.0.0.2', FieldType::HostOrNone->check('10.0.0.1 or 10.0.0.2'));
        $this->expectException(Malformed::class);
        FieldType::HostOrNone->read('10.0.0.1 or 10.0.0.2');
    }

    public function testALongTextIsRefusedBeforeTheDatabaseCutsIt(): void
    {
        self::assertSame(str_repeat('ø', 250), Schema::field('devices', 'room')?->read(str_repeat('ø', 250)));
        $this->expectExceptionMessage('longer than 250');
        Schema::field('devices', 'room')->read(str_repeat('ø', 251));
    }

    public function testNoJobDeclaresThisMachineGroupsOrEverybody(): void
    {
        foreach (['2.0.0.0/8', '10.0.0.0/8', '169.254.0.0/16', '192.0.2.0/31', '223.255.255.0/24'] as $network) {
            self::assertSame($network, FieldType::SiteNetwork->read($network));
        }
        foreach ([
            '0.0.0.0/0', '0.0.0.0/8', '0.1.0.0/16', '127.0.0.0/8', '127.0.0.1/32', '126.0.0.0/7', '224.0.0.0/4', '239.1.0.0/16',
            '255.255.255.255/32', '240.0.0.0/4', '128.0.0.0/1', '10.0.0.0/7', '8.0.0.0/7',
        ] as $network) {
            try {
                FieldType::SiteNetwork->read($network);
                self::fail($network);
            } catch (Malformed $e) {
                self::assertMatchesRegularExpression('/cannot be a network|wider than any site|inside a network/', $e->getMessage());
            }
        }
        self::assertSame('0.0.0.0/0', FieldType::Network->read('0.0.0.0/0'), 'but a route may lead everywhere');
    }

    public function testTheNearestKnownFaceCounts(): void
    {
        $value = new TrackedValue('p', 's', 'x');
        self::assertSame(['p', 's', 'x'], array_map($value->effective(...), Face::cases()));
        self::assertSame(['p', 'p', 'p'], array_map((new TrackedValue('p'))->effective(...), Face::cases()));
        self::assertSame(
            ['p', '', ''],
            array_map((new TrackedValue('p', ''))->effective(...), Face::cases()),
            'blank is a value, not a gap',
        );
        self::assertSame('p', (new TrackedValue('p'))->own(Face::Planned));
        self::assertNull((new TrackedValue(null, 's'))->withDefault('d')->own(Face::Planned), 'inherited is not its own');
        self::assertSame('d', (new TrackedValue(null, 's'))->withDefault('d')->planned);
        self::assertSame('', (new TrackedValue(''))->withDefault('d')->planned);
    }

    public function testFactsCompareAsTextsAndAStepKnowsWhatItReadItself(): void
    {
        $facts = new Facts();
        $facts->note('nics/a:mask', '/24');
        $facts->note('nics/a:address', '10.0.0.1');
        $mark = $facts->mark();
        $facts->note('nics/a:mask', '/24');
        $facts->note('nics/a:mask', '/24');
        $facts->note('devices/r:stateful', true);
        $facts->note('nics/a:gateway', null);

        self::assertSame(['devices/r:stateful=yes', 'nics/a:address=10.0.0.1', 'nics/a:gateway=?', 'nics/a:mask=/24'], $facts->texts());
        self::assertSame(
            ['mask', 'stateful', 'gateway'],
            array_map(static fn (Fact $fact): string => $fact->field(), $facts->between($mark, $facts->mark())),
        );
        self::assertSame(['nics/a', 'mask', 'a=b'], [
            Fact::fromString('nics/a:mask=a=b')->record(),
            Fact::fromString('nics/a:mask=a=b')->field(),
            Fact::fromString('nics/a:mask=a=b')->value,
        ]);
    }

    public function testAnEditSurvivesItsJsonAndTurnsRound(): void
    {
        $row = ['key' => 'f', 'router' => 'r', 'position' => 3, 'action' => 'deny'];
        foreach ([
            Edit::put('segments', 's', 'pools', null, ['10.0.0.1']),
            Edit::setting('nics/a#gateway', Face::Set, '', '10.0.0.1'),
            Edit::add('filters', $row),
            Edit::remove('filters', $row),
        ] as $edit) {
            $json = json_decode((string) json_encode($edit), true);
            self::assertEquals($edit, Edit::fromArray(\is_array($json) ? $json : []));
            self::assertEquals($edit, $edit->reverse()->reverse());
        }
    }

    public function testAChangeAndItsReverseLeaveThePlanAsItWas(): void
    {
        $plan = (new Jobs())
            ->segment('s', '10.64.20.0/24', '10.64.20.1')
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.20.31'])
            ->plan();
        $change = new Change(new Message('x'), [
            Edit::put('devices', 'c', 'room', null, 'Hall'),
            Edit::setting('nics/c.lan#address', Face::Planned, '10.64.20.31', '10.64.20.32'),
            Edit::add('tests', ['key' => 'l', 'what' => 'reach', 'from' => 's', 'to' => 'c']),
        ]);
        $after = $plan->with($change);

        self::assertSame(['Hall', '10.64.20.32', 1], [
            $after->devices['c']->room,
            (string) $after->nics['c.lan']->plannedAddress(),
            \count($after->tests),
        ]);
        self::assertSame('', $plan->devices['c']->room, 'the snapshot itself never changes');
        $back = $after->with($change->reverse(new Message('y')));
        self::assertSame(['', '10.64.20.31', 0], [
            $back->devices['c']->room,
            (string) $back->nics['c.lan']->plannedAddress(),
            \count($back->tests),
        ]);
    }

    public function testANicIsSilentUntilItHasAnAddressThenItsSegmentSpeaks(): void
    {
        $plan = (new Jobs())
            ->segment('s', '10.64.20.0/23', '10.64.20.1', ['dns' => '10.64.20.5'])
            ->device('c', 'ptz-camera', 's')
            ->device('d', 'ptz-camera', 's', ['address' => '10.64.20.31', 'dns' => ''])
            ->plan();

        self::assertNull($plan->nics['c.lan']->setting('mask')->planned);
        self::assertSame(['/23', '10.64.20.1', ''], [
            $plan->nics['d.lan']->setting('mask')->planned,
            $plan->nics['d.lan']->setting('gateway')->planned,
            $plan->nics['d.lan']->setting('dns')->planned,
        ]);
    }

    public function testARecordIsCalledAsPeopleCallIt(): void
    {
        $plan = (new Jobs())
            ->segment('v', '10.64.20.0/24')
            ->device('pbx', 'on-site-pbx', 'v', ['address' => '10.64.20.10'])
            ->phone('p', 'v', '10.64.20.31', '2101')
            ->plan();

        self::assertSame(
            ['P', 'P', 'P', 'V', '2101', '2101', 'gone'],
            array_map(static fn (array $one): string => $plan->nameOf(...$one), [
                ['devices', 'p'],
                ['nics', 'p.lan'],
                ['settings', 'nics/p.lan#address'],
                ['segments', 'v'],
                ['extensions', 'x2101'],
                ['accounts', 'a2101'],
                ['devices', 'gone'],
            ]),
        );
    }

    public function testKeysAreMadeFitAndFree(): void
    {
        $plan = (new Jobs())->segment('hall-av', '10.64.20.0/24')->plan();

        self::assertSame(['hall-av-2', 'quay-ost', 'x'], [
            $plan->freeKey('segments', 'Hall AV'),
            $plan->freeKey('segments', '  Quay / Ost! '),
            $plan->freeKey('segments', '—'),
        ]);
    }
}
