<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Practice;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

/** A job is practice or real; records of the one never count for the other. */
final class PracticeTest extends TestCase
{
    public function testAChangeBeginsOrEndsPracticeOnlyWhereItSwitches(): void
    {
        $switch = static fn (?bool $before, ?bool $after): array => [
            Practice::beginsWith($change = new Change(new Message('x'), [Edit::put('job', '', 'practice', $before, $after)])),
            Practice::endsWith($change),
        ];
        self::assertSame([true, false], $switch(null, true));
        self::assertSame([true, false], $switch(false, true));
        self::assertSame([false, true], $switch(true, null));
        self::assertSame([false, true], $switch(true, false));
        self::assertSame([false, false], $switch(true, true));
        self::assertSame([false, false], $switch(null, false));
        $other = new Change(new Message('x'), [Edit::put('job', '', 'name', 'A', 'B')]);
        self::assertSame([false, false], [Practice::beginsWith($other), Practice::endsWith($other)]);
    }

    public function testWhatIsOnlyPlannedIsNoRecord(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1');
        $planned = (clone $jobs)->device('cam', 'ptz-camera', 's', ['address' => '10.64.30.31']);
        self::assertFalse(Practice::hasRecords($planned->plan()));
        $set = (clone $jobs)->device('cam', 'ptz-camera', 's', ['address' => '10.64.30.31', 'address.set' => '10.64.30.31']);
        self::assertTrue(Practice::hasRecords($set->plan()));
        $ended = $set->plan()->with(new Change(new Message('x'), Practice::removal($set->plan())));
        self::assertFalse(Practice::hasRecords($ended));
        self::assertSame('10.64.30.31', $ended->nics['cam.lan']->setting('address')->planned, 'the plan stays');
    }
}
