<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\SegmentCheck;
use Vorhut\Tests\Support\Jobs;

final class SegmentCheckTest extends TestCase
{
    public function testAnOverlapIsToldAtBothFieldsAndAtNoOther(): void
    {
        $segment = (new Jobs())->segment('s', '10.1.1.0/24', '10.1.1.1', [
            'pools' => ['10.1.1.100-10.1.1.149'],
            'blocks' => [
                ['range' => '10.1.1.140-10.1.1.160', 'for' => 'ptz-camera'],
                ['range' => '10.1.1.10-10.1.1.19', 'for' => 'room-codec'],
            ],
        ])->plan()->segments['s'];
        $why = static fn (string $field): ?string => null === ($one = SegmentCheck::whyNot($segment, Jobs::catalogue(), $field))
            ? null
            : (string) $one;
        self::assertSame($why('pools'), $why('blocks'));
        self::assertSame(
            '10.1.1.140-10.1.1.160 (ptz-camera) overlaps 10.1.1.100-10.1.1.149 (DHCP pool).',
            $why('pools'),
        );
        self::assertNull($why('gateway'));
        self::assertNull($why('reserved'));
        self::assertCount(2, SegmentCheck::of($segment, Jobs::catalogue()), 'one overlap, at two fields');
    }

    public function testAGatewayAndAnOutpostOutsideAreToldApart(): void
    {
        $segment = (new Jobs())->segment('s', '10.1.1.0/24', '10.1.2.1', ['outpost' => '10.1.2.9'])->plan()->segments['s'];
        self::assertSame([
            'gateway' => '10.1.2.1 is not in 10.1.1.0/24: a device sends only to a gateway on its own wire.',
            'outpost' => '10.1.2.9 is not in 10.1.1.0/24: from there nothing of this segment is seen.',
        ], array_map(strval(...), array_column(SegmentCheck::of($segment, Jobs::catalogue()), 'what', 'field')));
    }

    public function testTwoOfOneFieldThatOverlapAreToldOnce(): void
    {
        $segment = (new Jobs())->segment('s', '10.1.1.0/24', '10.1.1.1', [
            'pools' => ['10.1.1.100-10.1.1.149', '10.1.1.149-10.1.1.150'],
        ])->plan()->segments['s'];
        self::assertSame(['pools'], array_column(SegmentCheck::of($segment, Jobs::catalogue()), 'field'));
    }

    public function testPortsAreFoundByTheirSegmentInTheOrderOfTheirDevices(): void
    {
        $plan = (new Jobs())->segment('s', '10.1.1.0/24')->segment('t', '10.1.2.0/24')
            ->device('b', 'ptz-camera', 's')
            ->device('a', 'ptz-camera', 's')
            ->device('c', 'ptz-camera', 't')
            ->device('d', 'ptz-camera', null)->plan();
        $on = static fn (string $segment): array => array_map(static fn (Nic $nic): string => $nic->device, $plan->nicsOn($segment));
        self::assertSame([['b', 'a'], ['c'], []], [$on('s'), $on('t'), $on('x')]);
    }
}
