<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use Vorhut\Application\ImportJob;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Document\Schedules;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Practice;
use Vorhut\Core\Plan\Removal;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\EvidenceLog;
use Vorhut\Journal\History;
use Vorhut\Journal\HistoryLine;
use Vorhut\Journal\HistoryPatterns;
use Vorhut\Journal\JournalEntries;
use Vorhut\Journal\LabSwitch;
use Vorhut\Journal\Refused;
use Vorhut\Tests\Support\ApplicationTestCase;

final class JournalTest extends ApplicationTestCase
{
    private function write(Job $job, string $by, Edit ...$edits): void
    {
        $this->changes()->write($job, new Change(new Message('test'), array_values($edits)), $by);
    }

    private function room(Job $job): string
    {
        return $this->plan($job)->devices['cam-01']->room;
    }

    public function testAChangeIsWrittenWithItsEntryOrNotAtAll(): void
    {
        $job = $this->jobOf();
        $before = $job->revision;
        $this->write(
            $job,
            'Mara',
            Edit::put('devices', 'cam-01', 'room', 'Hall, north', 'Hall, south'),
            Edit::setting('nics/cam-01.lan#gateway', Face::Set, '10.46.30.1', '10.64.30.1'),
        );

        self::assertSame('Hall, south', $this->room($job));
        $value = $this->plan($job)->nics['cam-01.lan']->setting('gateway');
        self::assertSame(['10.64.30.1', 'Mara'], [$value->set, $value->setBy]);
        self::assertSame($before + 1, $job->revision);
        self::assertCount(1, self::service(JournalEntries::class)->all($job));

        try {
            $this->write(
                $job,
                'Jo',
                Edit::put('devices', 'cam-01', 'serial', 'NM4091', 'X'),
                Edit::put('devices', 'cam-01', 'room', 'Hall, north', 'Attic'),
            );
            self::fail('the second editor must not overwrite unseen');
        } catch (Conflict $conflict) {
            self::assertSame(['Attic', 'Hall, south', 'Mara'], [$conflict->mine->after, $conflict->theirs, $conflict->by]);
        }
        $job = self::service(Jobs::class)->find($job->slug) ?? throw new \LogicException();
        self::assertNotSame('X', $this->plan($job)->devices['cam-01']->serial, 'half a change is no change');
        self::assertCount(1, self::service(JournalEntries::class)->all($job));
    }

    public function testUndoAndRedoOfOnesOwn(): void
    {
        $job = $this->jobOf();
        $this->write($job, 'Mara', Edit::put('devices', 'cam-01', 'room', 'Hall, north', 'One'));
        $this->write($job, 'Mara', Edit::put('devices', 'cam-01', 'room', 'One', 'Two'));
        $undo = function (string $by) use ($job): void {
            $this->undoStack()->undo($job, $this->undoStack()->undoable($job, $by) ?? throw new \LogicException(), $by);
        };
        $undo('Mara');
        self::assertSame('One', $this->room($job));
        $undo('Mara');
        self::assertSame('Hall, north', $this->room($job));
        self::assertNull($this->undoStack()->undoable($job, 'Mara'));
        $this->undoStack()->undo($job, $this->undoStack()->redoable($job, 'Mara') ?? throw new \LogicException(), 'Mara');
        self::assertSame('One', $this->room($job));
        $this->undoStack()->undo($job, $this->undoStack()->redoable($job, 'Mara') ?? throw new \LogicException(), 'Mara');
        self::assertSame('Two', $this->room($job));
        self::assertNull($this->undoStack()->redoable($job, 'Mara'));
        self::assertNull($this->undoStack()->undoable($job, 'Jo'), 'nobody takes back what another did');
        self::assertCount(6, self::service(JournalEntries::class)->all($job), 'and every step of it is in the journal');
    }

    public function testWhoTakesSomethingBackIsKnownByTheirLoginAndNotByTheirName(): void
    {
        $job = $this->jobOf();
        $mara = new User('mara', 'M. Lund', 'lead');
        $marc = new User('marc', 'M. Lund', 'lead');
        $this->changes()->write($job, new Change(new Message('x'), [Edit::put('devices', 'cam-01', 'room', 'Hall, north', 'One')]), $mara);
        self::assertNull($this->undoStack()->undoable($job, $marc));
        $mara->name = 'Mara Lund-Berg';
        $entry = $this->undoStack()->undoable($job, $mara);
        self::assertSame(['M. Lund', 'mara'], [$entry?->by, $entry?->login], 'under the name of that day');
        $this->undoStack()->undo($job, $entry ?? throw new \LogicException(), $mara);
        self::assertSame('Hall, north', $this->room($job));
    }

    public function testThatTheLabPlaysAJobIsWrittenDownAndStandsInNobodysWay(): void
    {
        $job = $this->jobOf();
        $this->write($job, 'Mara', Edit::put('devices', 'cam-01', 'room', 'Hall, north', 'One'));
        self::service(LabSwitch::class)->turn($job, true, 'Mara');
        self::service(LabSwitch::class)->turn($job, true, 'Mara');
        self::assertTrue($this->fresh($job)->rehearsed);
        self::assertSame('The lab is running for this job.', (string) History::why(self::service(JournalEntries::class)->all($job)[0]));
        self::assertCount(2, self::service(JournalEntries::class)->all($job), 'what is so already is not written down');
        $this->undoStack()->undo($job, $this->undoStack()->undoable($job, 'Mara') ?? throw new \LogicException(), 'Mara');
        self::assertSame('Hall, north', $this->room($job));
        self::assertTrue($this->fresh($job)->rehearsed);
    }

    public function testUndoIsRefusedWhereSomebodyBuiltOnIt(): void
    {
        $job = $this->jobOf();
        $this->write($job, 'Mara', Edit::put('devices', 'cam-01', 'room', 'Hall, north', 'One'));
        $this->write($job, 'Jo', Edit::put('devices', 'cam-01', 'room', 'One', 'Two'));
        $this->expectException(Refused::class);
        $this->expectExceptionMessage('Jo built on this change since');
        $this->undoStack()->undo($job, $this->undoStack()->undoable($job, 'Mara') ?? throw new \LogicException(), 'Mara');
    }

    public function testUndoIsRefusedWhereSomethingLeansOnWhatItWouldTakeAway(): void
    {
        $job = $this->jobOf();
        $this->write($job, 'Mara', Edit::add('segments', ['key' => 'annex', 'name' => 'Annex', 'network' => '10.64.90.0/24']));
        $this->write($job, 'Jo', Edit::put('nics', 'cam-02.lan', 'segment', 'quay', 'annex'));
        try {
            $this->undoStack()->undo($job, $this->undoStack()->undoable($job, 'Mara') ?? throw new \LogicException(), 'Mara');
            self::fail('a pointer would dangle');
        } catch (Refused $refused) {
            self::assertSame('segments/annex is used by nics/cam-02.lan; take it away there first.', $refused->getMessage());
        }
        self::assertArrayHasKey('annex', $this->plan($job)->segments);
        $json = self::service(Jobs::class)->export($this->fresh($job))->toJson();
        self::assertSame($json, JobDocument::fromJson($json, \Vorhut\Tests\Support\Jobs::catalogue())->toJson());
    }

    /** @return iterable<string, array{Edit, string}> */
    public static function unreadable(): iterable
    {
        yield 'a type' => [Edit::put('segments', 'quay', 'network', '10.64.40.0/24', '10.64.40.9/33'), 'segments/quay: network: '];
        yield 'a range' => [Edit::put('segments', 'quay', 'vlan', 40, 5000), '"5000" is not a VLAN ID'];
        yield 'a pointer' => [Edit::put('nics', 'cam-02.lan', 'segment', 'quay', 'nowhere'), 'There is no "nowhere" in segments any more.'];
        yield 'a kind' => [Edit::put('devices', 'cam-02', 'kind', 'ptz-camera', 'toaster'), 'There is no "toaster" in kinds any more.'];
        yield 'a value of a setting' => [Edit::setting('nics/cam-02.lan#gateway', Face::Set, null, '10.64.400.1'), '400 is more than 255'];
        yield 'a setting of nobody' => [Edit::setting('devices/gone#hostName', Face::Planned, null, 'x'), 'not a setting of a record'];
        yield 'a secret among the settings' => [
            Edit::setting('accounts/a2101#sipSecret', Face::Planned, null, 'x'),
            'does not stand among',
        ];
        yield 'an owner' => [
            Edit::add('credentials', ['key' => 'x', 'owner' => 'devices/gone', 'purpose' => 'admin', 'state' => 'default']),
            'There is no "gone" in devices any more.',
        ];
        yield 'a job' => [Edit::put('job', '', 'timeZone', 'Europe/Oslo', 'Moon/Sea'), 'not a time zone'];
    }

    #[DataProvider('unreadable')]
    public function testNothingIsWrittenThatTheProgramWouldNotReadAgain(Edit $edit, string $why): void
    {
        $job = $this->jobOf();
        $before = self::service(Jobs::class)->export($this->fresh($job))->toJson();
        try {
            $this->write($job, 'Mara', $edit);
            self::fail('it was written');
        } catch (Refused $refused) {
            self::assertStringContainsString($why, $refused->getMessage());
        }
        self::assertSame($before, self::service(Jobs::class)->export($this->fresh($job))->toJson());
    }

    public function testWhatGoesTakesNothingAlongThatIsInUse(): void
    {
        $job = $this->jobOf();
        $plan = $this->plan($job);
        foreach (['devices/cam-01', 'devices/lt-01', 'segments/quay', 'extensions/x2101', 'nics/cam-01.lan'] as $record) {
            [$section, $key] = explode('/', $record);
            try {
                $this->write($job, 'Mara', Edit::remove($section, $plan->row($section, $key) ?? []));
                self::fail($record);
            } catch (Refused $refused) {
                self::assertStringContainsString($record.' is used by', $refused->getMessage());
            }
            $job = $this->fresh($job);
            $this->write(
                $job,
                'Mara',
                ...[
                    ...Removal::dependents($this->plan($job), $section, $key),
                    Edit::remove($section, $this->plan($job)->row($section, $key) ?? []),
                ],
            );
            $this->undoStack()->undo($job, $this->undoStack()->undoable($job, 'Mara') ?? throw new \LogicException(), 'Mara');
        }
    }

    public function testASettingWithoutAFaceLeavesNoRow(): void
    {
        $job = $this->jobOf();
        $ref = 'nics/cam-02.lan#gateway';
        self::assertNull($this->plan($job)->row('settings', $ref));
        $this->write($job, 'Mara', Edit::setting($ref, Face::Set, null, '10.64.40.1'));
        $this->write($job, 'Mara', Edit::setting($ref, Face::Set, '10.64.40.1', null));
        self::assertNull($this->plan($job)->row('settings', $ref));
        $this->undoStack()->undo($job, $this->undoStack()->undoable($job, 'Mara') ?? throw new \LogicException(), 'Mara');
        self::assertSame('10.64.40.1', $this->plan($job)->settings()->value($ref)->set);
    }

    public function testAJobOutAndInAndOutAgainIsTheSameBytes(): void
    {
        $job = $this->jobOf();
        $this->write(
            $job,
            'Mara',
            Edit::put('devices', 'cam-01', 'room', 'Hall, north', 'One "quoted" ø'),
            Edit::setting('nics/enc-01.lan#gateway', Face::Set, null, ''),
        );
        $row = $this->plan($job)->row('filters', 'r110') ?? [];
        $this->write($job, 'Jo', Edit::remove('filters', $row));
        self::service(EvidenceLog::class)->add($job, 'observations', [
            'key' => 'o1',
            'test' => 'reach:tech>sw-01:80/tcp',
            'at' => '2026-03-01T09:00:00Z',
            'by' => 'Jo',
            'outcome' => 'answers',
            'basis' => ['a=b'],
            'evidence' => ['x'],
        ]);
        $jobs = self::service(Jobs::class);
        $once = $jobs->export($job)->toJson();
        $again = self::service(ImportJob::class)->import(JobDocument::fromJson($once, \Vorhut\Tests\Support\Jobs::catalogue()), 'copy');

        self::assertSame($once, $jobs->export($again)->toJson());
        self::assertStringContainsString('"undoes"', $jobs->export($this->undone($job))->toJson());
    }

    public function testSecretsTravelOnlySealed(): void
    {
        $job = $this->jobOf();
        $vault = self::service(\Vorhut\Secrets\Vault::class);
        $vault->fill($job, $this->plan($job), 'Mara');
        $secret = $vault->secretOf($job, 'accounts/a2101', 'sip');
        self::assertSame(20, \strlen((string) $secret));
        $jobs = self::service(Jobs::class);
        self::assertStringNotContainsString((string) $secret, $jobs->export($job)->toJson());
        $sealed = $jobs->export($job, 'correct horse')->toJson();
        self::assertStringNotContainsString((string) $secret, $sealed);
        $document = JobDocument::fromJson($sealed, \Vorhut\Tests\Support\Jobs::catalogue());
        $open = self::service(ImportJob::class)->import($document, 'open', 'correct horse');
        self::assertSame($secret, $vault->secretOf($open, 'accounts/a2101', 'sip'));
        self::assertNull($vault->secretOf(self::service(ImportJob::class)->import($document, 'shut'), 'accounts/a2101', 'sip'));
        $this->expectExceptionMessage('does not open');
        self::service(ImportJob::class)->import($document, 'wrong', 'wrong horse');
    }

    private function undone(Job $job): Job
    {
        $this->undoStack()->undo($job, $this->undoStack()->undoable($job, 'Jo') ?? throw new \LogicException(), 'Jo');

        return $job;
    }

    public function testFieldsOfOneRecordChangedInARowAreOneLine(): void
    {
        $number = 9;
        $line = static function (string $by, string $field, string $record) use (&$number): HistoryLine {
            $why = new Message('{field} of {record}', ['field' => $field, 'record' => $record]);

            return new HistoryLine(--$number, '2026-03-01T09:00:00Z', $by, false, $why, ['before' => '', 'after' => 'x']);
        };
        $folded = HistoryLine::fold([
            $line('Jo', 'Room', 'CAM-01'),
            $line('Jo', 'Serial', 'CAM-01'),
            $line('Mara', 'Room', 'CAM-01'),
            $line('Jo', 'Room', 'CAM-02'),
            new HistoryLine(1, '2026-03-01T09:00:00Z', 'Jo', false, new Message('CAM-03 added.')),
        ]);
        self::assertSame(
            [['Jo', 7, 2], ['Mara', 6, 0], ['Jo', 5, 0], ['Jo', 1, 0]],
            array_map(static fn (HistoryLine $one): array => [$one->by, $one->number, \count($one->folded)], $folded),
        );
        self::assertSame('CAM-01: 2 fields changed', (string) $folded[0]->why);
    }

    public function testTheHistoryHasOneLineForARunOfMachinesAndItsPages(): void
    {
        $job = $this->jobOf();
        $room = static fn (string $before, string $after): Edit => Edit::put('devices', 'cam-01', 'room', $before, $after);
        $first = $this->plan($job)->devices['cam-01']->room;
        foreach (['Mara', 'Outpost', 'File server', 'Outpost', 'Jo', 'Outpost'] as $i => $by) {
            $this->write($job, $by, $room(0 === $i ? $first : 'Room '.($i - 1), 'Room '.$i));
        }
        $many = array_map(
            static fn (string $key): Edit => Edit::put('devices', $key, 'note', null, str_repeat('n', 300)),
            ['cam-01', 'cam-02', 'cam-03', 'pbx-01', 'sw-01', 'ra-01', 'ra-02', 'vc-01'],
        );
        $this->write($job, 'Jo', ...$many);
        $lines = HistoryLine::fold(self::service(History::class)->lines($job));
        self::assertSame(
            [['Jo', 0], ['Outpost', 0], ['Jo', 0], ['Outpost, File server', 3], ['Mara', 0]],
            array_map(static fn (HistoryLine $one): array => [$one->by, \count($one->folded)], $lines),
        );
        self::assertNull($lines[0]->change, 'of many fields none is shown');
        self::assertSame(['before' => 'Room 3', 'after' => 'Room 4'], $lines[2]->change);
        self::assertSame('3 entries', (string) $lines[3]->why);
        $earlier = self::service(History::class)->lines($job, [], $lines[3]->number);
        self::assertSame(['Mara'], array_map(static fn (HistoryLine $one): string => $one->by, $earlier));
    }

    public function testTheHistoryOfARecordIsItsOwnAndThatOfWhatBelongsToIt(): void
    {
        $job = $this->jobOf();
        $plan = $this->plan($job);
        $this->write($job, 'Mara', Edit::put('devices', 'cam-02', 'room', $plan->devices['cam-02']->room, 'Mast'));
        $this->write($job, 'Mara', Edit::setting('nics/cam-02.lan#dns', Face::Set, null, ''));
        $this->write($job, 'Mara', Edit::setting('devices/cam-02#timeZone', Face::Planned, null, 'Europe/Oslo'));
        $this->write($job, 'Mara', Edit::remove('marks', $plan->row('marks', 'cam-02.unpack') ?? []));
        $this->write($job, 'Mara', Edit::add('nics', [
            'key' => 'extra', 'device' => 'cam-02', 'name' => 'extra', 'mode' => 'static',
        ]));
        $this->write($job, 'Mara', Edit::put('devices', 'cam-03', 'room', $plan->devices['cam-03']->room, 'cam-02'));
        $this->write($job, 'Mara', Edit::put('devices', 'cam-01', 'note', null, 'devices/cam-02#timeZone'));
        $about = static fn (string $record): array => array_map(
            static fn (HistoryLine $one): int => $one->number,
            self::service(History::class)->lines($job, HistoryPatterns::patterns($plan, $record)),
        );
        $last = self::service(History::class)->lines($job)[0]->number;
        self::assertSame([$last - 2, $last - 3, $last - 4, $last - 5, $last - 6], $about('devices/cam-02'));
        self::assertSame([$last - 1], $about('devices/cam-03'), 'a value that reads like a key is none');
        self::assertSame([], $about('devices/cam-0'), 'nor what only begins alike');
        self::assertCount(7, \array_slice($about(''), 0, 7));
    }

    public function testTheEndOfPracticeRemovesWhatTheLabRecorded(): void
    {
        $job = $this->jobOf();
        $before = $this->plan($job);
        self::assertTrue($before->isPractice());
        self::assertTrue(Practice::hasRecords($before));
        self::assertSame('4.2.10', $this->firmware($before, 'cam-01'));

        $this->write($job, 'Mara', Edit::put('job', '', 'practice', true, false));
        $ended = $this->plan($job);
        self::assertFalse(Practice::hasRecords($ended));
        self::assertSame('', $this->firmware($ended, 'cam-01'));
        self::assertSame([], array_filter(Schedules::addresses($ended), static fn (array $row): bool => '' !== $row['setBy']));
        self::assertSame([], $ended->records('marks'));
        self::assertTrue($ended->credential('devices/cam-01', 'admin')?->isDefault);
        self::assertSame($before->nics['cam-01.lan']->setting('address')->planned, $ended->nics['cam-01.lan']->setting('address')->planned);

        $entry = self::service(JournalEntries::class)->all($job)[0];
        $this->undoStack()->undo($this->fresh($job), $entry, 'Mara');
        $undone = $this->plan($job);
        self::assertTrue($undone->isPractice());
        self::assertCount(\count($before->records('marks')), $undone->records('marks'));
        self::assertSame('4.2.10', $this->firmware($undone, 'cam-01'));
    }

    public function testPracticeCannotBeginWhereTheSiteHasRecords(): void
    {
        $job = $this->jobOf();
        $this->write($job, 'Mara', Edit::put('job', '', 'practice', true, null));
        $this->write($job, 'Mara', Edit::put('job', '', 'practice', null, true));
        $this->write($job, 'Mara', Edit::put('job', '', 'practice', true, null));
        $this->write($job, 'Mara', Edit::setting('nics/cam-01.lan#gateway', Face::Set, null, '10.64.30.1'));
        $this->expectException(Refused::class);
        $this->expectExceptionMessage('This job already has recorded values');
        $this->write($job, 'Mara', Edit::put('job', '', 'practice', null, true));
    }

    private function firmware(Plan $plan, string $device): string
    {
        foreach (Schedules::addresses($plan) as $row) {
            if (strtolower($row['tag']) === $device) {
                return $row['firmware'];
            }
        }

        return '';
    }
}
