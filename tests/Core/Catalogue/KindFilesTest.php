<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Catalogue;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Catalogue\Way;
use Vorhut\Core\Net\Malformed;
use Vorhut\Library\CatalogueFiles;
use Vorhut\Library\Shape;
use Vorhut\Tests\Support\Jobs;

final class KindFilesTest extends TestCase
{
    /** @return iterable<string, array{string, array<mixed>}> whole: with the steps that it shares with others */
    public static function files(): iterable
    {
        $library = new CatalogueFiles(\dirname(__DIR__, 3));
        foreach (['kinds' => 'kind', 'settings' => 'settings', 'agreements' => 'agreement'] as $folder => $schema) {
            foreach ($library->files($folder) as $code => $data) {
                yield "$folder/$code" => [$schema, $data];
            }
        }
    }

    /** @param array<mixed> $data */
    #[DataProvider('files')]
    public function testEveryFileKeepsToItsSchema(string $schema, array $data): void
    {
        self::assertSame([], (new Shape(\dirname(__DIR__, 3)))->errors($schema, $data));
    }

    public function testWhatHoldsAFactoryAddressHasAStepThatPowersItAndOneThatAddressesIt(): void
    {
        foreach (Jobs::catalogue()->kinds() as $kind) {
            if (null !== $kind->factoryState()->address && [] !== $kind->activePorts()) {
                self::assertNotNull($kind->stepThat(Effect::Powers), $kind->code);
                self::assertNotNull($kind->stepThat(Effect::Addresses), $kind->code);
            }
        }
    }

    /** A mark records what the sheet shows: with a mask that is not on the sheet, the record of the device would have none. */
    public function testAStepThatRecordsAMaskShowsIt(): void
    {
        foreach (Jobs::catalogue()->kinds() as $kind) {
            foreach ($kind->steps as $step) {
                $shown = array_merge($step->copies, ...array_map(static fn (Way $way): array => $way->copies, $step->ways));
                if (\in_array('mask', $step->records, true)) {
                    self::assertContains('mask', $shown, $kind->code.' '.$step->code);
                }
            }
        }
    }

    /** A source that names what does not exist would never have a value. */
    public function testASourceNamesKindsAndSettingsThatExist(): void
    {
        foreach (Jobs::catalogue()->kinds() as $kind) {
            foreach ($kind->settings as $setting) {
                foreach ($setting->inherits as [$source]) {
                    [$of, $which] = explode(':', $source, 2) + [1 => ''];
                    foreach (\in_array($of, ['room', 'subnet', 'site'], true) ? explode('+', $which) : [] as $code) {
                        self::assertNotNull(Jobs::catalogue()->kind($code), "$kind->code $setting->name $code");
                    }
                    self::assertTrue('via' !== $of || isset($kind->settings[$which]), "$kind->code $setting->name $which");
                }
            }
        }
    }

    public function testWhatAKindDoesNotSayIsWhatMostHave(): void
    {
        $kind = Jobs::catalogue()->read('x', ['name' => 'X', 'factory' => [['state' => 'dhcp']], 'power' => ['by' => 'mains']]);
        self::assertSame([1, null, 0.0], [$kind->power?->inlets, $kind->power?->poe(), $kind->power?->watts]);
        self::assertSame([30, 5], [$kind->boot, $kind->rank]);
        $licensed = Jobs::catalogue()->read('x', [
            'name' => 'X', 'factory' => [['state' => 'dhcp']], 'licences' => [['code' => 'a', 'name' => 'A']],
        ])->licence('a');
        self::assertSame([0, 0, 0, 'serial'], [$licensed?->included, $licensed?->lead, $licensed?->lasts, $licensed?->by]);
        foreach (['login' => ['pattern' => 'guess'], 'steps' => [['code' => 'a', 'effects' => ['magic']]]] as $field => $odd) {
            try {
                Jobs::catalogue()->read('x', ['name' => 'X', 'factory' => [['state' => 'dhcp']], $field => $odd]);
                self::fail($field);
            } catch (Malformed $e) {
                self::assertMatchesRegularExpression('/there is no (pattern "guess"|effect "magic")/', $e->getMessage());
            }
        }
    }

    public function testABadKindSaysWhatIsWrong(): void
    {
        $this->expectException(Malformed::class);
        $this->expectExceptionMessage('a fixed factory state needs an address');
        Kind::fromArray('x', ['name' => 'X', 'roles' => [], 'factory' => [['state' => 'fixed']]]);
    }

    /** "Below" means the values that the sheet shows under the step. */
    public function testAStepThatPointsToValuesBelowShowsSome(): void
    {
        $checked = 0;
        foreach (self::ways() as $name => [$step, $way]) {
            if (1 === preg_match('/\bbelow\b/', $way->do.' '.$way->see) && !str_contains($way->do, 'nobody below')) {
                self::assertNotSame([], $way->copies, $name);
                ++$checked;
            }
        }
        self::assertGreaterThan(15, $checked);
    }

    public function testWhereALoginIsNeededTheSheetShowsIt(): void
    {
        $checked = 0;
        foreach (self::ways() as $name => [$step, $way]) {
            if (1 === preg_match('/\blogs? in\b/i', $way->do)) {
                self::assertNotSame([], array_intersect(['login', 'adminPassword', 'roomSecret'], $way->copies), $name);
                ++$checked;
            }
        }
        self::assertGreaterThan(8, $checked);
    }

    /** @return iterable<string, array{Step, Way}> */
    private static function ways(): iterable
    {
        foreach (Jobs::catalogue()->kinds() as $kind) {
            foreach ($kind->steps as $step) {
                foreach ($step->ways as $way) {
                    yield $kind->code.' '.$step->code.' '.$way->code => [$step, $way];
                }
            }
        }
    }
}
