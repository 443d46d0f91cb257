<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Catalogue;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\SheetValue;
use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\KindValidator;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Document\RosterPaste;
use Vorhut\Core\Document\Schedules;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Library\CatalogueFiles;
use Vorhut\Tests\Support\Facts;

/** A kind, its settings and an agreement between two of them come from files alone: no line of code knows them. */
final class FileOnlyKindTest extends TestCase
{
    private const KIND = <<<'YAML'
        name: Tide gauge
        roles: [controlled]
        factory:
          - { when: new, state: fixed, address: 10.9.8.7/24 }
          - { when: reset, state: dhcp }
        login: { pattern: fixed, user: tide, password: ebb }
        ports:
          - { name: lan }
        settings:
          - ip
          - { name: datum, label: Datum, type: number, unit: cm, least: -500, most: 500, group: gauge }
          - { name: display, label: Display shows, type: choice, choices: [mean, low], group: gauge }
          - { name: zero, label: Zero of the float, type: number, unit: cm, group: gauge, default: 0 }
        services:
          - { name: admin, port: 80/tcp }
        tells: [label]
        steps:
          - { code: plug, do: Plug it in., effects: [powers] }
          - code: give
            do: Give it its address.
            effects: [addresses]
            copies: [address, datum]
            records: [address, mask, gateway, dns, datum]
          - { code: float, do: Read the zero off the float., reads: [zero], records: [display], copies: [display] }
          - { code: hold, do: Hold the float still. }
          - { code: release, do: Let the float go., undoes: hold }
        writable: true
        admin: { status: /s, settings: /w, fields: { zero: z } }
        YAML;
    private const AGREEMENT = <<<'YAML'
        name: The zero of the float is its datum
        between:
          float: { every: device, role: controlled, setting: zero }
          datum: { of: float, by: device, setting: datum }
        relation: equal
        gives: float
        broken: '{float} reads from {float.value}, its datum is {datum.value}.'
        why: The tide table is wrong by the difference.
        todo: 'Set the zero of {float} to {datum.value}.'
        YAML;

    private static string $folder;

    public static function setUpBeforeClass(): void
    {
        self::$folder = sys_get_temp_dir().'/vorhut-kinds-'.bin2hex(random_bytes(5));
        foreach (['kinds', 'settings', 'agreements'] as $sort) {
            mkdir(self::$folder.'/'.$sort, 0o700, true);
        }
        copy(\dirname(__DIR__, 3).'/settings/ip.yaml', self::$folder.'/settings/ip.yaml');
        file_put_contents(self::$folder.'/kinds/tide-gauge.yaml', self::KIND);
        file_put_contents(self::$folder.'/agreements/float-zero.yaml', self::AGREEMENT);
        // The same, and nobody controls it: the agreement is not about it.
        file_put_contents(
            self::$folder.'/kinds/tide-board.yaml',
            strtr(self::KIND, ['Tide gauge' => 'Tide board', '[controlled]' => '[]']),
        );
    }

    public static function tearDownAfterClass(): void
    {
        array_map(unlink(...), glob(self::$folder.'/*/*') ?: []);
        array_map(rmdir(...), [...(glob(self::$folder.'/*') ?: []), self::$folder]);
    }

    private static function catalogue(): Catalogue
    {
        return (new CatalogueFiles(self::$folder))->catalogue();
    }

    private static function plan(): Plan
    {
        $empty = Plan::of(
            ['name' => 'Test'],
            ['segments' => [['key' => 's', 'name' => 'Pier', 'network' => '10.64.5.0/24', 'gateway' => '10.64.5.1']]],
            self::catalogue(),
        );
        $paste = RosterPaste::of(
            $empty,
            "Tag;Kind;Segment;Address;Datum;Display shows;zero\nTG-1;tide gauge;Pier;10.64.5.20;120;Low;120\nTG-2;Tide "
                .'gauge;Pier;10.64.5.21;-40;;3',
        );
        self::assertSame(['new', 'new'], array_column($paste->rows, 'fate'));

        return $empty->with($paste->change());
    }

    public function testItIsSound(): void
    {
        self::assertSame([], KindValidator::ofKind(self::catalogue()->kinds()['tide-gauge']));
        self::assertSame([], KindValidator::ofAgreement(self::catalogue(), self::catalogue()->agreements['float-zero']));
    }

    public function testTheRosterTakesItAndTheTableCarriesItBack(): void
    {
        $plan = self::plan();
        self::assertSame(
            ['120', 'low', '120'],
            array_map(static fn (string $name): ?string => $plan->devices['tg-1']->setting($name)->planned, ['datum', 'display', 'zero']),
        );
        self::assertSame('-40', $plan->devices['tg-2']->setting('datum')->planned);

        $rows = Schedules::roster($plan);
        $table = implode(
            "\n",
            array_map(static fn (array $cells): string => implode("\t", $cells), [
                array_keys($rows[0]),
                ...array_map(array_values(...), $rows),
            ]),
        );
        $blank = Plan::of($plan->jobRow(), ['segments' => $plan->rows('segments')], self::catalogue());
        self::assertSame(
            $plan->rows('settings'),
            $blank->with(RosterPaste::of($blank, $table)->change())->rows('settings'),
            'out as a table and in again',
        );
        self::assertContains('cm', array_column(Schedules::settings($plan), 'unit'));
    }

    public function testTheSheetShowsItRecordsItAndReadsIt(): void
    {
        $plan = self::plan();
        $sheet = RunSheet::of($plan, $plan->devices['tg-1']);
        $steps = $plan->devices['tg-1']->kind->steps;
        self::assertSame(['10.64.5.20', '120'], array_map(static fn (SheetValue $one): ?string => $one->text, $sheet->values($steps[1])));

        $after = $plan->with($sheet->changes()->mark($steps[1], StepMark::done(), 'Jo', '2026-03-01T09:00:00Z'));
        $after = $after->with(
            RunSheet::of($after, $after->devices['tg-1'])->changes()->mark(
                $steps[2],
                new StepMark(MarkState::Done, typed: ['display' => 'mean'], read: ['zero' => '119']),
                'Jo',
                '2026-03-01T09:05:00Z',
            ),
        );
        $device = $after->devices['tg-1'];
        self::assertSame(['120', 'mean', null, '119'], [
            $device->setting('datum')->set,
            $device->setting('display')->set,
            $device->setting('zero')->set,
            $device->setting('zero')->seen,
        ]);
        self::assertSame('10.64.5.20', $device->nic()?->setting('address')->set);
    }

    public function testTheDocumentRoundTrips(): void
    {
        $document = JobDocument::of(self::plan())->toJson();
        self::assertSame($document, JobDocument::fromJson($document, self::catalogue())->toJson());
        self::assertStringContainsString('devices/tg-2#datum', $document);
    }

    public function testTheFindingComesAndItsCureMendsIt(): void
    {
        $plan = self::plan();
        $found = self::broken($plan);
        $board = $plan->with(RosterPaste::of($plan, "Tag;Kind;Datum;zero\nTB-1;tide board;-40;3")->change());
        self::assertSame('3', $board->devices['tb-1']->setting('zero')->planned);
        self::assertEquals($found, self::broken($board));
        self::assertSame(
            ['TG-2 reads from 3 cm, its datum is -40 cm.'],
            array_map(static fn (Finding $one): string => (string) $one->what, $found),
        );
        $cure = $found[0]->cure ?? self::fail('no cure');
        self::assertSame('TG-2: Zero of the float set to -40 cm.', (string) $cure->why);
        self::assertSame([], self::broken($plan->with($cure)));
        $typed = $plan->with(new Change(new Message(''), [Edit::setting('devices/tg-1#zero', Face::Set, null, '12')]));
        self::assertContains(
            'typed-other-than-planned',
            array_map(static fn (Finding $one): string => $one->code, Findings::of($typed, ShippedRules::all())->all),
        );
    }

    public function testWhatWasChangedForTheBenchIsPutBackOrFound(): void
    {
        $found = static fn (Plan $plan): array => Facts::of($plan, 'not-put-back');
        $mark = static function (Plan $plan, string $step, string $state): Plan {
            $sheet = RunSheet::of($plan, $plan->devices['tg-1']);
            $step = $sheet->device->kind->step($step) ?? self::fail();

            return $plan->with($sheet->changes()->mark($step, new StepMark(MarkState::from($state)), 'Jo', '2026-03-01T09:00:00Z'));
        };
        self::assertSame([], $found(self::plan()));
        self::assertSame([], $found($mark(self::plan(), 'hold', 'failed')));
        $held = $mark(self::plan(), 'hold', 'done');
        $said = ['not-put-back' => 'blocks tag=TG-1 do=Let the float go.'];
        self::assertSame($said, $found($held));
        self::assertSame($said, $found($mark($held, 'release', 'skipped')));
        self::assertSame([], $found($mark($held, 'release', 'done')));
    }

    /** @return list<Finding> */
    private static function broken(Plan $plan): array
    {
        return array_values(array_filter(
            Findings::of($plan, ShippedRules::all())->all,
            static fn (Finding $one): bool => 'float-zero' === $one->code,
        ));
    }

    public function testAFolderOfOnesOwnAddsKindsAndSaysWhatIsDifferentAndABadOneStopsNothing(): void
    {
        $own = sys_get_temp_dir().'/vorhut-own-'.bin2hex(random_bytes(6));
        mkdir($own.'/kinds', 0o700, true);
        $folder = \dirname(__DIR__, 3);
        try {
            file_put_contents($own.'/kinds/tide-gauge.yaml', self::KIND);
            file_put_contents($own.'/kinds/ptz-camera.yaml', "boot: 99\n");
            $files = new CatalogueFiles($folder, null, $own);
            self::assertSame('Tide gauge', $files->catalogue()->kind('tide-gauge')?->name);
            self::assertSame(99, $files->catalogue()->kind('ptz-camera')?->boot);
            self::assertSame('PTZ camera', $files->catalogue()->kind('ptz-camera')->name, 'the rest is as it ships');
            self::assertNull($files->refusal());
            file_put_contents($own.'/kinds/broken.yaml', "roles: [nobody]\n");
            $files = new CatalogueFiles($folder, null, $own);
            self::assertNotNull($files->catalogue()->kind('ptz-camera'));
            self::assertNull($files->catalogue()->kind('tide-gauge'));
            self::assertStringContainsString('broken', (string) $files->refusal());
        } finally {
            array_map(unlink(...), glob($own.'/*/*') ?: []);
            rmdir($own.'/kinds');
            rmdir($own);
        }
    }
}
