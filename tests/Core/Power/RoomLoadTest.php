<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Power;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Power\PoeBudget;
use Vorhut\Core\Power\RoomLoad;
use Vorhut\Tests\Support\Jobs;

/** What the rooms take, by the kinds' own figures: a switch 60 W, a camera 12.5 W over its cable, a codec 90 W, a projector 4200 W. */
final class RoomLoadTest extends TestCase
{
    private static function plan(): Plan
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24')
            ->device('sw', 'managed-switch', 's', ['poeBudget' => '200'], ['room' => 'Rack'])
            ->device('vc', 'room-codec', 's', [], ['room' => 'Hall'])
            ->device('cam', 'ptz-camera', 's', [], ['room' => 'Hall'])
            ->device('pj', 'projector', 's', [], ['room' => 'Booth'])
            ->device('tp', 'multi-room-streamer', 's', [], ['room' => 'Booth'])
            ->device('lt', 'laptop', null);

        return $jobs->row('cables', ['key' => 'c', 'device' => 'cam', 'switch' => 'sw', 'port' => '1', 'metres' => 90])->plan();
    }

    /** @return array<string, RoomLoad> */
    private static function rooms(Plan $plan): array
    {
        $all = RoomLoad::all($plan, PoeBudget::all($plan));

        return array_combine(array_map(static fn (RoomLoad $one): string => $one->room, $all), $all);
    }

    public function testWhatASwitchFeedsIsDrawnWhereItIsAndWarmsWhereItIsUsed(): void
    {
        $plan = self::plan();
        $rooms = self::rooms($plan);
        $takes = static fn (string $device): float => $plan->devices[$device]->kind->power->watts ?? 0.0;
        $draw = PoeBudget::all($plan)[0]->loads[0]->draw ?? 0.0;
        self::assertGreaterThan($takes('cam'), $draw);
        self::assertSame(['Booth', 'Hall', 'Rack', ''], array_keys($rooms), 'the warmest first');
        self::assertEqualsWithDelta($takes('sw') + $draw, $rooms['Rack']->mains, 1e-9);
        self::assertEqualsWithDelta($draw, $rooms['Rack']->fed, 1e-9);
        self::assertEqualsWithDelta($takes('sw') + $draw - $takes('cam'), $rooms['Rack']->heat, 1e-9, 'its own, and the cable\'s');
        self::assertEqualsWithDelta($takes('vc'), $rooms['Hall']->mains, 1e-9, 'the camera is fed from the rack');
        self::assertEqualsWithDelta($takes('vc') + $takes('cam'), $rooms['Hall']->heat, 1e-9);
        $all = array_sum(array_map(static fn (RoomLoad $one): float => $one->heat, $rooms));
        self::assertEqualsWithDelta(array_sum(array_map(static fn (RoomLoad $one): float => $one->mains, $rooms)), $all, 1e-9);
    }

    public function testWhatHasTwoSuppliesIsCarriedByEitherOfTwoCircuits(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24')
            ->device('ms', 'media-server', 's', [], ['room' => 'Booth'])->device('sw', 'managed-switch', 's', [], ['room' => 'Booth']);
        $booth = self::rooms($jobs->plan())['Booth'];
        // 900 W and 60 W at two supplies each: one circuit of 16 A would do, and it takes two all the same; of 4 A two for each side.
        self::assertSame([960.0, 4, 2, 4], [$booth->paired, $booth->inlets, $booth->circuits(230, 16), $booth->circuits(230, 4)]);
        self::assertSame([5, 6.4], [$booth->units, $booth->weightPerUnit()]);
        $others = self::rooms(self::plan());
        self::assertSame([2, null], [$others['Rack']->circuits(230, 16), $others['Booth']->weightPerUnit()]);
    }

    public function testHeatCircuitsWeightAndWhatIsNotKnown(): void
    {
        $rooms = self::rooms(self::plan());
        $booth = $rooms['Booth'];
        self::assertSame([2, 4200.0, ['TP'], 1], [$booth->devices, $booth->mains, $booth->jsonSerialize()['unknown'], $booth->inlets]);
        self::assertSame(14331.0, round($booth->btuPerHour()), '1 W is 3.41214 BTU/h');
        self::assertEqualsWithDelta(18.26, $booth->ampere(230), 0.005);
        self::assertSame([2, 1, 3], [$booth->circuits(230, 16), $booth->circuits(230, 32), $booth->circuits(120, 16)]);
        self::assertSame([1, 0], [$rooms['Hall']->circuits(230, 16), $rooms['']->circuits(230, 16)]);
        self::assertSame(2, $rooms['Rack']->inlets, 'two supplies are two plugs');
        self::assertGreaterThan(4.0, $rooms['Hall']->weight);
    }
}
