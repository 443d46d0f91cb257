<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Power;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Catalogue\PoeClass;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Power\PoeBudget;
use Vorhut\Core\Power\PoeDraw;
use Vorhut\Core\Power\PoeLoad;
use Vorhut\Tests\Support\Facts;
use Vorhut\Tests\Support\Jobs;

/** Power over data cables: what a cable eats, what a switch has. */
final class PoeBudgetTest extends TestCase
{
    public function testTheWorkedExample(): void
    {
        $draw = PoeDraw::of(12.5, 90, 44);
        self::assertNotNull($draw);
        self::assertSame([11.25, 0.3084, 13.57], [$draw->ohm, round($draw->ampere, 4), round($draw->watts, 2)]);
        self::assertEqualsWithDelta(12.5, $draw->watts - $draw->ampere ** 2 * $draw->ohm, 1e-9, 'what is left is what it takes');
    }

    /** @return iterable<string, array{float, float, float, bool, float, float|null}> */
    public static function cables(): iterable
    {
        yield 'no cable at all' => [12.5, 0, 44, false, 20, 12.5];
        yield 'four pairs eat half' => [12.5, 90, 44, true, 20, 12.99];
        yield 'warm copper eats more' => [12.5, 90, 44, false, 60, 13.78];
        yield 'at the most that comes through' => [38.72, 100, 44, false, 20, 77.44];
        yield 'more comes through by no current' => [38.73, 100, 44, false, 20, null];
    }

    #[DataProvider('cables')]
    public function testWhatACableEats(float $watts, float $metres, float $volts, bool $four, float $celsius, ?float $drawn): void
    {
        $draw = PoeDraw::of($watts, $metres, $volts, $four, $celsius);
        if (null === $drawn) {
            self::assertNull($draw);
        } else {
            self::assertSame($drawn, round((float) $draw?->watts, 2));
        }
    }

    public function testAClassReachesAsFarAsTheStandardSays(): void
    {
        foreach (PoeClass::cases() as $class) {
            // A device at the limit of its class reaches 100 m by definition (IEEE 802.3bt, table 145-16); a little more does not.
            self::assertSame(100, PoeDraw::longest($class, $class->atDevice()), $class->name);
        }
        foreach ([PoeClass::C4, PoeClass::C5, PoeClass::C6, PoeClass::C8] as $class) {
            self::assertLessThan(100, PoeDraw::longest($class, $class->atDevice() * 1.03), $class->name);
            self::assertLessThan(100, PoeDraw::longest($class, $class->atDevice(), 60.0), $class->name.' in a warm bundle');
        }
        self::assertSame(0, PoeDraw::longest(PoeClass::C1, 5.0));
        self::assertLessThan(100, PoeDraw::longest(PoeClass::C3, 14.0));
    }

    private static function job(int $cameras, string $by = 'class', int $has = 66): Jobs
    {
        $jobs = (new Jobs())->segment('s', '10.0.0.0/24', '10.0.0.1')
            ->device('sw', 'managed-switch', 's', ['poeBudget' => (string) $has, 'poeAllotment' => $by]);
        for ($i = 1; $i <= $cameras; ++$i) {
            $jobs->device('c'.$i, 'ptz-camera', 's')
                ->row('cables', ['key' => 'c'.$i, 'device' => 'c'.$i, 'switch' => 'sw', 'port' => (string) $i, 'metres' => 90]);
        }

        return $jobs->device('ph', 'desk-phone-poe', 's')
            ->row('cables', ['key' => 'ph', 'device' => 'ph', 'switch' => 'sw', 'port' => '20', 'metres' => 30]);
    }

    public function testByClassItIsOverAndByDrawItIsNot(): void
    {
        $budget = PoeBudget::all(self::job(4)->plan())[0];
        self::assertTrue($budget->isOver());
        self::assertSame(['C4'], array_map(static fn (PoeLoad $load): string => $load->device->tag, $budget->shedFirst()), 'not the phone');
        self::assertSame('PH', $budget->loads[0]->device->tag);
        $drawn = PoeBudget::all(self::job(4, 'draw')->plan())[0];
        self::assertEqualsWithDelta(4 * 13.57, $drawn->sum - $drawn->loads[0]->counted, 0.02);
        self::assertFalse($drawn->isOver());
        self::assertTrue($drawn->startsInTurn(), 'all at once they may take what their classes allow');
        $one = self::job(1)->device('far', 'ptz-camera', 's')->plan();
        self::assertSame(['FAR'], array_map(static fn (Device $device): string => $device->tag, PoeBudget::withoutSwitch($one)));
        self::assertSame([], PoeBudget::all(self::job(0)->change('cables', 'ph', 'spare', true)->plan()));
    }

    /** @return array<string, string> */
    private static function found(Jobs $jobs): array
    {
        return Facts::of($jobs->plan(), 'poe-over-budget', 'poe-too-far', 'port-taken-twice');
    }

    public function testFindings(): void
    {
        self::assertSame([], self::found(self::job(2)));
        self::assertSame(
            ['poe-over-budget' => 'blocks switch=SW sum=68.6 by=class has=66 shed=C4'],
            self::found(self::job(4)),
        );
        self::assertStringStartsWith('risk ', self::found(self::job(3, 'class', 60))['poe-over-budget'] ?? '');
        $far = self::job(1)->change('cables', 'c1', 'metres', 260);
        self::assertSame(['poe-too-far' => 'blocks device=C1 watts=12.5 switch=SW metres=260'], self::found($far));
        $guessed = self::found(self::job(1)->change('cables', 'c1', 'metres', null));
        self::assertSame([], $guessed, 'as long as a cable may be it is fed');
        self::assertSame(
            ['port-taken-twice' => 'blocks port=1 switch=SW devices=C1, C2'],
            self::found(self::job(2)->change('cables', 'c2', 'port', '1')),
        );
    }
}
