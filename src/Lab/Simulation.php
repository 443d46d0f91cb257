<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Revolt\EventLoop;
use Vorhut\Core\Bench\BenchSegment;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Lab\Switchboard\Provider;
use Vorhut\Socket\Loopback;

/** One job in the lab: its stand-ins, the network between them, and the state they keep over a restart of the lab. */
final class Simulation
{
    /** The key under which its clock is stored with the devices; no device can have this key. */
    private const CLOCK = '@clock';
    /** Under this name stands which password hands have typed, so that each is typed once; no setting can be called so. */
    private const PASSWORD = '@password';

    /** @var array<string, SimulatedState> */
    private array $states = [];
    /** @var array<string, StandIn> */
    private array $standIns = [];
    private LabSecrets $secrets;
    private readonly SimulatedNetwork $network;
    private DirectoryServer $directory;
    private bool $dirty = false;
    private readonly float $openedAt;
    private float $timeBefore = 0.0;
    /** What the laptop on the bench is set for at present; null while nothing is worked there. */
    private ?BenchSegment $bench = null;
    private bool $benchFollows = false;
    private bool $serves = false;
    private bool $keepingSoon = false;
    /** @var array<string, Provider> */
    private array $providers = [];
    private ?SealedFiles $sealed = null;

    /**
     * @param string                 $fileUrl where phones of this job fetch, with the unguessable part
     * @param \Closure(string): void $say     what the lab prints
     */
    public function __construct(
        private Plan $plan,
        private readonly string $fileUrl,
        private readonly string $keepFile,
        private readonly float $pace,
        private readonly \Closure $say,
        Loopback $loopback = new Loopback(),
    ) {
        $this->openedAt = microtime(true);
        $kept = is_file($keepFile) ? json_decode((string) file_get_contents($keepFile), true) : [];
        $time = \is_array($kept) && \is_array($kept[self::CLOCK] ?? null) ? $kept[self::CLOCK]['time'] ?? 0 : 0;
        $this->timeBefore = \is_float($time) || \is_int($time) ? (float) $time : 0.0;
        foreach ($plan->devices as $device) {
            $this->meet($device->key);
            if (\is_array($kept) && \is_array($kept[$device->key] ?? null)) {
                $this->states[$device->key]->recall($kept[$device->key]);
            }
        }
        $this->secrets = new LabSecrets($plan, []);
        $this->directory = new DirectoryServer([], [], 4.0);
        $this->network = new SimulatedNetwork($plan, $this->states, $loopback);
        $this->callOutside();
        foreach ($this->standIns as $standIn) {
            if ($standIn->state->powered) {
                $standIn->restart();
            }
        }
    }

    public function network(): SimulatedNetwork
    {
        return $this->network;
    }

    /**
     * The technician's manual work: values marked as set since the last call are put into the stand-ins, each value once. Nothing is copied
     * the other way.
     *
     * @param array<string, string> $secrets account key → SIP secret, `devices/KEY` → administrator's password
     */
    public function handsOn(Plan $plan, array $secrets): void
    {
        $this->plan = $plan;
        $this->secrets = new LabSecrets($plan, $secrets);
        $this->leave();
        foreach ($plan->devices as $device) {
            $this->meet($device->key);
            $state = $this->states[$device->key];
            $standIn = $this->standIns[$device->key];
            if ([] === $device->kind->steps || $device->kind->has(Role::Workstation)) {
                continue;
            }
            $restart = false;
            $sheet = RunSheet::of($plan, $device);
            $this->label($device, $secrets);
            $hookedUp = null === $device->kind->stepThat(Effect::Powers) ? $sheet->isBegun() : $sheet->isHookedUp();
            if (!$state->powered && (null !== $device->nic()?->setting('address')->set || $hookedUp)) {
                $state->powered = true;
                $restart = true;
            }
            if (0 === $state->resets && $sheet->has(Effect::Resets)) {
                $standIn->reset();
            }
            foreach ($plan->settings()->slots($device) as $slot) {
                $restart = $this->puts($state, $slot) || $restart;
            }
            // A phone's password comes with its file; anything else gets it typed in.
            $password = $secrets[$device->record()] ?? null;
            $typed = null === $password ? '' : hash('sha256', $password);
            if (
                null !== $password
                && !$device->kind->has(Role::FileClient)
                && $sheet->has(Effect::Secures)
                && ($state->taken[self::PASSWORD] ?? '') !== $typed
            ) {
                $state->taken[self::PASSWORD] = $typed;
                $state->put('adminPassword', $password);
                $this->dirty = true;
            }
            if ($restart) {
                $this->dirty = true;
                $standIn->restart();
            }
        }
        $this->directory = DirectoryServer::of($plan, $secrets);
        $this->rewire();
        $this->callOutside();
        $this->keep();
    }

    /**
     * The plan as it is now, without manual work: segments, entries at the registrar, labels.
     *
     * @param array<string, string> $secrets as for handsOn()
     */
    public function follow(Plan $plan, array $secrets): void
    {
        $this->plan = $plan;
        $this->leave();
        foreach ($plan->devices as $device) {
            $this->meet($device->key);
            $this->label($device, $secrets);
        }
        $this->directory = DirectoryServer::of($plan, $secrets);
        $this->rewire();
        $this->callOutside();
    }

    /**
     * What only its label says of a first password.
     *
     * @param array<string, string> $secrets
     */
    private function label(Device $device, array $secrets): void
    {
        $state = $this->states[$device->key];
        $label = $secrets[$device->record().'#label'] ?? null;
        if (null !== $label && '' === $state->firstPassword && null === $device->firstPassword()) {
            $state->firstPassword = $label;
            if ('' === $state->get('adminPassword')) {
                $state->put('adminPassword', $label);
            }
        }
    }

    /** Sets new values; returns whether the device restarts for it. */
    private function puts(SimulatedState $state, SettingSlot $slot): bool
    {
        $value = $slot->value;
        $stamp = null === $value->set ? '' : $value->setAt.' '.$value->set;
        if ('' === $stamp || ($state->taken[$slot->local] ?? '') === $stamp) {
            return false;
        }
        $state->taken[$slot->local] = $stamp;
        if ($state->get($slot->local) === $value->set) {
            return false;
        }
        $this->standIns[$state->device]->configure($slot->local, (string) $value->set);
        $this->dirty = true;

        return $this->standIns[$state->device]->restartsFor($slot->setting);
    }

    /** @return string|null why not */
    public function play(InjectedFault $fault, string $device): ?string
    {
        $standIn = $this->standIns[$device] ?? null;
        if (null === $standIn || !$standIn->state->powered) {
            return \sprintf('%s is not powered in the lab.', $device);
        }
        if ($fault->into($standIn->state)) {
            $standIn->restart();
        }
        $this->onChange();

        return null;
    }

    /** A multicast query: only stand-ins that are up in the sender's segment receive it. */
    public function group(string $packet, Ipv4 $peer, int $port): bool
    {
        $site = $this->network->siteOf($peer);
        $name = null === $site ? null : $this->network->nameOf($site);
        $segment = null === $name ? null : $this->network->segmentOfOutpost($name);
        if (null === $segment) {
            return false;
        }
        foreach ($this->plan->devices as $device) {
            $here = [] !== array_filter($device->activeNics(), static fn (Nic $nic): bool => $nic->segment === $segment);
            if ($here && $this->standIns[$device->key]->isUp()) {
                $this->standIns[$device->key]->hearsGroup($packet, $peer, $port);
            }
        }

        return true;
    }

    public function isUp(string $device): bool
    {
        return true === ($this->standIns[$device] ?? null)?->isUp();
    }

    /** @return list<string> devices that were switched on and are not ready yet */
    public function starting(): array
    {
        return array_keys(array_filter($this->standIns, static fn (StandIn $one): bool => $one->isStarting()));
    }

    public function standIn(string $device): ?StandIn
    {
        return $this->standIns[$device] ?? null;
    }

    /** @return array<string, StandIn> by device */
    public function standIns(): array
    {
        return $this->standIns;
    }

    public function plan(): Plan
    {
        return $this->plan;
    }

    /** Seconds by the lab's clock, which runs as many times faster than life as its devices start, and stands still while it is shut. */
    public function time(): float
    {
        return $this->timeBefore + (microtime(true) - $this->openedAt) * $this->pace;
    }

    /**
     * The laptop is set for another network, and only there does it reach devices on the bench.
     *
     * @param bool $serves whether it gives an address to everybody who asks for one, reserved or not
     */
    public function benchIn(?BenchSegment $bench, bool $serves = false): void
    {
        $this->bench = $bench;
        $this->serves = $serves;
        $this->onChange();
    }

    /**
     * Sets a laptop for a network, to reach devices with an address in it, such as a factory address. A device with an address of its own
     * segment is moved from the bench to its place.
     */
    public function setUpBench(BenchSegment $bench): void
    {
        $this->benchFollows = true;
        $this->benchIn($bench);
    }

    /** What holds an address of the bench's network, and none of its own segment, is on the bench. */
    private function settle(BenchSegment $bench): void
    {
        foreach ($this->states as $key => $state) {
            $held = $state->powered ? Ipv4::tryFromString($state->get('address')) : null;
            $own = $this->plan->segmentOf($this->plan->devices[$key])?->network;
            $state->onBench = null !== $held && $bench->network->contains($held) && true !== $own?->contains($held);
        }
    }

    private function rewire(): void
    {
        if (null !== $this->bench && $this->benchFollows) {
            $this->settle($this->bench);
        }
        $this->network->rewire($this->plan, $this->states, $this->bench);
    }

    /** A device is carried to the bench, or from there to its place. */
    public function carry(string $device, bool $toBench): void
    {
        $this->states[$device]->onBench = $toBench;
        $this->onChange();
    }

    public function folder(): string
    {
        return \dirname($this->keepFile);
    }

    /** Both are plugged into one segment. */
    public function shareAWire(StandIn $one, StandIn $other): bool
    {
        $segmentsOf = fn (StandIn $standIn): array => $standIn->state->onBench ? ['bench'] : array_values(array_filter(array_map(
            static fn (Nic $nic): ?string => $nic->segment,
            $this->plan->devices[$standIn->state->device]->activeNics(),
        ), static fn (?string $segment): bool => null !== $segment));

        return [] !== array_intersect($segmentsOf($one), $segmentsOf($other));
    }

    /** Everything that could hear a bell is told. */
    public function rings(string $device, float $seconds): void
    {
        foreach ($this->standIns as $standIn) {
            $standIn->feels(new Stimulus(Stimulus::RINGS, $device, $seconds));
        }
    }

    /** The outside party at the far end of a trunk exists while the lab runs. */
    private function callOutside(): void
    {
        $wanted = [];
        foreach ($this->plan->trunks as $trunk) {
            if (null === $trunk->far && null !== $trunk->address && 'udp' === $trunk->transport) {
                $wanted[$trunk->address.':'.$trunk->port] ??= [$trunk->address, $trunk->port];
            }
        }
        foreach (array_diff_key($this->providers, $wanted) as $key => $gone) {
            $gone->end();
            unset($this->providers[$key]);
        }
        foreach (array_diff_key($wanted, $this->providers) as $key => [$address, $port]) {
            try {
                $this->providers[$key] = new Provider($this->network, $address, $port, fn (): Plan => $this->plan);
            } catch (\Throwable $e) {
                $this->say(\sprintf('The outside party at %s cannot be simulated: %s', $key, $e->getMessage()));
            }
        }
    }

    /** @return array<string, Provider> address and port → the party there */
    public function providers(): array
    {
        return $this->providers;
    }

    /** What a part holds changed: kept in a moment, many changes at once. */
    public function keepSoon(): void
    {
        $this->dirty = true;
        if (!$this->keepingSoon) {
            $this->keepingSoon = true;
            EventLoop::unreference(EventLoop::delay(0.5, function (): void {
                $this->keepingSoon = false;
                $this->keep();
            }));
        }
    }

    /** A setting changed: walks are computed again, and persistent state is stored. */
    public function onChange(): void
    {
        $this->dirty = true;
        $this->rewire();
        $this->keep();
    }

    public function say(string $text): void
    {
        ($this->say)($text);
    }

    public function off(): void
    {
        foreach ($this->standIns as $standIn) {
            $standIn->off();
        }
        foreach ($this->providers as $provider) {
            $provider->end();
        }
        $this->providers = [];
    }

    /** A stand-in for the device, of the kind that it is now: what it held it holds on, under a new version of its kind too. */
    private function meet(string $key): void
    {
        $device = $this->plan->devices[$key];
        $known = $this->standIns[$key] ?? null;
        // The same kind is mostly the same object; two readings of one description are equal.
        // @phpstan-ignore equal.notAllowed (compared value by value: a kind has no identity but its description)
        if (null !== $known && ($known->kind === $device->kind || $known->kind == $device->kind)) {
            return;
        }
        $known?->off();
        $this->states[$key] = new SimulatedState($device);
        if ($known?->kind->code === $device->kind->code) {
            $this->states[$key]->recall($known->state->keep());
        }
        $this->standIns[$key] = new StandIn($device->kind, $this->states[$key], $this, $this->pace);
        if ($this->states[$key]->powered) {
            $this->standIns[$key]->restart();
        }
        $this->dirty = null !== $known || $this->dirty;
    }

    /** A device that was removed from the job no longer answers. */
    private function leave(): void
    {
        foreach (array_diff_key($this->standIns, $this->plan->devices) as $key => $gone) {
            $gone->off();
            unset($this->standIns[$key], $this->states[$key]);
            $this->dirty = true;
        }
    }

    private function keep(): void
    {
        if (!$this->dirty) {
            return;
        }
        $this->dirty = false;
        @mkdir(\dirname($this->keepFile), 0o700, true);
        // Written beside and put in place: a lab that is killed here leaves the old file whole.
        file_put_contents(
            $this->keepFile.'.new',
            json_encode(
                array_map(static fn (SimulatedState $state): array => $state->keep(), $this->states)
                    + [self::CLOCK => ['time' => $this->time()]],
                \JSON_PRETTY_PRINT,
            ),
        );
        rename($this->keepFile.'.new', $this->keepFile);
    }

    /**
     * What a stand-in does at an address of its own, made anew at each start.
     *
     * @return list<\Closure(): Behaviour>
     */
    public function behavioursOf(StandIn $standIn, Ipv4 $address): array
    {
        return ShippedBehaviours::of($this, $standIn, $address);
    }

    /** An address for one that asks for it. */
    public function lease(StandIn $standIn): void
    {
        $inUse = array_filter(array_map(static fn (StandIn $one): ?Ipv4 => $one->runsAt(), $this->standIns));
        (new AddressLease($this->plan, $this->states, array_values($inUse), $this->serves))->give($standIn->state);
    }

    /** What hands typed in, and secrets that stand-ins share. */
    public function secrets(): LabSecrets
    {
        return $this->secrets;
    }

    public function directory(): DirectoryServer
    {
        return $this->directory;
    }

    /** Where phones of this job fetch, with the unguessable part. */
    public function fileUrl(): string
    {
        return $this->fileUrl;
    }

    public function sealedFiles(): ?SealedFiles
    {
        return $this->sealed;
    }

    /** The new location of files; a phone uses it at its next fetch. */
    public function filesAt(?SealedFiles $sealed): void
    {
        $this->sealed = $sealed;
    }
}
