<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingSlot;

/** One job in the lab: its stand-ins, the wire between them, and what they keep over a restart of the lab. */
final class Simulation
{
    /** @var array<string, SimulatedState> */
    private array $states = [];
    /** @var array<string, StandIn> */
    private array $standIns = [];
    private readonly SimulatedNetwork $network;
    private Directory $directory;
    private bool $dirty = false;

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
    ) {
        $kept = is_file($keepFile) ? json_decode((string) file_get_contents($keepFile), true) : [];
        foreach ($plan->devices as $device) {
            $this->meet($device->key);
            if (\is_array($kept) && \is_array($kept[$device->key] ?? null)) {
                $this->states[$device->key]->recall($kept[$device->key]);
            }
        }
        $this->directory = new Directory([], [], 4.0);
        $this->network = new SimulatedNetwork($plan, $this->states);
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
     * The technician's hands: what was marked as set since the last look is put into the stand-ins, each value once. Nothing goes
     * the other way.
     *
     * @param array<string, string> $secrets account key → SIP secret, `devices/KEY` → administrator's password
     */
    public function handsOn(Plan $plan, array $secrets): void
    {
        $this->plan = $plan;
        foreach ($plan->devices as $device) {
            $this->meet($device->key);
            $state = $this->states[$device->key];
            $standIn = $this->standIns[$device->key];
            if ([] === $device->activeNics() || $device->kind->has(Role::Workstation)) {
                continue;
            }
            $restart = false;
            $sheet = RunSheet::of($plan, $device);
            if (!$state->powered && (null !== $device->nic()?->setting('address')->set || $sheet->isHookedUp())) {
                $state->powered = true;
                $restart = true;
            }
            foreach ($plan->slots($device) as $slot) {
                $restart = $this->puts($state, $slot) || $restart;
            }
            // A phone's password comes with its file; anything else gets it typed in.
            $password = $secrets[$device->record()] ?? null;
            if (
                null !== $password
                && !$device->kind->has(Role::FileClient)
                && $sheet->has(Effect::Secures)
                && $state->get('adminPassword') !== $password
            ) {
                $state->put('adminPassword', $password);
                $this->dirty = true;
            }
            if ($restart) {
                $this->dirty = true;
                $standIn->restart();
            }
        }
        $this->directory = self::directory($plan, $secrets);
        $this->network->rewire($plan, $this->states);
        $this->keep();
    }

    /** Puts in what was set since the last look; says whether the device restarts for it. */
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
        $state->put($slot->local, (string) $value->set);
        $this->dirty = true;

        // A clock is set while it runs; an address, or where its file is, takes a restart.
        return SettingScope::Port === $slot->setting->scope || 'provisioning' === $slot->setting->group;
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
        $this->changed();

        return null;
    }

    /** A group question: every stand-in that is up on the asker's segment hears it, nobody else. */
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

    /** @return list<\Closure(): Behaviour> */
    public function behavioursOf(StandIn $standIn, Ipv4 $address): array
    {
        $kind = $standIn->kind;
        $network = $this->network;
        $make = [];
        foreach ($kind->services as $service) {
            $port = $service->port->number;
            if ('admin' === $service->name) {
                $make[] = static fn (): Behaviour => AdminPage::at($standIn, $address, $port);
            } elseif ('tcp' === $service->port->transport->value) {
                $make[] = static fn (): Behaviour => TcpServer::greeting($address, $port, $kind->name.' '.$service->name);
            }
        }
        if (\in_array('mdns', $kind->discovery, true)) {
            $make[] = static fn (): Behaviour => new Announcer($network, $standIn, $address);
        }
        if ($kind->has(Role::Registrar)) {
            $make[] = fn (): Behaviour => new Pbx($network, $standIn, $address, fn (): Directory => $this->directory);
        }
        if ($kind->has(Role::Caller) && $kind->has(Role::FileClient)) {
            $make[] = fn (): Behaviour => new Phone($network, $standIn, $address, $this->fileUrlOf($standIn), $this->fileServer());
        }
        if ($kind->has(Role::DirectCallee)) {
            $make[] = static fn (): Behaviour => new Codec($network, $standIn, $address);
        }

        return $make;
    }

    /** A truth changed: the wire is walked anew, and what is to be kept is kept. */
    public function changed(): void
    {
        $this->dirty = true;
        $this->network->rewire($this->plan, $this->states);
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
    }

    private function meet(string $key): void
    {
        if (!isset($this->states[$key])) {
            $this->states[$key] = new SimulatedState($this->plan->devices[$key]);
            $this->standIns[$key] = new StandIn($this->plan->devices[$key]->kind, $this->states[$key], $this, $this->pace);
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
            json_encode(array_map(static fn (SimulatedState $state): array => $state->keep(), $this->states), \JSON_PRETTY_PRINT),
        );
        rename($this->keepFile.'.new', $this->keepFile);
    }

    private function macOf(StandIn $standIn): string
    {
        return $this->plan->devices[$standIn->state->device]->nic()->mac->digits ?? 'unknown';
    }

    /** Empty for a phone that was not told where its file is. */
    private function fileUrlOf(StandIn $standIn): string
    {
        return '' === $standIn->state->get('provisioning') ? '' : $this->fileUrl.$this->macOf($standIn).'.xml';
    }

    private function fileServer(): ?string
    {
        $laptop = $this->plan->devices[$this->plan->job->text('laptop')] ?? null;

        return null === $laptop?->nic()?->setting('address')->effective(Face::Set) ? null : $laptop->key;
    }

    /** @param array<string, string> $secrets */
    private static function directory(Plan $plan, array $secrets): Directory
    {
        $numbers = [];
        $known = [];
        foreach ($plan->extensions as $extension) {
            $account = $plan->accountOf($extension->key);
            // Only what was entered at the registrar is there.
            $entered = null !== $account?->macEntered;
            $numbers[$extension->number] = ['user' => $entered ? $account->user : null, 'voicemail' => $extension->voicemail];
            if ($entered && isset($secrets[$account->key])) {
                $known[$account->user] = $secrets[$account->key];
            }
        }

        return new Directory($numbers, $known, (float) $plan->job->int('voicemailAfter', 4));
    }
}
