<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;

/** One job in the lab: its stand-ins, the wire between them, and what they keep over a restart of the lab. */
final class PlayedJob
{
    /** @var array<string, Truth> */
    private array $truths = [];
    /** @var array<string, StandIn> */
    private array $standIns = [];
    private readonly Wire $wire;
    private Directory $directory;
    private bool $dirty = false;

    /**
     * @param string                 $fileUrl where phones of this job fetch, with the unguessable part
     * @param \Closure(string): void $say     what the lab prints
     */
    public function __construct(private Plan $plan, private readonly string $fileUrl, private readonly string $keepFile, private readonly float $pace, private readonly \Closure $say)
    {
        $kept = is_file($keepFile) ? json_decode((string) file_get_contents($keepFile), true) : [];
        foreach ($plan->devices as $device) {
            $this->meet($device->key);
            if (\is_array($kept) && \is_array($kept[$device->key] ?? null)) {
                $this->truths[$device->key]->recall($kept[$device->key]);
            }
        }
        $this->directory = new Directory([], [], 4.0);
        $this->wire = new Wire($plan, $this->truths);
        foreach ($this->standIns as $standIn) {
            if ($standIn->truth->powered) {
                $standIn->restart();
            }
        }
    }

    public function wire(): Wire
    {
        return $this->wire;
    }

    /**
     * The technician's hands: what was marked as set since the last look is put into the stand-ins, each value once. Nothing goes the other way.
     *
     * @param array<string, string> $secrets account key → SIP secret, `devices/KEY` → administrator's password
     */
    public function handsOn(Plan $plan, array $secrets): void
    {
        $this->plan = $plan;
        foreach ($plan->devices as $device) {
            $this->meet($device->key);
            $truth = $this->truths[$device->key];
            $standIn = $this->standIns[$device->key];
            if ('laptop' === $device->kind->family || $device->kind->isRouter()) {
                continue;
            }
            $restart = false;
            $nic = $device->nic();
            if (!$truth->powered && (null !== $nic?->address->set || isset($plan->marks[$device->key]['hook-up']))) {
                $truth->powered = true;
                $restart = true;
            }
            $values = [];
            foreach (['address', 'mask', 'gateway', 'dns'] as $field) {
                $values[$field] = $nic?->value($field);
            }
            foreach (['hostName', 'provisioning', 'provisioningUser'] as $field) {
                $values[$field] = $device->value($field);
            }
            foreach ($values as $field => $value) {
                $stamp = null === $value?->set ? '' : $value->setAt.' '.$value->set;
                if ('' !== $stamp && ($truth->taken[$field] ?? '') !== $stamp) {
                    $truth->taken[$field] = $stamp;
                    if ($truth->get($field) !== $value?->set) {
                        $truth->settings[$field] = (string) $value?->set;
                        $restart = true;
                    }
                }
            }
            // A phone's password comes with its file; anything else gets it typed in.
            $password = $secrets['devices/'.$device->key] ?? null;
            if (null !== $password && !$device->kind->isPhone() && isset($plan->marks[$device->key]['password']) && $truth->get('adminPassword') !== $password) {
                $truth->settings['adminPassword'] = $password;
                $this->dirty = true;
            }
            if ($restart) {
                $this->dirty = true;
                $standIn->restart();
            }
        }
        $this->directory = self::directory($plan, $secrets);
        $this->wire->rewire($plan, $this->truths);
        $this->keep();
    }

    /** @return string|null why not */
    public function play(Fault $fault, string $device): ?string
    {
        $standIn = $this->standIns[$device] ?? null;
        if (null === $standIn || !$standIn->truth->powered) {
            return \sprintf('%s is not powered in the lab.', $device);
        }
        if ($fault->into($standIn->truth)) {
            $standIn->restart();
        }
        $this->changed();

        return null;
    }

    /** A group question: every stand-in that is up on the asker's segment hears it, nobody else. */
    public function group(string $packet, Ipv4 $peer, int $port): bool
    {
        $site = $this->wire->siteOf($peer);
        $name = null === $site ? null : $this->wire->nameOf($site);
        $segment = null === $name ? null : $this->wire->segmentOfOutpost($name);
        if (null === $segment) {
            return false;
        }
        foreach ($this->plan->devices as $device) {
            if ($device->nic()?->segment === $segment && $this->standIns[$device->key]->isUp()) {
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
        $wire = $this->wire;
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
            $make[] = static fn (): Behaviour => new Announcer($wire, $standIn, $address);
        }
        $make = [...$make, ...match ($kind->family) {
            'phone' => [fn (): Behaviour => new Phone($wire, $standIn, $address, '' === $standIn->truth->get('provisioning') ? '' : $this->fileUrl.$this->macOf($standIn).'.xml', $this->fileServer())],
            'pbx' => [fn (): Behaviour => new Pbx($wire, $standIn, $address, fn (): Directory => $this->directory)],
            'codec' => [static fn (): Behaviour => new Codec($wire, $standIn, $address)],
            default => [],
        }];

        return $make;
    }

    /** A truth changed: the wire is walked anew, and what is to be kept is kept. */
    public function changed(): void
    {
        $this->dirty = true;
        $this->wire->rewire($this->plan, $this->truths);
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
        if (!isset($this->truths[$key])) {
            $this->truths[$key] = new Truth($key, $this->plan->devices[$key]->kind);
            $this->standIns[$key] = new StandIn($this->plan->devices[$key]->kind, $this->truths[$key], $this, $this->pace);
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
        file_put_contents($this->keepFile.'.new', json_encode(array_map(static fn (Truth $truth): array => $truth->keep(), $this->truths), \JSON_PRETTY_PRINT));
        rename($this->keepFile.'.new', $this->keepFile);
    }

    private function macOf(StandIn $standIn): string
    {
        return $this->plan->devices[$standIn->truth->device]->nic()->mac->digits ?? 'unknown';
    }

    private function fileServer(): ?string
    {
        $laptop = $this->plan->devices[$this->plan->job->text('laptop')] ?? null;

        return null === $laptop?->nic()?->address->asOf(Face::Set) ? null : $laptop->key;
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
