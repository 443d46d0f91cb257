<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Vorhut\Core\Allocation\Allocation;
use Vorhut\Core\Analysis\Analysis;
use Vorhut\Core\Bench\LicenceNeed;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\SheetValue;
use Vorhut\Core\Bench\WritePlan;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Document\Labels;
use Vorhut\Core\Document\Schedules;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Network\Walk\Cure;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Sample\PlantedFaults;
use Vorhut\Core\Sample\SampleJob;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\Directory;
use Vorhut\Core\Voice\ProvisioningFile;
use Vorhut\Core\Voice\Registration;
use Vorhut\Tests\Support\Jobs;

/**
 * All that is computed of whole jobs, as it was when somebody last looked at it: JSON with an entry for each result. Whoever changes a rule
 * sees here what it changes in jobs that are like real ones. `RESULTS=write vendor/bin/phpunit tests/Core/ResultsTest.php` writes the files
 * again; read the difference and commit it with the change.
 *
 * The facts that a result rests on and exports of whole jobs are too long to be read: a digest stands for them.
 */
final class ResultsTest extends TestCase
{
    private const FOLDER = __DIR__.'/../documents/results/';

    /** Characters of a result that is still read. */
    private const LONGEST = 2500;
    private const LEFT_OUT = ['facts', 'basis', 'cure', 'holds', 'leg', 'segment', 'label'];

    /** A cure tries many changes, which takes its time: this one of so many is asked for. */
    private const NTH_CURE = 9;

    /** @return iterable<string, array{string, \Closure(): Plan}> */
    public static function jobs(): iterable
    {
        foreach (['port', 'museum'] as $demo) {
            yield $demo => [$demo, static fn (): Plan => self::read(Jobs::demo($demo))];
        }
        yield 'of an older version' => ['port-v1', static fn (): Plan => self::read(
            (string) file_get_contents(__DIR__.'/../documents/port-v1.json'),
        )];
        yield 'made up' => ['generated', static function (): Plan {
            $chance = new Randomizer(new Xoshiro256StarStar(7));
            $below = static fn (int $n): int => $chance->getInt(0, $n - 1);

            return PlantedFaults::into(SampleJob::of(Jobs::catalogue(), 60, 6, $below), 9, $below)->plan;
        }];
    }

    /** @param \Closure(): Plan $plan */
    #[DataProvider('jobs')]
    public function testTheyAreWhatTheyWere(string $name, \Closure $plan): void
    {
        $results = "{\n".implode(",\n", self::results($plan()))."\n}\n";
        self::assertJson($results);
        $file = self::FOLDER.$name.'.json';
        if ('write' === getenv('RESULTS')) {
            file_put_contents($file, $results);
        }
        self::assertSame((string) file_get_contents($file), $results);
    }

    private static function read(string $json): Plan
    {
        return JobDocument::fromJson($json, Jobs::catalogue())->plan(Jobs::catalogue());
    }

    /** @return list<string> */
    private static function results(Plan $plan): array
    {
        $analysis = new Analysis($plan);
        $lines = [self::line('document', JobDocument::of($plan)->toJson())];
        foreach ($analysis->findings()->all as $one) {
            $lines[] = self::line($one->severity->value.' '.$one->what, $one);
        }
        foreach ($analysis->questions()->open as $one) {
            $lines[] = self::line('ask '.$one['text'], $one);
        }
        foreach ($analysis->agreements()->all as $one) {
            $lines[] = self::line('agreement '.$one->standing->value.' '.$one->agreement->code, $one);
        }
        foreach ($analysis->proof()->results as $one) {
            $lines[] = self::line('test '.$one->test->key.' '.$one->verdict->value, $one);
        }
        $queue = $analysis->queue();
        foreach ($queue->stops as $stop) {
            $lines[] = self::line('stop '.$stop->number.' '.$stop->how->value.' '.$stop->laptop, [
                $stop->in($queue->day), $queue->day->timeline($stop)->slots, $queue->day->waits($stop),
            ]);
        }
        foreach ($plan->devices as $device) {
            $lines = [...$lines, ...self::ofDevice($plan, $device)];
        }
        $lines = [...$lines, ...self::ofNumbers($plan, $analysis->networkModel(Face::Set)), ...self::walks($plan)];
        foreach ([
            'addresses' => Schedules::addresses($plan), 'numbers' => Schedules::numbers($plan), 'settings' => Schedules::settings($plan),
            'roster' => Schedules::roster($plan), 'record' => Schedules::proof($analysis->proof()), 'labels' => Labels::of($plan),
            'directories' => array_map(static fn (Directory $one): string => $one->vCard(), Directory::all($plan)),
            'allocation' => Allocation::of($plan)->change(), 'afresh' => Allocation::of($plan, true)->change(),
            'licences' => LicenceNeed::all($plan), 'progress' => $analysis->progress(), 'board' => $analysis->board(),
            'figures' => $analysis->figures(),
        ] as $what => $result) {
            $lines[] = self::line($what, $result);
        }

        return $lines;
    }

    /** @return list<string> */
    private static function ofDevice(Plan $plan, Device $device): array
    {
        $sheet = RunSheet::of($plan, $device);
        $steps = $short = [];
        foreach ($device->steps as $step) {
            $steps[] = [$step->code, array_map(strval(...), $sheet->obstacles($step)), $sheet->values($step)];
            $short[$step->code] = array_map(
                static fn (SheetValue $value): string => $value->label.'='.($value->text ?? $value->reason ?? '?'),
                $sheet->values($step),
            );
            foreach ($step->ways as $way) {
                $steps[] = [$way->code, $sheet->values($step, $way)];
            }
        }

        return [
            self::line('sheet '.$device->tag.' '.\count($device->steps), $steps, $short),
            self::line('written to '.$device->tag, WritePlan::of($plan, $device)->form()),
        ];
    }

    /** @return list<string> */
    private static function ofNumbers(Plan $plan, NetworkModel $model): array
    {
        $lines = [];
        foreach ($plan->extensions as $extension) {
            $registration = Registration::of($model, $extension);
            $lines[] = self::line('number '.$extension->number, $registration);
            foreach (\array_slice($plan->extensions, 0, 12) as $other) {
                $dial = Dial::of($model, $extension, $other->number);
                $lines[] = self::line("dials $extension->number $other->number {$dial->outcome->value}", $dial);
            }
        }
        $lines[] = self::line('emergency', $plan->emergencyNumbers()->all());
        foreach ($plan->devices as $device) {
            if (null !== $device->kind->provisioning && [] !== $plan->extensionsOf($device->key)) {
                $obstacle = ProvisioningFile::obstacle($plan, $device);
                $lines[] = self::line('file '.$device->tag, $obstacle ?? ProvisioningFile::of($plan, $device, 'secret', 'password'));
            }
        }

        return $lines;
    }

    /** @return list<string> from every device to one of each segment, with a cure of some that do not hold */
    private static function walks(Plan $plan): array
    {
        $model = NetworkModel::of($plan, Face::Set);
        $port = Port::of(Transport::Tcp, 80);
        $first = [];
        foreach ($plan->devices as $device) {
            $first[$device->nic()->segment ?? ''] ??= $device->key;
        }
        unset($first['']);
        $lines = [];
        $cures = 0;
        foreach ($plan->devices as $device) {
            $holds = 0;
            $walks = $short = [];
            if (null !== $device->nic()) {
                foreach ($first as $other) {
                    $walk = Walker::between($model, $device->key, $other, $port);
                    $holds += $walk->holds() ? 1 : 0;
                    $isAsked = !$walk->holds() && 0 === ++$cures % self::NTH_CURE;
                    $walks[] = [$walk, $isAsked ? Cure::of($plan, Face::Set, $device->key, $other, $port) : null];
                    $short[(string) $walk->to] = (string) ($walk->brokenHop()->text ?? \count($walk->hops).' hops');
                }
            }
            $lines[] = self::line("walks from $device->tag $holds/".\count($walks), $walks, $short);
        }

        return $lines;
    }

    /** A result by its name. What is left out of it, or too long to be read, stands there as a digest. */
    private static function line(string $name, mixed $result, mixed $short = null): string
    {
        $whole = self::plain($result);
        $brief = self::brief(null === $short ? $whole : self::plain($short));
        $digest = '#'.hash('crc32b', self::json($whole));
        $value = match (true) {
            \strlen(self::json($brief)) > self::LONGEST => $digest,
            $brief === $whole => $whole,
            default => [$brief, $digest],
        };

        return self::json($name).': '.self::json($value);
    }

    /** Without the facts that it rests on, and without what is empty. */
    private static function brief(mixed $value): mixed
    {
        if (!\is_array($value)) {
            return $value;
        }
        $brief = [];
        foreach ($value as $key => $one) {
            $one = self::brief($one);
            if (!\in_array($key, self::LEFT_OUT, true) && !\in_array($one, [null, '', false, []], true)) {
                $brief[$key] = $one;
            }
        }

        return array_is_list($value) ? array_values($brief) : $brief;
    }

    private static function json(mixed $value): string
    {
        return json_encode($value, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES);
    }

    /** Whatever it is, without the plan that it leans on. */
    private static function plain(mixed $value): mixed
    {
        return match (true) {
            \is_array($value) => array_map(self::plain(...), $value),
            $value instanceof \JsonSerializable => self::plain($value->jsonSerialize()),
            $value instanceof \BackedEnum => $value->value,
            $value instanceof Device => $value->key,
            $value instanceof \Stringable => (string) $value,
            $value instanceof Plan, $value instanceof \Closure => null,
            \is_object($value) => array_map(self::plain(...), get_object_vars($value)),
            default => $value,
        };
    }
}
