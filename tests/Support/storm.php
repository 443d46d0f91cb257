<?php

// One of several people who change a job at the same time, each in a process and a connection of its own:
// php storm.php SLUG NAME SEED TIMES. Prints how often a change went in, met a conflict, was refused.

declare(strict_types=1);

use Doctrine\ORM\EntityManagerInterface;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\DeviceDefaults;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Removal;
use Vorhut\Core\Text\Message;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Records;
use Vorhut\Journal\Refused;
use Vorhut\Journal\UndoStack;
use Vorhut\Kernel;

require dirname(__DIR__, 2).'/config/bootstrap.php';

[, $slug, $name, $seed, $times] = $argv;
$kernel = new Kernel('test', false);
$kernel->boot();
$container = $kernel->getContainer()->get('test.service_container');
assert($container instanceof Psr\Container\ContainerInterface);
[$jobs, $changes, $records] = [$container->get(Jobs::class), $container->get(ChangeWriter::class), $container->get(Records::class)];
$undoStack = $container->get(UndoStack::class);
assert($jobs instanceof Jobs && $changes instanceof ChangeWriter && $records instanceof Records && $undoStack instanceof UndoStack);
$manager = $container->get(EntityManagerInterface::class);
assert($manager instanceof EntityManagerInterface);
$chance = new Randomizer(new Xoshiro256StarStar((int) $seed));
$one = static fn (array $some): string => (string) array_keys($some)[$chance->getInt(0, count($some) - 1)];
$known = [];

$edits = static function (Plan $plan, int $n) use ($chance, $one, $name): array {
    $device = $plan->devices[$one($plan->devices)];
    $nic = $plan->nics[$one($plan->nics)];
    $segment = $one($plan->segments);
    switch ($chance->getInt(0, 8)) {
        case 0:
            return [
                Edit::put(
                    'devices',
                    $device->key,
                    'room',
                    $plan->row('devices', $device->key)['room'] ?? null,
                    'Room '.$chance->getInt(1, 9),
                ),
            ];
        case 1:
            $value = $nic->setting('gateway');

            return [
                Edit::setting(
                    $nic->record().'#gateway',
                    Face::Set,
                    $value->set,
                    0 !== $chance->getInt(0, 2) ? '10.64.9.'.$chance->getInt(1, 9) : null,
                ),
            ];
        case 2:
        case 3:
            return [Edit::put('nics', $nic->key, 'segment', $nic->segment, $segment)];
        case 4:
            return [Edit::add('segments', [
                'key' => $plan->freeKey('segments', 'storm'),
                'name' => 'Storm '.$name.' '.$n,
                'network' => '10.80.'.$chance->getInt(0, 255).'.0/24',
            ])];
        case 5:
            return count($plan->segments) < 3 ? [] : [
                ...Removal::dependents($plan, 'segments', $segment),
                Edit::remove('segments', $plan->row('segments', $segment) ?? []),
            ];
        case 6:
            $row = ['key' => $plan->freeKey('devices', 'storm'), 'tag' => 'STORM '.$name.' '.$n, 'kind' => 'ptz-camera', 'position' => 900];

            return [
                Edit::add('devices', $row),
                ...array_map(static fn (array $port): Edit => Edit::add('nics', $port), DeviceDefaults::nics($plan, $row, null, $segment)),
            ];
        case 7:
            return count($plan->devices) < 10 ? [] : [
                ...Removal::dependents($plan, 'devices', $device->key),
                Edit::remove('devices', $plan->row('devices', $device->key) ?? []),
            ];
        default:
            return [];
    }
};

$counts = ['written' => 0, 'conflict' => 0, 'refused' => 0];
for ($n = 1; $n <= (int) $times; ++$n) {
    $manager->clear();
    $job = $jobs->find($slug) ?? exit(1);
    $plan = $records->plan($job);
    // Between looking and writing others write too.
    usleep($chance->getInt(0, 20_000));
    try {
        $way = $chance->getInt(0, 9);
        $entry = match (true) {
            0 === $way => $undoStack->undoable($job, $name),
            1 === $way => $undoStack->redoable($job, $name),
            default => null,
        };
        $written = null !== $entry
            ? $undoStack->undo($job, $entry, $name)
            : $changes->write($job, new Change(new Message('{who} {n}', ['who' => $name, 'n' => $n]), $edits($plan, $n)), $name);
        if (null !== $written) {
            ++$counts['written'];
        }
    } catch (Conflict) {
        ++$counts['conflict'];
    } catch (Refused) {
        ++$counts['refused'];
    }
}
echo json_encode($counts), "\n";
