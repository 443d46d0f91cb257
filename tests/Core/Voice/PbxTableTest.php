<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Voice\PbxTable;
use Vorhut\Tests\Support\Jobs;

final class PbxTableTest extends TestCase
{
    public function testAPbxIsToldOfItsOwnNumbersAndOfAllTheirTerminals(): void
    {
        $plan = (new Jobs())->segment('s', '10.0.0.0/24')->device('pbx', 'on-site-pbx', 's')->device('hr', 'hosted-registrar', null)
            ->device('a', 'desk-phone-poe', 's', [], ['mac' => '00-00-5E-00-53-01'])
            ->device('b', 'soft-client', 's', [], ['mac' => '00-00-5E-00-53-02'])
            ->device('c', 'desk-phone-poe', 's')
            ->number('2101', 'a', null, ['name' => 'Gate', 'mail' => 'gate@site.example', 'forwardBusy' => '2102', 'voicemail' => true])
            ->number('2102', 'c', null, [], 'hr')
            ->row('extensions', ['key' => 'l', 'number' => '2190', 'name' => 'Lift', 'pbx' => 'pbx', 'terminal' => 'analogue'])
            ->row('terminals', ['key' => 't', 'extension' => 'x2101', 'device' => 'b'])->plan();
        $rows = PbxTable::rows($plan, $plan->devices['pbx'], static fn (string $account): string => 'secret of '.$account);
        self::assertSame(['2101', '2190'], array_column($rows, 'number'), 'not those of a provider');
        self::assertSame([
            'number' => '2101', 'name' => 'Gate', 'terminal' => 'sip', 'user' => '2101', 'secret' => 'secret of a2101',
            'mac' => '00-00-5E-00-53-01+00-00-5E-00-53-02', 'voicemail' => 'yes', 'mail' => 'gate@site.example', 'caller id' => '',
            'permission' => 'international', 'forward always' => '', 'forward busy' => '2102', 'forward unanswered' => '',
            'location' => $rows[0]['location'],
        ], $rows[0]);
        self::assertSame(['analogue', '', '', ''], [$rows[1]['terminal'], $rows[1]['user'], $rows[1]['secret'], $rows[1]['mac']]);
    }
}
