<?php

declare(strict_types=1);

namespace Vorhut\Tests\Days;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Provisioning\Files;
use Vorhut\Rehearsal\DayResult;
use Vorhut\Rehearsal\InjectedMistake;
use Vorhut\Rehearsal\RehearsedDay;
use Vorhut\Tests\Support\Jobs;

/** What the trade meets, each from its box to its proof on stand-ins with real sockets. */
final class StoriesTest extends TestCase
{
    private const PACE = 400.0;

    /** @return iterable<string, array{Jobs}> */
    public static function stories(): iterable
    {
        yield 'a phone that was used before is set back within its window' => [self::voice()
            ->device('ph', 'desk-phone-poe', 'v', ['address' => '10.73.20.31', 'provisioning' => 'vorhut', 'hostName' => 'ph'], [
                'mac' => '02-00-5E-00-02-31', 'arrives' => 'used',
            ])
            ->number('2101', 'ph', null, ['location' => 'Gate 1'])];
        yield 'five cameras, one after the other, from one factory address' => [array_reduce(
            [1, 2, 3, 4, 5],
            static fn (Jobs $jobs, int $n): Jobs => $jobs->device('cam'.$n, 'ptz-camera', 'a', [
                'address' => '10.73.40.3'.$n, 'hostName' => 'cam'.$n, 'remoteNumber' => (string) min(4, $n),
            ]),
            self::job(),
        )];
        yield 'a server with two ports, its projector on an isolated switch, gateway blank on purpose' => [self::job()
            ->segment('m', '10.73.60.0/24', null, ['routed' => false])
            ->device('srv', 'media-server', 'm', ['address' => '10.73.60.10', 'projector' => 'proj', 'hostName' => 'hall-1'])
            ->port('srv', 'nic2', 'a', ['address' => '10.73.40.71'])
            ->device('proj', 'projector', 'm', ['address' => '10.73.60.20', 'hostName' => 'proj'])];
        yield 'an audio island that gives itself addresses, at one sample rate' => [self::job()
            ->segment('i', '169.254.0.0/16', null, ['routed' => false])
            ->device('card', 'console-card', 'i', ['address' => '169.254.10.1', 'hostName' => 'card'])
            ->device('proc', 'processing-server', 'i', ['address' => '169.254.10.2', 'hostName' => 'proc', 'card' => 'card'])];
        yield 'a bar and its panel' => [self::job()
            ->device('bar', 'video-bar', 'a', [
                'address' => '10.73.40.23', 'hostName' => 'bar', 'roomAccount' => 'r@nordmole.example', 'providerMode' => 'meetings',
                'displayInput' => '1',
            ], ['mac' => '02-00-5E-00-02-23', 'serial' => 'NMb23'])
            ->device('pan', 'touch-panel', 'a', [
                'address' => '10.73.40.33', 'hostName' => 'pan', 'roomAccount' => 'r@nordmole.example', 'pairedWith' => 'bar',
            ], ['mac' => '02-00-5E-00-02-33', 'serial' => 'NMp33'])];
        yield 'a local-only and an internet presentation gateway' => [self::job()
            ->device('gwi', 'presentation-gateway-internet', 'a', ['address' => '10.73.40.41', 'hostName' => 'gwi', 'displayInput' => '1'])
            ->device('gwl', 'presentation-gateway-local', 'a', [
                'address' => '10.73.40.42', 'hostName' => 'gwl', 'displayInput' => '1', 'ownGateway' => '10.73.40.42',
                'ownDns' => '10.73.40.42',
            ])];
        yield 'an encoder that wakes in a range of its own' => [self::job()
            ->device('enc', 'streaming-encoder', 'a', ['address' => '10.73.40.61', 'hostName' => 'enc'])];
        yield 'a PBX from its box, with modules, and without the extensions it came with' => [self::voice(['module.1' => 'two phones',
            'module.2' => 'mobile radio', 'analoguePorts' => '2'])];
    }

    #[DataProvider('stories')]
    public function testFromTheBoxToTheProof(Jobs $jobs): void
    {
        $day = self::day($jobs);
        self::assertSame([], array_map(strval(...), $day->why));
        self::assertSame([], array_map(static fn (SettingSlot $slot): string => (string) $slot->ref, $day->unseen));
        self::assertSame([], array_map(static fn (Finding $finding): string => (string) $finding->what, $day->findings));
        self::assertSame([], array_map(static fn (array $one): string => $one[0]->key.': '.$one[1]->outcome->value, $day->failed()));
        foreach ($day->lamps as $device => $lamps) {
            foreach (array_intersect_key($lamps, ['pairedWith' => 1, 'projector' => 1, 'card' => 1]) as $what => $how) {
                self::assertSame('linked', $how, "$device, $what");
            }
        }
    }

    public function testAStreamerIsListedOnlyWhereTheNumbersAgree(): void
    {
        $jobs = self::job()
            ->device('zone', 'multi-room-controller', 'a', ['address' => '10.73.40.81', 'hostName' => 'zone', 'inputSource.1' => '1'], [
                'mac' => '02-00-5E-00-02-81', 'labelHostName' => 'mrc-000281',
            ])
            ->row('licences', ['key' => 'l', 'device' => 'zone', 'feature' => 'installer', 'quantity' => 1, 'arrivedOn' => '2026-11-02'])
            ->device('src', 'multi-room-streamer', 'a', [
                'address' => '10.73.40.82', 'hostName' => 'src', 'controller' => 'zone', 'cabledInput' => '1', 'sourceNumber' => '1',
            ], ['mac' => '02-00-5E-00-02-82']);
        self::assertSame('linked', self::day($jobs)->lamps['src']['controller']);

        $wrong = self::day($jobs, ['typed:SRC:sourceNumber=2']);
        self::assertSame('not listed by its controller', $wrong->lamps['src']['controller']);
        self::assertSame(['src'], self::devicesFound($wrong));
    }

    public function testAnIslandWithOneWrongRateIsFoundAtTheBenchAndInTheProof(): void
    {
        $jobs = self::job()->segment('i', '169.254.0.0/16', null, ['routed' => false])
            ->device('card', 'console-card', 'i', ['address' => '169.254.10.1', 'hostName' => 'card', 'clockRole' => 'leader'])
            ->device('proc', 'processing-server', 'i', ['address' => '169.254.10.2', 'hostName' => 'proc', 'card' => 'card'])
            ->row('soundPatches', ['key' => 'to', 'from' => 'card', 'fromChannel' => 1, 'to' => 'proc', 'toChannel' => 1, 'count' => 4])
            ->row('soundPatches', ['key' => 'back', 'from' => 'proc', 'fromChannel' => 1, 'to' => 'card', 'toChannel' => 1, 'count' => 4]);
        $right = self::day($jobs);
        self::assertSame([[], 'linked'], [self::devicesFound($right), $right->lamps['proc']['card']]);
        $wrong = self::day($jobs, ['typed:PROC:sampleRate=96']);
        self::assertSame('no clock from its card', $wrong->lamps['proc']['card']);
        self::assertSame(['proc'], self::devicesFound($wrong));
        self::assertSame([['saved-not-applied', '48 kHz', '96 kHz']], array_map(
            static fn (Finding $one): array => [$one->code, (string) $one->what->with['set'], (string) $one->what->with['seen']],
            $wrong->findings,
        ));
    }

    public function testAPhoneThatRingsFiresTheAlerterOverItsDetector(): void
    {
        $jobs = self::voice();
        foreach (['31' => 'headset', '32' => 'speaker'] as $host => $output) {
            $jobs->device('ph'.$host, 'desk-phone-poe', 'v', [
                'address' => '10.73.20.'.$host, 'provisioning' => 'vorhut', 'hostName' => 'ph'.$host, 'ringOutput' => $output,
            ], ['mac' => '02-00-5E-00-02-'.$host])->number('21'.$host, 'ph'.$host, null, ['location' => 'Quay']);
        }
        $jobs->device('det', 'ring-detector', null, ['listensTo' => 'ph31', 'detectorSocket' => 'headset', 'drives' => 'horn'])
            ->device('horn', 'ring-alerter', 'v', [
                'address' => '10.73.20.61', 'hostName' => 'horn', 'listensTo' => 'ph31', 'detectorSocket' => 'headset',
                'contactMode' => 'detector', 'duration' => '12',
            ]);
        // Each is called once by the other in the proof.
        self::assertSame('quiet, fired for 12 s', self::day($jobs)->lamps['horn']['alert']);
        self::assertSame('quiet', self::day($jobs, ['left:HORN:contactMode'])->lamps['horn']['alert'], 'its contact input is off');
    }

    /** @param list<string> $slips */
    private static function day(Jobs $jobs, array $slips = []): DayResult
    {
        $plan = $jobs->plan();

        $files = new Files(\dirname(__DIR__, 2));

        return RehearsedDay::rehearse($plan, $files, array_map(static fn (string $slip): InjectedMistake => InjectedMistake::fromString(
            $slip,
            static fn (string $tag): ?string => $plan->deviceTagged($tag)?->key,
        ), $slips), self::PACE);
    }

    private static function job(): Jobs
    {
        $jobs = (new Jobs())->segment('c', '10.73.10.0/24', '10.73.10.1')->segment('a', '10.73.40.0/24', '10.73.40.1')
            ->segment('v', '10.73.20.0/24', '10.73.20.1')
            ->router('r', ['c' => '10.73.10.1/24', 'a' => '10.73.40.1/24', 'v' => '10.73.20.1/24'])
            ->device('lap', 'laptop', 'c', ['address' => '10.73.10.9']);
        $jobs->job = [
            'name' => 'Nordmole, a story',
            'country' => 'NO',
            'timeZone' => 'Europe/Oslo',
            'ntp' => '10.73.10.5',
            'dns' => '10.73.10.5',
            'adminName' => 'Petra Solheim',
            'extensionFirst' => '2100',
            'extensionLast' => '2199',
            'voicemailAfter' => 4,
            'laptop' => 'lap',
        ];

        return $jobs;
    }

    /** @param array<string, string> $values of the PBX */
    private static function voice(array $values = []): Jobs
    {
        return self::job()->device('pbx', 'on-site-pbx', 'v', ['address' => '10.73.20.10', 'hostName' => 'pbx'] + $values);
    }

    /** @return list<string> keys of the devices with findings, sorted */
    private static function devicesFound(DayResult $day): array
    {
        $keys = [];
        foreach ($day->findings as $finding) {
            foreach ($finding->records as $record) {
                if (str_starts_with($record, 'devices/')) {
                    $keys[] = substr($record, 8);
                }
            }
        }
        $keys = array_values(array_unique($keys));
        sort($keys);

        return $keys;
    }
}
