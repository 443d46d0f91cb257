<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\WritePlan;
use Vorhut\Tests\Support\Jobs;

final class WritePlanTest extends TestCase
{
    /** @param array<string, string> $values */
    private static function of(string $kind, array $values = []): WritePlan
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('d', $kind, 's', ['address' => '10.64.30.31'] + $values)->plan();

        return WritePlan::of($plan, $plan->devices['d']);
    }

    public function testItIsSentWhatIsPlannedInItsOwnWordsAndAsItIsTyped(): void
    {
        $writes = self::of('ptz-camera', ['hostName' => 'cam-1']);
        self::assertSame(
            ['ip' => '10.64.30.31', 'netmask' => '255.255.255.0', 'gw' => '10.64.30.1', 'name' => 'cam-1', 'fps' => '25'],
            array_intersect_key($writes->form(), array_flip(['ip', 'netmask', 'gw', 'name', 'fps'])),
        );
        self::assertArrayNotHasKey('firmware', $writes->form(), 'what is only read is not written');
        self::assertSame('cam-1', $writes->values()['hostName']);
        self::assertSame([], self::of('touch-panel')->fields, 'it takes nothing over the network');
    }

    public function testWhatItHoldsAlreadyIsNotToBeDoneAndWhatItSaysCountsMost(): void
    {
        self::assertTrue(self::isLeft(['hostName' => 'cam-1']));
        self::assertFalse(self::isLeft(['hostName' => 'cam-1', 'hostName.set' => 'cam-1']));
        self::assertTrue(self::isLeft(['hostName' => 'cam-1', 'hostName.set' => 'cam-1', 'hostName.seen' => 'cam-9']));
        self::assertFalse(self::isLeft(['hostName' => 'cam-1', 'hostName.set' => 'cam-9', 'hostName.seen' => 'cam-1']));
    }

    public function testWhatItDidNotTakeIsNamed(): void
    {
        $writes = self::of('ptz-camera', ['hostName' => 'cam-1']);
        self::assertSame([], $writes->notTaken($writes->values()));
        self::assertSame(['Host name', 'Frame rate'], $writes->notTaken(['frameRate' => '30', 'hostName' => 'old'] + $writes->values()));
        self::assertSame([], $writes->notTaken([]), 'of what it does not say nobody knows');
    }

    /** @param array<string, string> $values */
    private static function isLeft(array $values): bool
    {
        return \in_array('hostName', array_column(self::of('ptz-camera', $values)->toDo(), 'local'), true);
    }
}
