<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Document;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Document\NewDevices;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

final class NewDevicesTest extends TestCase
{
    private static function plan(): Plan
    {
        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('cam-08', 'ptz-camera', 's', ['address' => '10.64.30.2'], ['mac' => '00-00-5E-00-53-08'])
            ->device('waits', 'ptz-camera', 's')
            ->plan();
    }

    private static function add(string $tag, int $count, string $label = '', string $segment = 's'): Plan
    {
        $plan = self::plan();
        $kind = $plan->catalogue->kindNamed('PTZ') ?? self::fail('known by this word');
        $new = NewDevices::of($plan, $kind, NewDevices::tags($plan, $kind, $tag, $count), 'Hall', $segment, $label);

        return $plan->with($new->change);
    }

    public function testASeriesContinuesTheTagsAndEachDeviceGetsTheNextFreeAddress(): void
    {
        $after = self::add('', 3);
        $addresses = [];
        foreach (\array_slice($after->devices, 2) as $device) {
            $addresses[$device->tag] = $device->nic()?->setting('address')->planned;
            self::assertSame(['Hall', 's'], [$device->room, $device->nic()?->segment]);
        }
        self::assertSame(['CAM-09', 'CAM-10', 'CAM-11'], array_keys($addresses));
        self::assertCount(3, array_unique(array_filter($addresses, is_string(...))));
        self::assertNotContains('10.64.30.2', $addresses);
        self::assertNull($after->devices['waits']->nic()?->setting('address')->planned, 'no other device gets one');
    }

    public function testALabelIsAMacOrASerialNumber(): void
    {
        $new = static fn (string $label): Device => self::add('X', 1, $label, '')->deviceTagged('X') ?? self::fail();
        self::assertSame('00-00-5E-00-53-77', (string) $new('00005e005377')->nic()?->mac);
        self::assertSame(['NM-77', null], [$new('NM-77')->serial, $new('NM-77')->nic()?->mac]);
    }

    /** @return iterable<string, array{string, int, string, string}> tag, count, label, what the message names */
    public static function refused(): iterable
    {
        yield 'a tag that is taken' => ['cam-08', 1, '', 'CAM-08'];
        yield 'one of a series is taken' => ['CAM-07', 2, '', 'CAM-08'];
        yield 'a series without a number' => ['Camera', 2, '', '"Camera"'];
        yield 'a MAC that is taken' => ['X', 1, '00-00-5E-00-53-08', '00-00-5E-00-53-08'];
        yield 'one label for two' => ['X1', 2, 'NM-77', '2 devices'];
    }

    #[DataProvider('refused')]
    public function testNothingIsAddedTwice(string $tag, int $count, string $label, string $names): void
    {
        try {
            self::add($tag, $count, $label);
            self::fail('it was added');
        } catch (Malformed $e) {
            self::assertStringContainsStringIgnoringCase($names, $e->getMessage());
        }
    }

    public function testTagsKeepTheirDigits(): void
    {
        $plan = self::plan();
        $kind = $plan->catalogue->kindNamed('PTZ') ?? self::fail();
        self::assertSame(['P099', 'P100'], NewDevices::tags($plan, $kind, 'P099', 2));
    }
}
