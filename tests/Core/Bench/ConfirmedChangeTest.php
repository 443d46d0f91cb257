<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\ConfirmedChange;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

/** *Set* is recorded after a mark, a fetched file or an acknowledged write, and never because something was planned. */
final class ConfirmedChangeTest extends TestCase
{
    private const REF = 'nics/c.lan#gateway';

    private static function job(bool $hookedUp): Jobs
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31', 'gateway' => '10.64.30.9']);

        return $hookedUp ? $jobs->row('settings', ['key' => self::REF, 'planned' => '10.64.30.9', 'set' => '10.64.30.9']) : $jobs;
    }

    /** @param list<string> $faces that are recorded */
    #[TestWith([false, false, ['planned']])]
    #[TestWith([false, true, ['planned']])]
    #[TestWith([true, false, ['planned']])]
    #[TestWith([true, true, ['planned', 'set']])]
    public function testAFixIsRecordedAsSetOnlyWhereAPersonSaysSoOfADeviceOutOfItsBox(bool $hookedUp, bool $entered, array $faces): void
    {
        $plan = self::job($hookedUp)->plan();
        $value = $plan->nics['c.lan']->setting('gateway');
        $fix = new Change(new Message('Fix.'), [
            ...SettingChange::toHold(self::REF, $value, '10.64.30.1', Face::Set),
            ...($hookedUp ? [] : [Edit::setting(self::REF, Face::Set, null, '10.64.30.1')]),
        ]);
        $confirmed = ConfirmedChange::of($plan, $fix, $entered);
        self::assertSame($faces, array_map(static fn (Edit $one): string => $one->field, $confirmed->change->edits));
        self::assertSame($hookedUp ? [] : ['C'], array_map(static fn ($one): string => $one->tag, $confirmed->boxed));
    }

    public function testNobodyHasPutInWhatOnlyFollowsThePlan(): void
    {
        $plan = self::job(false)->plan();
        $edits = SettingChange::toHold(self::REF, $plan->nics['c.lan']->setting('gateway'), '10.64.30.1', Face::Set);
        self::assertSame(['planned'], array_map(static fn (Edit $one): string => $one->field, $edits));
    }

    public function testAnEntryAtTheRegistrarIsNotMadeByAFix(): void
    {
        $plan = self::job(true)->plan();
        $fix = new Change(new Message('Fix.'), [Edit::put('accounts', 'a', 'macEntered', null, '00-00-5E-00-53-01')]);
        self::assertTrue(ConfirmedChange::of($plan, $fix, false)->change->isEmpty());
        self::assertCount(1, ConfirmedChange::of($plan, $fix, true)->change->edits);
    }

    public function testDoneRecordsWhatTheSheetShowedAndTheSheetShowsWhatWasPlanned(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('sc', 'scene-store', 's', ['address' => '10.64.30.31', 'sceneName.7' => 'Evening'])->plan();
        $device = $plan->devices['sc'];
        $sheet = RunSheet::of($plan, $device);
        $step = $device->kind->step('scenes') ?? throw new \LogicException();
        $shown = array_map(static fn ($one): string => $one->name, $sheet->values($step));
        self::assertContains('sceneName.7', $shown);
        self::assertNotContains('sceneFade.8', $shown, 'nobody planned an eighth scene');
        $recorded = [];
        foreach ($sheet->changes()->mark($step, StepMark::done(), 'Mara', '2026-03-02 09:30')->edits as $edit) {
            if ('settings' === $edit->section && 'set' === $edit->field) {
                $recorded[] = substr($edit->key, \strlen('devices/sc#'));
            }
        }
        self::assertContains('sceneName.7', $recorded);
        self::assertSame([], array_diff($recorded, $shown), 'nothing is recorded that was not shown');
    }

    #[TestWith(['vorhut', true])]
    #[TestWith(['https://provider.example/x', false])]
    public function testAPasswordThatAFileSetsIsChangedOnlyByOurOwnFile(string $provisioning, bool $changes): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('p', 'soft-client', 's', ['address' => '10.64.30.31', 'provisioning' => $provisioning])
            ->row('credentials', ['key' => 'p.admin', 'owner' => 'devices/p', 'purpose' => 'admin', 'user' => 'admin',
                'state' => 'default', 'length' => 14, 'changedAt' => '2026-03-01 08:00'])
            ->plan();
        $device = $plan->devices['p'];
        $step = $device->kind->step('password') ?? throw new \LogicException();
        $edits = array_filter(
            RunSheet::of($plan, $device)->changes()->mark($step, StepMark::done(), 'Mara', '2026-03-02 09:30')->edits,
            static fn (Edit $one): bool => 'credentials' === $one->section,
        );
        self::assertSame(
            $changes ? ['state' => 'changed', 'changedAt' => '2026-03-02 09:30'] : [],
            array_column(array_map(static fn (Edit $one): array => [$one->field, $one->after], $edits), 1, 0),
        );
    }
}
