<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Vorhut\Application\ImportJob;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Observation;
use Vorhut\Core\Proof\TestResult;
use Vorhut\Core\Proof\Verdict;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\EvidenceLog;
use Vorhut\Journal\JournalClock;
use Vorhut\Journal\LabSwitch;
use Vorhut\Journal\Records;
use Vorhut\Outpost\Orders\ManualAnswers;
use Vorhut\Outpost\Orders\ProbeRun;
use Vorhut\Outpost\Probe\NetworkAccessChoice;
use Vorhut\Secrets\Vault;
use Vorhut\Tests\Support\ApplicationTestCase;
use Vorhut\Tests\Support\LabBench;

/** Evidence says where it stood, and counts for no more than that. */
final class EvidenceTest extends ApplicationTestCase
{
    private const REACH = 'reach:v>cam:80/tcp';

    public function testWhereNobodyPlaysAndNobodyStandsNothingIsAsked(): void
    {
        $bench = new LabBench(240);
        try {
            $job = $this->taken($bench, false);
            $this->prove($job, $bench->port(), 'lab');
            self::assertSame([
                'not-asked', 'the lab is not running for this job, and this outpost is not on site', false, '',
            ], self::said($this->last($job)));
            $this->rehearse($job);
            $this->prove($job, 9, 'lab');
            self::assertSame(['not-asked', 'the lab is not open', false, ''], self::said($this->last($job)));
            self::assertSame(Verdict::NotRun, Proof::of($this->plan($job))->find(self::REACH)?->verdict, 'and that is not failed');
        } finally {
            $bench->close();
        }
    }

    public function testARehearsalOfARealJobProvesNothingAndEntersNothing(): void
    {
        $bench = new LabBench(241);
        try {
            foreach ([false, true] as $practice) {
                $job = $this->taken($bench, $practice);
                $this->rehearse($job);
                $this->prove($job, $bench->port(), 'lab');
                $last = $this->last($job);
                self::assertSame(['answers', false, 'lab', '10.241.20.254'], [
                    $last->outcome, $last->onSite, $last->adapter, $last->address,
                ]);
                $result = Proof::of($this->plan($job))->find(self::REACH);
                self::assertSame(
                    $practice ? [Verdict::Passed, null] : [Verdict::NotRun, Verdict::Passed],
                    [$result?->verdict, $result?->rehearsal?->verdict],
                );
                $gateway = fn (): array => [
                    $this->plan($job)->nics['cam.lan']->setting('gateway')->seen,
                    $this->plan($job)->nics['cam.lan']->setting('hostName')->set,
                ];
                self::assertSame($practice ? '10.241.40.1' : null, $gateway()[0], 'what a stand-in holds');
                $said = $this->round($bench->port())->write($this->again($job), 'cam');
                self::assertSame(!$practice, str_contains((string) $said, 'Nothing was entered'), (string) $said);
                self::assertSame(
                    $practice,
                    'Outpost' === $this->plan($job)->nics['cam.lan']->setting('gateway')->setBy,
                    'nor what was written into one',
                );
            }
        } finally {
            $bench->close();
        }
    }

    public function testAPersonsAnswerIsEvidenceWithANameAndRehearsedWhileTheLabPlays(): void
    {
        $job = $this->jobOf();
        $answers = self::service(ManualAnswers::class);
        $key = 'hand:vc-01:picture-both-ways';
        /** @var \Closure(): TestResult $result */
        $result = fn (): TestResult => Proof::of($this->plan($this->again($job)))->find($key) ?? self::fail('nobody is asked');
        self::assertSame(Verdict::NotRun, self::now($result)->verdict);
        foreach ([['maybe', ''], ['no', ' ']] as [$word, $note]) {
            try {
                $answers->take($this->again($job), $this->plan($job), $key, $word, '', $note, 'Jo');
                self::fail('that is no answer');
            } catch (Malformed) {
                self::assertNull(self::now($result)->observation);
            }
        }
        $answers->take($this->again($job), $this->plan($job), $key, 'no', '', 'Black at the far end.', 'Jo');
        self::assertSame(
            [Verdict::Failed, 'Jo', 'no: Black at the far end.'],
            [self::now($result)->verdict, self::now($result)->observation?->by, (string) self::now($result)->observation?->detail],
        );
        $answers->take($this->again($job), $this->plan($job), $key, 'yes', '', '', 'Mara');
        self::assertSame([Verdict::Passed, true], [self::now($result)->verdict, self::now($result)->observation?->onSite]);
        $address = $this->plan($job)->devices['vc-01']->nic()?->setting('address');
        $this->changes()->write($this->again($job), new Change(new Message('x'), [
            Edit::setting('nics/vc-01.lan#address', \Vorhut\Core\Plan\Face::Set, $address?->set, '10.64.20.77'),
        ]), 'Jo');
        self::assertSame(Verdict::Outdated, self::now($result)->verdict);
    }

    private function taken(LabBench $bench, bool $practice): Job
    {
        $plan = $bench->plan->with(new Change(new Message('x'), [Edit::put('job', '', 'practice', null, $practice ?: null)]));

        return self::service(ImportJob::class)->import(JobDocument::of($plan), 'lab-'.bin2hex(random_bytes(4)));
    }

    private function rehearse(Job $job): void
    {
        self::service(LabSwitch::class)->turn($this->again($job), true, 'Jo');
    }

    private function prove(Job $job, int $port, string $kind): void
    {
        self::assertSame(1, $this->round($port, $kind)->run($this->again($job), [self::REACH], 'Outpost'));
    }

    private function round(int $port, string $kind = 'lab'): ProbeRun
    {
        return new ProbeRun(
            self::service(Records::class),
            $this->changes(),
            self::service(EvidenceLog::class),
            self::service(JournalClock::class),
            self::service(Vault::class),
            new NetworkAccessChoice($kind, $port, 0),
        );
    }

    private function last(Job $job): Observation
    {
        $all = $this->plan($job)->observations[self::REACH] ?? [];

        return $all[array_key_last($all) ?? self::fail('nothing was written down')];
    }

    /** @return array{string, string, bool, string} */
    private static function said(Observation $one): array
    {
        return [$one->outcome, (string) $one->detail, $one->onSite, $one->adapter];
    }

    private function again(Job $job): Job
    {
        return self::service(Jobs::class)->find($job->slug) ?? self::fail('the job is gone');
    }

    /**
     * @param \Closure(): TestResult $look
     *
     * @phpstan-impure
     */
    private static function now(\Closure $look): TestResult
    {
        return $look();
    }
}
