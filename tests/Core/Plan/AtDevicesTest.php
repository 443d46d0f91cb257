<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Plan\AtDevices;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

/** What is typed somewhere is true when somebody has typed it; what goes over the network is written. */
final class AtDevicesTest extends TestCase
{
    public function testAChangeArrivesOverTheNetworkOrByHandOrNowhere(): void
    {
        $plan = (new Jobs())->segment('s', '10.0.0.0/24', '10.0.0.1')
            ->device('cam', 'ptz-camera', 's', ['address' => '10.0.0.31'])
            ->device('ph', 'desk-phone-poe', 's', ['address' => '10.0.0.32'])
            ->plan();
        $put = static fn (string $key, string $face): Edit => Edit::put('settings', $key, $face, null, '10.0.0.1');
        $at = static fn (Edit ...$edits): AtDevices => AtDevices::of($plan, new Change(new Message('x'), array_values($edits)));
        $tags = static fn (AtDevices $one): array => [
            array_map(static fn (Device $of): string => $of->key, $one->byNetwork),
            $one->hands(),
        ];

        self::assertSame([['cam'], ''], $tags($at($put('nics/cam.lan#gateway', 'set'), $put('nics/cam.lan#gateway', 'seen'))));
        self::assertSame([[], 'PH'], $tags($at($put('nics/ph.lan#gateway', 'set'))));
        self::assertSame([['cam'], 'PH'], $tags($at($put('nics/cam.lan#gateway', 'seen'), $put('nics/ph.lan#gateway', 'seen'))));
        self::assertSame([[], ''], $tags($at(
            $put('nics/cam.lan#gateway', 'planned'),
            $put('nics/nobody.lan#gateway', 'set'),
            Edit::put('segments', 's', 'gateway', '10.0.0.1', '10.0.0.2'),
        )), 'what is only planned arrives nowhere');
    }
}
