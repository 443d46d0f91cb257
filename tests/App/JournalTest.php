<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Message;
use Vorhut\Entity\Job;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;
use Vorhut\Tests\Support\Desk;

final class JournalTest extends Desk
{
    private function write(Job $job, string $by, Edit ...$edits): void
    {
        $this->journal()->write($job, new Change(new Message('test'), array_values($edits)), $by);
    }

    private function room(Job $job): string
    {
        return $this->plan($job)->devices['cam-01']->room;
    }

    public function testAChangeIsWrittenWithItsEntryOrNotAtAll(): void
    {
        $job = $this->jobOf();
        $before = $job->revision;
        $this->write($job, 'Mara', Edit::put('devices', 'cam-01', 'room', 'Hall, north', 'Hall, south'), Edit::value('nics/cam-01.lan', 'gateway', Face::Set, '10.46.30.1', '10.64.30.1'));

        self::assertSame('Hall, south', $this->room($job));
        $faced = $this->plan($job)->nics['cam-01.lan']->gateway;
        self::assertSame(['10.64.30.1', 'Mara'], [$faced->set, $faced->setBy]);
        self::assertSame($before + 1, $job->revision);
        self::assertCount(1, $this->journal()->entries($job));

        try {
            $this->write($job, 'Jo', Edit::put('devices', 'cam-01', 'serial', 'NM4091', 'X'), Edit::put('devices', 'cam-01', 'room', 'Hall, north', 'Attic'));
            self::fail('the second editor must not overwrite unseen');
        } catch (Conflict $conflict) {
            self::assertSame(['Attic', 'Hall, south', 'Mara'], [$conflict->mine->after, $conflict->theirs, $conflict->by]);
        }
        $job = self::service(Jobs::class)->find($job->slug) ?? throw new \LogicException();
        self::assertNotSame('X', $this->plan($job)->devices['cam-01']->serial, 'half a change is no change');
        self::assertCount(1, $this->journal()->entries($job));
    }

    public function testUndoAndRedoOfOnesOwn(): void
    {
        $job = $this->jobOf();
        $this->write($job, 'Mara', Edit::put('devices', 'cam-01', 'room', 'Hall, north', 'One'));
        $this->write($job, 'Mara', Edit::put('devices', 'cam-01', 'room', 'One', 'Two'));
        $undo = function (string $by) use ($job): void {
            $this->journal()->undo($job, $this->journal()->undoable($job, $by) ?? throw new \LogicException(), $by);
        };
        $undo('Mara');
        self::assertSame('One', $this->room($job));
        $undo('Mara');
        self::assertSame('Hall, north', $this->room($job));
        self::assertNull($this->journal()->undoable($job, 'Mara'));
        $this->journal()->undo($job, $this->journal()->redoable($job, 'Mara') ?? throw new \LogicException(), 'Mara');
        self::assertSame('One', $this->room($job));
        $this->journal()->undo($job, $this->journal()->redoable($job, 'Mara') ?? throw new \LogicException(), 'Mara');
        self::assertSame('Two', $this->room($job));
        self::assertNull($this->journal()->redoable($job, 'Mara'));
        self::assertNull($this->journal()->undoable($job, 'Jo'), 'nobody takes back what another did');
        self::assertCount(6, $this->journal()->entries($job), 'and every step of it is in the journal');
    }

    public function testUndoIsRefusedWhereSomebodyBuiltOnIt(): void
    {
        $job = $this->jobOf();
        $this->write($job, 'Mara', Edit::put('devices', 'cam-01', 'room', 'Hall, north', 'One'));
        $this->write($job, 'Jo', Edit::put('devices', 'cam-01', 'room', 'One', 'Two'));
        $this->expectException(Refused::class);
        $this->expectExceptionMessage('Jo built on this change since');
        $this->journal()->undo($job, $this->journal()->undoable($job, 'Mara') ?? throw new \LogicException(), 'Mara');
    }

    public function testAJobOutAndInAndOutAgainIsTheSameBytes(): void
    {
        $job = $this->jobOf();
        $this->write($job, 'Mara', Edit::put('devices', 'cam-01', 'room', 'Hall, north', 'One "quoted" ø'), Edit::value('nics/enc-01.lan', 'gateway', Face::Set, null, ''));
        $row = $this->plan($job)->row('filters', 'r110') ?? [];
        $this->write($job, 'Jo', Edit::remove('filters', $row));
        $this->journal()->evidence($job, 'observations', ['key' => 'o1', 'line' => 'reach:tech>sw-01:80/tcp', 'at' => '2026-03-01T09:00:00Z', 'by' => 'Jo', 'outcome' => 'answers', 'ground' => ['a=b'], 'evidence' => ['x']]);
        $jobs = self::service(Jobs::class);
        $once = $jobs->export($job)->toJson();
        $again = $jobs->import(\Vorhut\Core\Document\JobDocument::fromJson($once, \Vorhut\Tests\Support\Jobs::kinds()), 'copy');

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
        $document = \Vorhut\Core\Document\JobDocument::fromJson($sealed, \Vorhut\Tests\Support\Jobs::kinds());
        self::assertSame($secret, $vault->secretOf($jobs->import($document, 'open', 'correct horse'), 'accounts/a2101', 'sip'));
        self::assertNull($vault->secretOf($jobs->import($document, 'shut'), 'accounts/a2101', 'sip'));
        $this->expectExceptionMessage('does not open');
        $jobs->import($document, 'wrong', 'wrong horse');
    }

    private function undone(Job $job): Job
    {
        $this->journal()->undo($job, $this->journal()->undoable($job, 'Jo') ?? throw new \LogicException(), 'Jo');

        return $job;
    }
}
