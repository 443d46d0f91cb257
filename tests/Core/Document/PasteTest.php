<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Document;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Document\RosterPaste;
use Vorhut\Core\Document\Table;
use Vorhut\Core\Net\Malformed;
use Vorhut\Tests\Support\Jobs;

/** Tables as spreadsheets, mails and CSV files give them. */
final class PasteTest extends TestCase
{
    private static function paste(string $text): RosterPaste
    {
        return RosterPaste::of(
            (new Jobs())->segment('quay', '10.64.40.0/24', null, ['vlan' => 40])->device('old', 'ptz-camera', 'quay')->plan(),
            $text,
        );
    }

    /** @return iterable<string, array{string}> one good row each: CAM-7, a PTZ camera in "Mast, top" on the quay */
    public static function shapes(): iterable
    {
        yield 'tabs' => ["CAM-7\tPTZ camera\tMast, top\tquay\t00005e005370\tS7"];
        yield 'semicolons' => ['CAM-7;PTZ camera;Mast, top;quay;00005e005370;S7'];
        yield 'commas with quotes' => ['CAM-7,PTZ camera,"Mast, top",quay,00005e005370,S7'];
        yield 'line ends of another system' => ["\r\nCAM-7\tPTZ camera\tMast, top\tquay\t00005e005370\tS7\r\n\r\n"];
        yield 'the code of the kind, the name of the segment' => ["CAM-7\tptz-camera\tMast, top\tQUAY\t00-00-5E-00-53-70\tS7"];
        yield 'the network of the segment' => ["CAM-7\tPTZ CAMERA\tMast, top\t10.64.40.0/24\t0000.5e00.5370\tS7"];
        yield 'the VLAN of the segment' => ["CAM-7\tPTZ camera\tMast, top\t40\t00:00:5e:00:53:70\tS7"];
        yield 'columns in another order' => ["Serial\tTag\tMAC\tSegment\tKind\tRoom\nS7\tCAM-7\t00005e005370\tquay\tPTZ camera\tMast, top"];
    }

    #[DataProvider('shapes')]
    public function testOneRowHoweverItIsWritten(string $text): void
    {
        $paste = self::paste($text);
        self::assertSame([['new', '']], array_map(static fn (array $row): array => [$row['fate'], (string) $row['why']], $paste->rows));
        $plan = (new Jobs())->segment('quay', '10.64.40.0/24')->plan()->with($paste->change());
        $device = $plan->deviceTagged('CAM-7');
        self::assertSame(['ptz-camera', 'Mast, top', 'S7', 'quay', '00-00-5E-00-53-70'], [
            $device?->kind->code,
            $device?->room,
            $device?->serial,
            $device?->nic()?->segment,
            (string) $device?->nic()?->mac,
        ]);
    }

    public function testRowsOfOneTableKnowEachOther(): void
    {
        $paste = self::paste(
            "A\tPTZ camera\t\tquay\t00005e005371\nA\tPTZ camera\t\tquay\nB\tPTZ camera\t\tquay\t00005e005371\nC\tDesk phone, PoE",
        );
        self::assertSame(
            ['', 'A is in the roster already.', '00-00-5E-00-53-71 is the MAC of A already.', ''],
            array_map(strval(...), array_column($paste->rows, 'why')),
        );
        self::assertSame([1, 2, 3, 4], array_column($paste->rows, 'n'));
        self::assertSame("A\tPTZ camera\t\tquay\nB\tPTZ camera\t\tquay\t00005e005371", $paste->refusedText());
        self::assertSame('2 devices pasted.', (string) $paste->change()->why);
    }

    public function testAListAsPeopleKeepItIsReadWithItsTitleSectionsAndTotals(): void
    {
        $paste = self::paste(<<<LIST
            AV equipment list\t\t\t\t\t\t
            Device Name\tModel\tLocation\tVLAN\tMAC Address\tIP Address\tNotes
            Ground floor\t\t\t\t\t\t
            CAM-1\tPTZ\tHall\t40\t00:00:5e:00:53:71\t10.64.40.31/24\tfacing the quay
            CAM-2\tPTZ\tHall\t40\tTBC\tTBC\t
            CAM-3\tPTZ\tHall\t40\t\tDHCP\t
            Total\t3\t\t\t\t\t
            LIST);
        self::assertSame(['ignored', 'new', 'new', 'new', 'ignored'], array_column($paste->rows, 'fate'));
        self::assertSame([3, 0], [$paste->good(), $paste->refused()]);
        $plan = (new Jobs())->segment('quay', '10.64.40.0/24')->plan()->with($paste->change());
        $one = $plan->deviceTagged('CAM-1')?->nic() ?? self::fail('CAM-1');
        self::assertSame(['10.64.40.31', '00-00-5E-00-53-71'], [$one->setting('address')->planned, (string) $one->mac]);
        self::assertSame('facing the quay', $plan->row('devices', 'cam-1')['note'] ?? null);
        self::assertNull($plan->deviceTagged('CAM-2')?->nic()?->mac);
        self::assertTrue($plan->deviceTagged('CAM-3')?->nic()?->pooled);
    }

    public function testADeviceOfTheRosterIsUpdatedAndEmptyCellsChangeNothing(): void
    {
        $plan = (new Jobs())
            ->segment('quay', '10.64.40.0/24', null, ['vlan' => 40])->segment('hall', '10.64.41.0/24')
            ->device('old', 'ptz-camera', 'quay', ['address' => '10.64.40.9'], ['room' => 'Hall', 'serial' => 'S1'])->plan();
        $paste = RosterPaste::of($plan, "tag\tkind\troom\tsegment\tMAC\tserial\tIP\nOLD\t\tTower\thall\t00005e005371\t\t10.64.41.9");
        self::assertSame(['changed'], array_column($paste->rows, 'fate'));
        self::assertSame([1, 1, 0], [$paste->changed, $paste->good(), $paste->refused()]);
        self::assertSame(
            'room: Hall → Tower. MAC: – → 00-00-5E-00-53-71. segment: QUAY → HALL. Address: 10.64.40.9 → 10.64.41.9.',
            (string) $paste->rows[0]['why'],
        );
        $after = $plan->with($paste->change());
        $device = $after->devices['old'];
        self::assertSame(['Tower', 'S1', 'hall'], [$device->room, $device->serial, $device->nic()?->segment]);
        $again = RosterPaste::of($after, "tag\tkind\troom\nOLD\tPTZ\tTower\nOLD\tPTZ\tHall\nold\tRouter\tHall");
        self::assertSame(['same', 'refused', 'refused'], array_column($again->rows, 'fate'), 'once in a table');
        self::assertSame('OLD is a PTZ camera in the roster.', (string) RosterPaste::of($after, "tag\tkind\nOLD\tRouter")->rows[0]['why']);
    }

    public function testOfTwoColumnsWithOneMeaningTheSecondIsAskedAbout(): void
    {
        $paste = self::paste("Tag\tType\tModel\nA\tPTZ\tXY-200");
        self::assertSame(['Model'], $paste->unknown);
        self::assertTrue($paste->change()->isEmpty(), 'nothing is dropped');
    }

    public function testAnAddressWithAMaskNamesItsSegmentAndMustFitIt(): void
    {
        $paste = self::paste("Tag\tKind\tVLAN\tIP\nA\tPTZ\t\t10.64.40.31/24\nB\tPTZ\t40\t10.64.40.32/25\nC\tPTZ\t\t10.9.0.1/24");
        self::assertSame(
            ['', '10.64.40.32 is in 10.64.40.0/25, but QUAY is 10.64.40.0/24.', ''],
            array_map(strval(...), array_column($paste->rows, 'why')),
        );
        $plan = (new Jobs())->segment('quay', '10.64.40.0/24')->plan()->with($paste->change());
        self::assertSame('quay', $plan->deviceTagged('A')?->nic()?->segment);
        self::assertNull($plan->deviceTagged('C')?->nic()?->segment);
    }

    public function testAWordThatIsAValueAndATagLikeATotalStay(): void
    {
        $paste = self::paste("Tag\tKind\tRoom\tNotes\nSUM-1\tPTZ\tTBC\tunknown\nTotal:\t1\t\t");
        self::assertSame(['new', 'ignored'], array_column($paste->rows, 'fate'));
        $plan = (new Jobs())->plan()->with($paste->change());
        self::assertSame(['TBC', 'unknown'], [$plan->devices['sum-1']->room, $plan->row('devices', 'sum-1')['note'] ?? null]);
    }

    public function testDhcpIsSetAtAKnownDeviceToo(): void
    {
        $plan = (new Jobs())->segment('quay', '10.64.40.0/24')->device('old', 'ptz-camera', 'quay')->plan();
        $paste = RosterPaste::of($plan, "Tag\tKind\tIP\nOLD\t\tdhcp");
        self::assertSame(['changed'], array_column($paste->rows, 'fate'));
        self::assertTrue($plan->with($paste->change())->devices['old']->nic()?->pooled);
    }

    public function testAColumnThatMeansNothingIsAskedAboutAndNeverDropped(): void
    {
        $text = "tag\tkind\tcolour\tGain\nA\tPTZ camera\tred\t4";
        $paste = self::paste($text);
        self::assertSame(['colour', 'Gain'], $paste->unknown);
        self::assertTrue($paste->change()->isEmpty(), 'nothing is taken before it is said');
        $plan = (new Jobs())->plan();
        $said = RosterPaste::of($plan, $text, ['colour' => '-', 'Gain' => 'hostName']);
        self::assertSame([], $said->unknown);
        self::assertSame('4', $plan->with($said->change())->deviceTagged('A')?->setting('hostName')->planned ?? '4');
        self::assertSame(['7'], RosterPaste::of($plan, "A\tPTZ camera\t\t\t\t\tand this")->unknown, 'a cell beyond the columns');
    }

    public function testASettingThatTheKindHasNotRefusesItsRowAlone(): void
    {
        $paste = self::paste(
            "tag,kind,ring output,hostName\nA,PTZ camera,speaker,cam-a\nB,\"Desk phone, PoE\",Headset,\nC,PTZ camera,,not a name!",
        );
        self::assertSame(
            [
                'A PTZ camera has no setting "ringOutput".',
                '',
                '"not a name!" is not a host name: "not a name!" must be letters, digits and inner hyphens, at most 63.',
            ],
            array_map(strval(...), array_column($paste->rows, 'why')),
        );
        self::assertSame('headset', (new Jobs())->plan()->with($paste->change())->deviceTagged('B')?->setting('ringOutput')->planned);
    }

    public function testAQuotedCellMayHoldALineBreakAndAStrayQuoteSwallowsNothing(): void
    {
        $paste = self::paste(
            "tag,kind,room\nA,PTZ camera,\"Hall,\nnorth \"\"wing\"\"\"\nB,PTZ camera,19\" rack\nC,PTZ camera,\"never closed",
        );
        self::assertSame(['A', 'B', 'C'], array_map(static fn (array $row): string => $row['cells']['tag'], $paste->rows));
        self::assertSame(
            ["Hall,\nnorth \"wing\"", '19" rack', '"never closed'],
            array_map(static fn (array $row): string => $row['cells']['room'], $paste->rows),
        );
        self::assertSame([2, 4, 5], array_column($paste->rows, 'n'));
    }

    public function testABlankOnPurposeIsTakenAsThat(): void
    {
        $plan = (new Jobs())->segment('quay', '10.64.40.0/24', '10.64.40.1')->plan();
        $paste = RosterPaste::of($plan, "tag;kind;segment;lan.gateway;address\nA;ptz-camera;quay;-;10.64.40.31");
        self::assertSame('', $plan->with($paste->change())->deviceTagged('A')?->nic()?->setting('gateway')->planned);
    }

    public function testAPhoneBringsBothItsPortsAndTheRosterGoesOn(): void
    {
        $plan = (new Jobs())->segment('quay', '10.64.40.0/24')->device('old', 'ptz-camera', 'quay')->plan();
        $after = $plan->with(RosterPaste::of($plan, "P\tDesk phone, PoE\t\tquay\t00005e005372")->change());
        $phone = $after->deviceTagged('P');

        self::assertSame(['lan', 'pc'], array_map(static fn ($nic): string => $nic->name, $phone->nics ?? []));
        self::assertSame([true, null], [$phone?->nics[1]->passive, $phone?->nics[1]->segment]);
        self::assertTrue($phone?->nic()?->reserved);
        self::assertSame(['old', 'p'], array_keys($after->devices), 'behind what is there');
    }

    public function testAnEmptyQuotedCellIsACell(): void
    {
        self::assertSame(
            [['', 'b', ''], ['say "x"', 'd']],
            array_column(Table::fromText("\"\",b,\"\"\n\"say \"\"x\"\"\",d")->rows, 'cells'),
        );
    }

    public function testNothingComesOfNothing(): void
    {
        self::assertSame([], self::paste("  \n\n\t\n")->rows);
        self::assertTrue(self::paste('tag;kind')->change()->isEmpty());
    }

    public function testHeadingsAreFoundInOneColumnAndBelowATitle(): void
    {
        self::assertSame(['CAM-7'], array_column(array_column(self::paste("Tag\nCAM-7")->rows, 'cells'), 'tag'));
        $rows = self::paste("Weir, cameras\n\nTag,Type\nCAM-7,PTZ")->rows;
        self::assertSame([['CAM-7', 'new']], array_map(static fn (array $row): array => [$row['cells']['tag'], $row['fate']], $rows));
        self::assertSame(['new'], array_column(self::paste('CAM-7,PTZ,Tag of the hall')->rows, 'fate'), 'one word alone is no heading');
        self::assertSame(['7', '8'], self::paste("CAM-7,PTZ,Hall,,,,one,two\nCAM-8,PTZ,Hall,,,,three,")->unknown);
    }

    public function testATableWithMoreColumnsThanAnyoneKeepsIsRefused(): void
    {
        self::assertCount(200, Table::fromText(str_repeat("a\t", 199).'b')->rows[0]['cells']);
        $this->expectException(Malformed::class);
        $this->expectExceptionMessage('Line 2 has more than 200 columns.');
        Table::fromText("a\tb\n".str_repeat("a\t", 20_000));
    }
}
