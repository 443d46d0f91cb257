<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Document;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Document\Labels;
use Vorhut\Tests\Support\Jobs;

final class LabelsTest extends TestCase
{
    public function testALabelSaysWhereEveryPortThatIsPluggedInLives(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->segment('t', '10.64.31.0/24')
            ->router('r', ['s' => '10.64.30.1/24', 't' => '10.64.31.1/24'])
            ->device('v', 'media-server', 's', ['address' => '10.64.30.20'], ['mac' => '00-00-5E-00-53-01', 'room' => 'Booth'])
            ->port('v', 'nic2', 't', ['address' => '10.64.31.20'])
            ->device('c', 'ptz-camera', 's')
            ->device('w', 'wall-panel', null)
            ->device('l', 'laptop', 's')
            ->plan();
        $labels = array_column(Labels::of($plan), null, 'tag');
        self::assertEqualsCanonicalizing(['R', 'V', 'C', 'W'], array_keys($labels), 'the laptop is the technician’s own');
        self::assertSame([
            ['port' => 'nic1', 'address' => '10.64.30.20/24', 'mac' => '00-00-5E-00-53-01'],
            ['port' => 'nic2', 'address' => '10.64.31.20/24', 'mac' => ''],
        ], $labels['V']['lines']);
        self::assertSame('Booth', $labels['V']['room']);
        self::assertSame(['S', 'T'], array_column($labels['R']['lines'], 'port'));
        self::assertSame([['port' => '', 'address' => '', 'mac' => '']], $labels['C']['lines'], 'not known yet');
        self::assertSame([], $labels['W']['lines']);
        self::assertSame(['C'], array_column(Labels::of($plan, ['c']), 'tag'));
    }
}
