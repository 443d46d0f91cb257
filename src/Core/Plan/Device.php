<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\FactoryState;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\LoginPattern;
use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Net\Port;

/** One box of the kit list. */
final readonly class Device
{
    /** @var list<Step> of its sheet: the steps of its kind that its factory state and its planned values require */
    public array $steps;
    /** @var list<Nic> */
    private array $activeNics;

    /**
     * @param bool                        $forwardsOnSameInterface whether its filter by default lets a packet out by the interface that it
     *     arrived on
     * @param FactoryState                $factory  how this very device comes to the bench: its kind's state, and what its label says
     * @param string|null                 $labelUser user name on its label, where that is another than its kind's
     * @param list<Nic>                   $nics     in the order of the kind
     * @param Settings $settings by slot
     */
    public function __construct(
        public string $key,
        public string $tag,
        public Kind $kind,
        public string $room,
        public string $serial,
        public ?string $controlledFrom,
        public bool $forwardsByDefault,
        public bool $stateful,
        public bool $forwardsOnSameInterface,
        public FactoryState $factory,
        public ?string $labelUser,
        public ?string $labelHostName,
        public array $nics,
        private Settings $settings,
        public int $position = 9999,
    ) {
        $this->steps = $kind->stepsFrom($factory->when, fn (string $name): ?string => $this->setting($name)->planned);
        $this->activeNics = array_values(array_filter($nics, static fn (Nic $nic): bool => !$nic->passive));
    }

    /** Plugged in by more than one of its ports: only then has one to say which is meant. */
    public function isOnSeveralSegments(): bool
    {
        return \count(array_filter($this->activeNics(), static fn (Nic $nic): bool => null !== $nic->segment)) > 1;
    }

    /** @return list<Service> what it answers to, and where: some are moved to another port by a setting */
    public function services(Face $face = Face::Planned): array
    {
        return array_map(fn (Service $service): Service => $this->withPort($service, $face), $this->kind->services);
    }

    public function service(Port $port, Face $face = Face::Planned): ?Service
    {
        foreach ($this->kind->services as $service) {
            $placed = $this->withPort($service, $face);
            if ($placed->port->equals($port)) {
                return $placed;
            }
        }

        return null;
    }

    public function serviceNamed(string $name, Face $face = Face::Planned): ?Service
    {
        $service = $this->kind->serviceNamed($name);

        return null === $service ? null : $this->withPort($service, $face);
    }

    private function withPort(Service $service, Face $face): Service
    {
        return null === $service->follows ? $service : $service->at($this->setting($service->follows)->effective($face));
    }

    public function record(): string
    {
        return 'devices/'.$this->key;
    }

    public function setting(string $slot): TrackedValue
    {
        return $this->settings->get($slot);
    }

    /** @return array<string, TrackedValue> */
    public function settings(): array
    {
        return $this->settings->all();
    }

    /** The user name one logs in with the first time. */
    public function loginUser(): string
    {
        return $this->labelUser ?? $this->kind->login->user;
    }

    /** The first password; null if only the label or another person has it. */
    public function firstPassword(): ?string
    {
        return match ($this->kind->login->pattern) {
            LoginPattern::Fixed => $this->kind->login->password,
            LoginPattern::SerialNumber => '' === $this->serial ? null : $this->serial,
            LoginPattern::Empty => '',
            default => null,
        };
    }

    /** @return string|null the segment from which the device is managed: that of its control system, else its own */
    public function managedFrom(Plan $plan): ?string
    {
        $segment = $this->controlledFrom ?? $this->nic()?->segment;

        return isset($plan->segments[$segment ?? '']) ? $segment : null;
    }

    /** The port that carries its address: the first that is not a mere pass-through. */
    public function nic(): ?Nic
    {
        return $this->activeNics[0] ?? null;
    }

    /** @return list<Nic> the ports that carry an address */
    public function activeNics(): array
    {
        return $this->activeNics;
    }

    public function nicNamed(string $name): ?Nic
    {
        foreach ($this->nics as $nic) {
            if ($nic->name === $name) {
                return $nic;
            }
        }

        return null;
    }
}
