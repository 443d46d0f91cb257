<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Voice\Adoption;
use Vorhut\Tests\Support\Jobs;

final class AdoptionTest extends TestCase
{
    private const MAC = '00-00-5E-00-53-77';

    private static function jobs(): Jobs
    {
        return (new Jobs())->segment('v', '10.0.1.0/24', '10.0.1.1')->segment('w', '10.0.2.0/24', '10.0.2.1')
            ->device('ph-07', 'desk-phone-poe', 'v', [], ['tag' => 'PH-07', 'mac' => '00-00-5E-00-53-01'])
            ->device('cp-1', 'conference-phone', 'v', [], ['tag' => 'CP-1'])
            ->device('ph-09', 'desk-phone-poe', 'w', [], ['tag' => 'PH-09']);
    }

    public function testItIsLikeliestAPhoneWhoseLabelNobodyReadAndOfTheKindThatItSays(): void
    {
        $plan = self::jobs()->plan();
        $keys = array_keys(Adoption::choices($plan, 'Desk phone, PoE/4.2'));
        self::assertSame(['devices/ph-09', 'devices/cp-1', 'kinds/desk-phone-poe'], \array_slice($keys, 0, 3));
        self::assertNotContains('devices/ph-07', $keys, 'whose MAC is known is another');
        self::assertNotContains('kinds/ptz-camera', $keys);
        self::assertSame('devices/cp-1', array_keys(Adoption::choices($plan, ''))[0], 'in the order of the roster');
    }

    public function testItIsPutDownAsOneOfTheRosterOrAsOneMore(): void
    {
        $plan = self::jobs()->plan();
        $mac = Mac::fromString(self::MAC);
        $known = $plan->with(Adoption::change($plan, $mac, 'devices/ph-09', '10.0.2.50'));
        self::assertSame(self::MAC, (string) $known->devices['ph-09']->nic()?->mac);
        $more = $plan->with(Adoption::change($plan, $mac, 'kinds/desk-phone-poe', '10.0.2.50'));
        $new = $more->deviceTagged('PH-10');
        self::assertNotNull($new, 'the next number behind the last');
        self::assertSame(
            [self::MAC, 'w', 'vorhut', null],
            [(string) $new->nic()?->mac, $new->nic()?->segment, $new->setting('provisioning')->planned, $new->setting('provisioning')->set],
        );
        $lost = $plan->with(Adoption::change($plan, $mac, 'kinds/analogue-adapter', '2001:db8::1'));
        self::assertNull($lost->deviceTagged('PH-01')?->nic()?->segment, 'from nowhere that is known');
        $this->expectException(Malformed::class);
        Adoption::change($more, $mac, 'devices/ph-09', '');
    }

    public function testWhatIsNoChoiceIsRefused(): void
    {
        $plan = self::jobs()->plan();
        $this->expectException(Malformed::class);
        Adoption::change($plan, Mac::fromString(self::MAC), 'devices/ph-07', '');
    }
}
