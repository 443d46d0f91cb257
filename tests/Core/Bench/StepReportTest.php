<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\MarkRefused;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Bench\StepReport;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

/** The checks that every mark passes, online, offline and from the command line. */
final class StepReportTest extends TestCase
{
    private const AT = '2026-03-01T09:00:00Z';

    /** @return iterable<string, array{string, StepMark, list<string>}> code of the step, mark → fields that are wrong */
    public static function marks(): iterable
    {
        yield 'done' => ['unpack', StepMark::done(), []];
        yield 'open again' => ['unpack', new StepMark(MarkState::Open), []];
        foreach ([MarkState::Skipped, MarkState::Failed, MarkState::Blocked] as $state) {
            yield $state->value.' without a reason' => ['unpack', new StepMark($state), ['note']];
            yield $state->value.' with a reason' => ['unpack', new StepMark($state, 'No box.'), []];
        }
        yield 'a value that is none' => ['address', new StepMark(MarkState::Done, typed: ['dns' => '10.64.40.300']), ['dns']];
        yield 'blank' => ['address', new StepMark(MarkState::Done, typed: ['dns' => '-']), []];
        yield 'a setting of another step' => ['unpack', new StepMark(MarkState::Done, typed: ['dns' => 'x']), []];
        yield 'the label of another device' => ['unpack', new StepMark(MarkState::Done, read: ['mac' => '00005e005302']), ['mac']];
        yield 'the label in another notation' => ['unpack', new StepMark(MarkState::Done, read: ['mac' => '0000.5e00.5301']), []];
        yield 'a label that is no MAC' => ['unpack', new StepMark(MarkState::Done, read: ['mac' => '00:00']), ['mac']];
    }

    /** @param list<string> $wrong */
    #[DataProvider('marks')]
    public function testAMarkIsTakenOrRefusedFieldByField(string $step, StepMark $mark, array $wrong): void
    {
        self::assertSame($wrong, array_keys(self::errors(self::jobs()->plan(), $step, $mark)));
    }

    public function testAnAddressIsMarkedOnlyWhereOneIsPlanned(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')->device('c', 'ptz-camera', 's')->plan();
        $errors = self::errors($plan, 'address', new StepMark(MarkState::Done, 'It was.'));
        self::assertStringContainsString('no planned address', (string) ($errors['note'] ?? ''));
    }

    public function testWhatWasTypedIsRecordedAsItIsStored(): void
    {
        $plan = self::jobs()->plan();
        $device = $plan->devices['c'];
        $step = $device->kind->step('address') ?? self::fail('address');
        $mark = new StepMark(MarkState::Done, typed: ['mask' => '255.255.255.128', 'dns' => '-']);
        $after = $plan->with(StepReport::of($plan, $device, $step, $mark)->change('Jo', self::AT));
        $nic = $after->nics['c.lan'];
        self::assertSame(['10.64.40.31', '/25', ''], [
            $nic->setting('address')->set, $nic->setting('mask')->set, $nic->setting('dns')->set,
        ]);
        self::assertSame(MarkState::Done, RunSheet::of($after, $after->devices['c'])->mark($step)?->state);
    }

    /** @return array<string, Message> field → what is wrong with it */
    private static function errors(Plan $plan, string $code, StepMark $mark): array
    {
        $device = $plan->devices['c'];
        try {
            StepReport::of($plan, $device, $device->kind->step($code) ?? self::fail($code), $mark);
        } catch (MarkRefused $e) {
            return $e->errors;
        }

        return [];
    }

    private static function jobs(): Jobs
    {
        return (new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')->device('c', 'ptz-camera', 's', [
            'address' => '10.64.40.31', 'mask' => '/24', 'gateway' => '10.64.40.1', 'dns' => '10.64.40.2',
        ], ['mac' => '00-00-5E-00-53-01']);
    }
}
