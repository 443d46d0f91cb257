<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Plan\KnownValues;
use Vorhut\Tests\Support\Jobs;

final class KnownValuesTest extends TestCase
{
    public function testBlankFieldsAreFilledAndTypedOnesStay(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/26', '10.64.30.1')->segment('i', '10.64.31.0/24')
            ->device('R-1', 'router', null)->plan();
        self::assertSame(
            ['segment' => 's', 'address' => '10.64.30.1', 'mask' => '/26'],
            KnownValues::fill($plan, 'routerPorts', ['segment' => 's', 'address' => ' ', 'mask' => '']),
        );
        self::assertSame('10.64.30.2', KnownValues::fill($plan, 'routerPorts', ['segment' => 's', 'address' => '10.64.30.2'])['address']);
        self::assertSame('', KnownValues::fill($plan, 'routerPorts', ['segment' => 'i'])['address'], 'an isolated segment has no gateway');
        self::assertSame(['segment' => 'gone'], KnownValues::fill($plan, 'routerPorts', ['segment' => 'gone']));
        self::assertSame('R-2', KnownValues::fill($plan, 'devices', ['kind' => 'router', 'tag' => ''])['tag']);
        $licensed = (new Jobs())->segment('s', '10.64.30.0/26')->device('c', 'multi-room-controller', 's')->plan();
        self::assertSame('installer', KnownValues::fill($licensed, 'licences', ['device' => 'c'])['feature']);
        self::assertSame(['name' => 'x', 'pattern' => '2'], KnownValues::fill($plan, 'segments', ['name' => 'x']));
        self::assertSame(['name' => ''], KnownValues::fill($plan, 'streams', ['name' => '']));
    }
}
