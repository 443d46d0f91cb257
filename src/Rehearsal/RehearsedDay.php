<?php

declare(strict_types=1);

namespace Vorhut\Rehearsal;

use Amp\Future;
use Vorhut\Core\Analysis\Analysis;
use Vorhut\Core\Analysis\TestBatches;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Bench\BenchSegment;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\Stop;
use Vorhut\Core\Bench\StopKind;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Consistency\Agreed;
use Vorhut\Core\Consistency\Standing;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RegistrarEntry;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Text\Message;
use Vorhut\Lab\FrontPanel;
use Vorhut\Lab\Phone;
use Vorhut\Lab\StandIn;
use Vorhut\Outpost\Device\Readback;
use Vorhut\Outpost\Device\Reader;
use Vorhut\Outpost\Probe\Evidence;
use Vorhut\Outpost\Probe\Http;
use Vorhut\Outpost\Probe\TestRunner;
use Vorhut\Outpost\Probe\VantagePoint;
use Vorhut\Outpost\Probe\VantagePoints;
use Vorhut\Provisioning\Files;
use Vorhut\Socket\Loopback;

use function Amp\async;
use function Amp\delay;
use function Amp\Future\await;

/**
 * A whole day at the bench, rehearsed on stand-ins: stop by stop in the order of the queue, lane by lane, each sheet to its end; then all
 * values are read back, and all possible tests are run. Works on a copy of the plan; no result is stored.
 */
final class RehearsedDay
{
    public const BY = 'rehearsal';
    private const ROUNDS = 4;
    /** The lab answers more at once than a site does. */
    private const ROOM = 3;

    public readonly Http $http;
    private readonly LabEnvironment $ground;
    /** @var array<string, Technician> */
    private array $technicians = [];
    /** @var array<string, string> */
    private readonly array $secrets;
    private ?VantagePoints $bench = null;
    private readonly float $beganAt;

    /**
     * @param list<InjectedMistake>              $slips
     * @param \Closure(string): void  $say
     */
    private function __construct(
        public Plan $plan,
        private readonly array $slips,
        Files $templates,
        float $pace,
        private readonly \Closure $say,
        Loopback $loopback,
    ) {
        $this->beganAt = microtime(true);
        $secrets = [];
        foreach ($plan->devices as $device) {
            $secrets[$device->record()] = 'Day-'.bin2hex(random_bytes(6));
            $secrets[$device->record().'#label'] = 'lbl'.substr(hash('sha256', $device->key), 0, 6);
        }
        foreach ($plan->extensions as $extension) {
            $account = $plan->accountOf($extension->key);
            if (null !== $account) {
                $secrets[$account->key] = bin2hex(random_bytes(8));
            }
        }
        $this->secrets = $secrets;
        $this->plan = $plan->with(new Change(new Message('Passwords are made.'), $this->credentials()));
        $this->ground = new LabEnvironment(fn (): Plan => $this->plan, $secrets, $templates, $pace, $loopback);
        $this->ground->lab->follow($this->plan, $secrets);
        $this->http = new Http($this->ground->access);
    }

    /**
     * @param list<InjectedMistake>                  $slips mistakes to make on the way
     * @param float                       $pace  how many times faster than life devices start
     * @param bool                        $probes whether to run all possible tests at the end
     * @param (\Closure(string): void)|null $say
     */
    public static function rehearse(
        Plan $plan,
        Files $templates,
        array $slips = [],
        float $pace = 20.0,
        bool $probes = true,
        ?\Closure $say = null,
        Loopback $loopback = new Loopback(),
    ): DayResult {
        $day = new self($plan, $slips, $templates, $pace, $say ?? static function (string $said): void {
        }, $loopback);
        try {
            return $day->run($probes);
        } finally {
            $day->ground->close();
        }
    }

    public function write(Change $change): void
    {
        $this->plan = $this->plan->with($this->stamp($change));
        foreach ($change->edits as $edit) {
            if (\in_array($edit->section, ['nics', 'accounts'], true) || Face::Set->value === $edit->field) {
                $this->ground->lab->follow($this->plan, $this->secrets);

                return;
            }
        }
    }

    /** Adds person and time to values set or seen, as in the journal. */
    private function stamp(Change $change): Change
    {
        $edits = $change->edits;
        foreach ($change->edits as $edit) {
            if ('settings' === $edit->section && null !== $edit->after && \in_array($edit->field, ['set', 'seen'], true)) {
                $edits[] = Edit::put('settings', $edit->key, $edit->field.'By', null, self::BY);
                $edits[] = Edit::put('settings', $edit->key, $edit->field.'At', null, $this->at());
            }
        }

        return new Change($change->why, $edits);
    }

    public function at(): string
    {
        return gmdate('Y-m-d\TH:i:s\Z');
    }

    public function secret(Device $device, string $purpose): string
    {
        return 'admin' === $purpose
            ? $this->secrets[$device->record()]
            : substr(hash('sha256', $this->secrets[$device->record()].$purpose), 0, 16);
    }

    /** What the lead and the administrator do once it can be done: numbers entered at a registrar that is in service. */
    public function lift(Device $device): void
    {
        $edits = [];
        foreach ($this->plan->extensionsOf($device->key) as $extension) {
            $account = $this->plan->accountOf($extension->key);
            $entry = RegistrarEntry::of($this->plan, $extension, $device->key);
            $registrar = $this->plan->devices[$account->registrar ?? ''] ?? null;
            $edit = false === $entry?->isEntered() ? $entry->markEntered($this->at()) : null;
            if (null !== $edit && null !== $registrar && RunSheet::of($this->plan, $registrar)->isDone()) {
                $edits[] = $edit;
            }
        }
        if ([] !== $edits) {
            $this->write(new Change(new Message('Entered at the registrar.'), $edits));
        }
    }

    /** A device comes to the bench, where there is one at this stop. */
    public function fetch(string $device): void
    {
        if (null !== $this->bench) {
            $this->ground->lab->carry($device, true);
        }
    }

    public function place(string $device): void
    {
        if ($this->standIn($device)->state->onBench) {
            $this->ground->lab->carry($device, false);
        }
    }

    /** From where a device can be looked at now. */
    public function placeOf(string $device): ?VantagePoint
    {
        if ($this->standIn($device)->state->onBench) {
            return $this->bench?->tryOn(BenchSegment::KEY);
        }

        return (new VantagePoints($this->plan, $this->ground->access))->tryOn($this->plan->devices[$device]->nic()?->segment);
    }

    /** A phone has fetched its file and stands at its registrar, in so many seconds as that takes. */
    public function registers(Device $device, StandIn $standIn): bool
    {
        for ($until = microtime(true) + 12; microtime(true) < $until; delay(0.2)) {
            if ('registered' === $standIn->state->get(Phone::REGISTRATION)) {
                return true;
            }
        }

        return false;
    }

    private function run(bool $probes): DayResult
    {
        $before = (new Analysis($this->plan))->findings()->all;
        $queue = Queue::of($this->plan);
        $left = [];
        for ($round = 0; $round < self::ROUNDS; ++$round) {
            $was = $left;
            $left = [];
            foreach ($queue->stops as $stop) {
                $left += $this->work($stop);
            }
            // Another round if a device waited for one that is done by now.
            if ([] === $left || array_keys($left) === array_keys($was)) {
                break;
            }
        }
        $this->ground->lab->benchIn(null);
        $this->readBack();

        return $this->result($before, $left, $probes ? $this->probe() : []);
    }

    /** @return array<string, Message> device → what it stopped at */
    private function work(Stop $stop): array
    {
        $bench = \in_array($stop->how, [StopKind::Fixed, StopKind::LinkLocal], true) ? BenchSegment::ofStop($stop) : null;
        $this->ground->lab->benchIn($bench, StopKind::Dhcp === $stop->how);
        $this->bench = null === $bench ? null : new VantagePoints($bench->in($this->plan), $this->ground->access);
        $lanes = [];
        foreach ($stop->lanes as $lane) {
            $lanes[] = $this->lane($lane);
        }
        $stopped = array_merge(...await($lanes), ...[[]]);
        $all = \count($stop->devices());
        ($this->say)(\sprintf('Stop %d: %d of %d done.', $stop->number, $all - \count($stopped), $all));

        return $stopped;
    }

    /**
     * @param list<Device> $lane
     *
     * @return Future<array<string, Message>>
     */
    private function lane(array $lane): Future
    {
        return async(function () use ($lane): array {
            $stopped = [];
            foreach ($lane as $device) {
                if ([] === $device->kind->steps || $device->kind->has(Role::Workstation)) {
                    continue;
                }
                $why = $this->technician($device->key)->work();
                if (null !== $why) {
                    $stopped[$device->key] = $why;
                }
                // The next one in the lane may come with the same address.
                $this->place($device->key);
            }

            return $stopped;
        });
    }

    private function technician(string $device): Technician
    {
        return $this->technicians[$device] ??= new Technician(
            $this,
            $device,
            $this->standIn($device),
            array_values(array_filter($this->slips, static fn (InjectedMistake $slip): bool => $slip->device === $device)),
        );
    }

    private function standIn(string $device): StandIn
    {
        return $this->ground->lab->standIn($device) ?? throw new \LogicException($device.' is not played.');
    }

    /** Everything is looked at: by its page where it has one, by eye what no page tells. */
    private function readBack(): void
    {
        $reader = new Reader($this->http);
        foreach ($this->plan->devices as $device) {
            if ([] === $device->kind->steps || !$this->standIn($device->key)->state->powered && [] !== $device->kind->activePorts()) {
                continue;
            }
            $read = $reader->read(new VantagePoints($this->plan, $this->ground->access), $device, [
                'admin' => $this->secrets[$device->record()],
                'factory' => $this->standIn($device->key)->state->firstPassword,
            ]);
            $seen = ($read->seen ?? []) + $this->byEye($device);
            $this->plan = $this->plan->with($this->stamp(Reader::change($this->plan, $device, new Readback($seen, $read->took ?? ''))));
        }
    }

    /** @return array<string, string> local name → value */
    private function byEye(Device $device): array
    {
        $pages = $device->kind->adminFields();
        $seen = [];
        foreach ((new FrontPanel($this->standIn($device->key)))->shows()['held'] as $local => $said) {
            if (!isset($pages[$local]) && '' !== $said) {
                try {
                    $seen[$local] = $device->kind->locals()[$local]->read($said);
                } catch (Malformed) {
                    continue;
                }
            }
        }

        return $seen;
    }

    /** @return list<array{ProofTest, Evidence}> */
    private function probe(): array
    {
        $probes = [];
        $tests = array_filter(TestPlan::of($this->plan)->tests, static fn (ProofTest $test): bool => $test->canBeAsked(true));
        foreach (TestBatches::of($tests, self::ROOM) as $some) {
            $running = array_map($this->ask(...), $some);
            foreach ($some as $i => $test) {
                $probes[] = [$test, $running[$i]->await()];
            }
        }

        return $probes;
    }

    /** @return Future<Evidence> */
    private function ask(ProofTest $test): Future
    {
        return async(fn (): Evidence => (new TestRunner(
            $this->ground->access,
            new VantagePoints($this->plan, $this->ground->access),
            fn (string $owner): ?string => $this->secrets[$owner] ?? null,
            $this->http,
        ))->probe($test));
    }

    /**
     * @param list<Finding>                                                              $before
     * @param array<string, Message>                                                     $left
     * @param list<array{ProofTest, Evidence}> $probes
     */
    private function result(array $before, array $left, array $probes): DayResult
    {
        $analysis = new Analysis($this->plan);
        $known = array_map(static fn (Finding $finding): string => $finding->key(), $before);
        $unseen = [];
        foreach ($this->plan->devices as $device) {
            $worked = [] !== $device->kind->steps && !$device->kind->has(Role::Workstation);
            if ($worked) {
                foreach ($this->plan->settings()->slots($device) as $slot) {
                    if (!self::isSeen($slot)) {
                        $unseen[] = $slot;
                    }
                }
            }
        }

        return new DayResult(
            $this->plan,
            array_map(strval(...), array_keys($left)),
            $left,
            $unseen,
            array_values(array_filter(
                $analysis->findings()->all,
                static fn (Finding $finding): bool => !\in_array($finding->key(), $known, true),
            )),
            array_values(array_filter(
                $analysis->agreements()->all,
                static fn (Agreed $one): bool => Standing::Broken === $one->standing,
            )),
            $probes,
            array_map(static fn (StandIn $standIn): array => (new FrontPanel($standIn))->shows()['lamps'], $this->ground->lab->standIns()),
            microtime(true) - $this->beganAt,
        );
    }

    /** Values that neither a page nor the eye can check (a secret, a value that is only ever read) do not count. */
    private static function isSeen(SettingSlot $slot): bool
    {
        return null !== $slot->setting->secret || null !== $slot->account || $slot->setting->found
            || null === $slot->value->planned || '' === $slot->value->planned || $slot->value->seen === $slot->value->planned;
    }

    /** @return list<Edit> */
    private function credentials(): array
    {
        $edits = [];
        foreach ($this->plan->devices as $device) {
            $hasOne = $device->kind->login->exists() && null !== $device->kind->setting('adminPassword');
            if ($hasOne && null === $this->plan->credential($device->record(), 'admin')) {
                $edits[] = Edit::add('credentials', [
                    'key' => $device->key.'.admin',
                    'owner' => $device->record(),
                    'purpose' => 'admin',
                    'user' => $device->loginUser(),
                    'state' => 'default',
                    'length' => 16,
                ]);
            }
        }

        return $edits;
    }
}
