<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Integrity;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

/**
 * What no change may leave behind in a job.
 *
 * @phpstan-import-type RowData from Edit
 */
final class IntegrityTest extends TestCase
{
    private static function plan(): Plan
    {
        return (new Jobs())->segment('q', '10.64.40.0/24', '10.64.40.1')
            ->device('pbx', 'on-site-pbx', 'q', ['address' => '10.64.40.10'])
            ->device('cam', 'ptz-camera', 'q', ['address' => '10.64.40.31'])
            ->device('p', 'desk-phone-poe', 'q', ['address' => '10.64.40.41'])
            ->number('2101', 'p', '00-00-5E-00-53-01')
            ->row('credentials', ['key' => 'c', 'owner' => 'devices/cam', 'purpose' => 'admin', 'user' => 'admin', 'state' => 'default'])
            ->row('marks', ['key' => 'cam.unpack', 'device' => 'cam', 'step' => 'unpack', 'state' => 'done', 'by' => 'Jo'])
            ->plan();
    }

    private static function of(Plan $plan): Integrity
    {
        return new Integrity($plan->catalogue, static fn (string $section, string $key): ?array => $plan->row($section, $key));
    }

    public function testWhatAPlanIsMadeOfMayStand(): void
    {
        $plan = self::plan();
        foreach (['segments', 'devices', 'nics', 'extensions', 'accounts', 'credentials', 'marks', 'settings'] as $section) {
            foreach ($plan->rows($section) as $row) {
                self::assertNull(self::of($plan)->why($section, $row), $section);
            }
        }
        self::assertNull(self::of($plan)->why('job', $plan->jobRow()));
    }

    /** @return iterable<string, array{string, string, RowData, non-empty-string}> section, key, fields that are changed → why not */
    public static function broken(): iterable
    {
        yield 'a pointer at nothing' => ['nics', 'cam.lan', ['segment' => 'gone'], 'segment: There is no "gone" in segments any more.'];
        yield 'a kind that is none' => ['devices', 'cam', ['kind' => 'toaster'], 'kind: There is no "toaster" in kinds any more.'];
        yield 'a state that is none' => ['marks', 'cam.unpack', ['state' => 'perhaps'], 'state: '];
        yield 'an address that is none' => ['segments', 'q', ['gateway' => '10.64.40.300'], 'gateway: '];
        yield 'a number as text' => ['devices', 'cam', ['position' => 'first'], 'position: '];
        yield 'a secret of nobody' => ['credentials', 'c', ['owner' => 'devices/gone'], 'owner: There is no "gone" in devices any more.'];
        yield 'a camera as PBX' => ['extensions', 'x2101', ['pbx' => 'cam'], 'pbx: CAM is a PTZ camera, which cannot be that.'];
    }

    /**
     * @param RowData          $fields
     * @param non-empty-string $why
     */
    #[DataProvider('broken')]
    public function testWhatCannotBeReadAgainIsRefused(string $section, string $key, array $fields, string $why): void
    {
        $plan = self::plan();
        $row = $fields + ($plan->row($section, $key) ?? self::fail('There is no such record.'));
        self::assertStringStartsWith($why, (string) self::of($plan)->why($section, $row));
    }

    /** @return iterable<string, array{RowData, non-empty-string|null}> */
    public static function settings(): iterable
    {
        yield 'of a removed device' => [['key' => 'devices/gone#gateway', 'planned' => 'x'], '"devices/gone#gateway" is not a setting'];
        yield 'of no record' => [['key' => 'gateway', 'planned' => 'x'], '"gateway" is not a setting'];
        yield 'an address that is none' => [['key' => 'nics/cam.lan#address', 'planned' => '10.64.40'], 'Address: '];
        yield 'entered wrongly' => [['key' => 'nics/cam.lan#address', 'set' => '10.64.40'], 'Address: '];
        yield 'seen so' => [['key' => 'nics/cam.lan#address', 'seen' => '10.64.40'], null];
        yield 'blank' => [['key' => 'nics/cam.lan#gateway', 'set' => ''], null];
        yield 'one that the kind does not know' => [['key' => 'devices/cam#sparkle', 'planned' => 'very'], null];
    }

    /**
     * @param RowData               $row
     * @param non-empty-string|null $why
     */
    #[DataProvider('settings')]
    public function testASettingIsReadByItsKind(array $row, ?string $why): void
    {
        $found = self::of(self::plan())->why('settings', $row);
        if (null === $why) {
            self::assertNull($found);
        } else {
            self::assertStringStartsWith($why, (string) $found);
        }
    }

    public function testEveryPointerIsKnownFromBothSides(): void
    {
        self::assertContains(['nics', 'segment'], Integrity::pointers()['segments']);
        self::assertContains(['accounts', 'registrar'], Integrity::pointers()['devices']);
        self::assertArrayNotHasKey('kinds', Integrity::pointers());
    }
}
