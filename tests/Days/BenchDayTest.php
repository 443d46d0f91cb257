<?php

declare(strict_types=1);

namespace Vorhut\Tests\Days;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Analysis;
use Vorhut\Core\Consistency\Agreed;
use Vorhut\Core\Consistency\Standing;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Provisioning\Files;
use Vorhut\Rehearsal\DayResult;
use Vorhut\Rehearsal\InjectedMistake;
use Vorhut\Rehearsal\RehearsedDay;
use Vorhut\Tests\Support\BenchDay;

/** A whole day at the bench, on stand-ins that know nothing of the plan. */
final class BenchDayTest extends TestCase
{
    /** Twenty times faster than life would do; this is quicker. */
    private const PACE = 100.0;

    public function testEverySettingIsSeenAsPlannedAndEveryAgreementHolds(): void
    {
        $plan = BenchDay::plan();
        $kinds = array_unique(array_map(static fn (Device $device): string => $device->kind->code, $plan->devices));
        self::assertGreaterThanOrEqual(40, \count($plan->devices));
        self::assertGreaterThanOrEqual(20, \count($kinds));

        $day = self::day([]);

        self::assertSame([], array_map(strval(...), $day->why));
        self::assertSame([], array_map(static fn (SettingSlot $slot): string => (string) $slot->ref, $day->unseen));
        self::assertSame([], array_map(static fn (Finding $finding): string => (string) $finding->what, $day->findings));
        self::assertSame([], array_map(static fn (array $one): string => $one[0]->key.': '.$one[1]->outcome->value, $day->failed()));
        self::assertGreaterThan(60, \count($day->probes));
        $agreements = (new Analysis($day->plan))->agreements()->all;
        self::assertSame([], array_filter($agreements, static fn (Agreed $one): bool => Standing::Broken === $one->standing));
        self::assertGreaterThan(30, \count(array_filter($agreements, static fn (Agreed $one): bool => Standing::Holds === $one->standing)));
    }

    public function testOfTenSlipsExactlyTheseTenAreFound(): void
    {
        $slips = [
            'typed:CAM1:gateway=10.72.40.10', 'typed:ENC:address=10.72.40.16', 'left:SW1:snooping', 'not-applied:SW2', 'password:COD2',
            'misread:PAN2:=02-00-5E-00-01-FF', 'typed:SRC2:sourceNumber=1', 'typed:PROC:sampleRate=44.1', 'left:LAMP1:duration',
            'typed:SCN:sceneContact.1=2',
        ];

        $day = self::day($slips);

        $slipped = array_map(static fn (string $slip): string => strtolower(explode(':', $slip)[1]), $slips);
        sort($slipped);
        $about = array_map(
            static fn (Finding $finding): array => array_values(array_intersect(
                array_map(static fn (string $record): string => substr($record, 8), array_filter(
                    $finding->records,
                    static fn (string $record): bool => str_starts_with($record, 'devices/'),
                )),
                $slipped,
            )),
            $day->findings,
        );
        $said = array_map(static fn (Finding $finding): string => (string) $finding->what, $day->findings);
        self::assertNotContains([], $about, 'nothing is found that nobody did: '.implode("\n", $said));
        $found = array_values(array_unique(array_merge(...$about)));
        sort($found);
        self::assertSame($slipped, $found, implode("\n", $said));
    }

    /** @param list<string> $slips */
    private static function day(array $slips): DayResult
    {
        $plan = BenchDay::plan();

        $files = new Files(\dirname(__DIR__, 2));

        return RehearsedDay::rehearse($plan, $files, array_map(static fn (string $slip): InjectedMistake => InjectedMistake::fromString(
            $slip,
            static fn (string $tag): ?string => $plan->deviceTagged($tag)?->key,
        ), $slips), self::PACE, [] === $slips);
    }
}
