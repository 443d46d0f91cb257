<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Reachability;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Network\Reachability\Difference;
use Vorhut\Core\Network\Reachability\WhatIf;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

/** What a change would make reachable and unreachable, before it is made. */
final class WhatIfTest extends TestCase
{
    private static function plan(string $gateway = '10.64.40.1'): Plan
    {
        return (new Jobs())->segment('v', '10.64.20.0/24', '10.64.20.1')->segment('q', '10.64.40.0/24', '10.64.40.1')
            ->router('r', ['v' => '10.64.20.1/24', 'q' => '10.64.40.1/24'])
            ->device('a', 'ptz-camera', 'q', ['address' => '10.64.40.31', 'mask' => '/24', 'gateway' => $gateway])
            ->device('b', 'ptz-camera', 'q', ['address' => '10.64.40.32', 'mask' => '/24', 'gateway' => '10.64.40.1'])
            ->plan();
    }

    private static function of(Plan $plan, Edit ...$edits): WhatIf
    {
        return WhatIf::of($plan, Face::Planned, new Change(new Message('x'), array_values($edits)));
    }

    /** @return list<string> */
    private static function texts(WhatIf $what): array
    {
        return array_map(static fn (Difference $one): string => (string) $one->message(), $what->differences);
    }

    public function testAChangeOfNothingChangesNothing(): void
    {
        self::assertSame([], self::of(self::plan(), Edit::put('devices', 'a', 'room', null, 'Hall'))->differences);
    }

    public function testWithoutItsGatewayOneOfTwoCeasesToAnswerFromTheOtherSegmentAlone(): void
    {
        $what = self::of(self::plan(), Edit::setting('nics/a.lan#gateway', Face::Planned, '10.64.40.1', ''));
        self::assertSame([], $what->begins());
        self::assertNotSame([], $what->ceases());
        foreach ($what->ceases() as $one) {
            $tags = array_map(static fn (Device $device): string => $device->tag, $one->devices);
            self::assertSame(['v', 'q', ['A']], [$one->place->key, $one->segment, $tags]);
            self::assertMatchesRegularExpression('~^From V, A .*stops answering: ~', (string) $one->message());
        }
        self::assertSame(\count($what->ceases()), WhatIf::cells($what->ceases()), 'one device in each');
    }

    public function testTheReverseBeginsAndWhatCeasesComesFirst(): void
    {
        $plan = self::plan('');
        $gateway = Edit::setting('nics/a.lan#gateway', Face::Planned, '', '10.64.40.1');
        $begins = self::of($plan, $gateway);
        self::assertSame([[], true], [$begins->ceases(), [] !== $begins->begins()]);
        $both = self::of($plan, $gateway, Edit::setting('nics/b.lan#gateway', Face::Planned, '10.64.40.1', ''));
        self::assertMatchesRegularExpression('~, B .*stops~', self::texts($both)[0]);
        self::assertMatchesRegularExpression('~, A .*begins~', self::texts($both)[\count($both->differences) - 1]);
    }

    public function testWhatFailsForAnotherReasonNeitherBeginsNorCeases(): void
    {
        $other = self::of(self::plan(''), Edit::setting('nics/a.lan#gateway', Face::Planned, '', '10.64.40.77'));
        self::assertSame([[], [], true], [$other->begins(), $other->ceases(), [] !== $other->otherwise()]);
        self::assertStringContainsString('stays silent for another reason', self::texts($other)[0]);
    }
}
