<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\Socket\Certificate as File;
use Revolt\EventLoop;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Lab\Part\Part;
use Vorhut\Lab\Part\Parts;
use Vorhut\Socket\Background;
use Vorhut\Socket\DescriptorLimit;

use function Amp\delay;

/** One device in the lab: off, starting, or up with the behaviours of its family at the address it holds. */
final class StandIn
{
    /** Sockets that stay free for those who ask, and for what the next device opens. */
    private const KEPT_FREE = 200;

    /** @var list<Behaviour> */
    private array $behaviours = [];
    private ?float $upSince = null;
    private ?Ipv4 $runsAt = null;
    private bool $isBooting = false;
    private float $ringsUntil = 0.0;
    /** @var list<Part> */
    private readonly array $parts;
    /** Counts restarts, so that a boot that was overtaken by another does nothing. */
    private int $life = 0;

    /** @param float $pace how much faster than life it starts */
    public function __construct(
        public readonly Kind $kind,
        public readonly SimulatedState $state,
        private readonly Simulation $job,
        private readonly float $pace,
    ) {
        $this->parts = Parts::of($this, $job);
    }

    public function isUp(): bool
    {
        return null !== $this->upSince;
    }

    /**
     * Whether it was switched on and is not ready yet. One that an injected fault holds up does not count as starting: that it does not
     * answer is what the fault is for.
     */
    public function isStarting(): bool
    {
        if ($this->isBooting) {
            return !$this->state->isFaulty(InjectedFault::SlowBoot);
        }
        foreach ($this->behaviours as $behaviour) {
            if ($behaviour instanceof Starts && !$behaviour->isReady()) {
                return true;
            }
        }

        return false;
    }

    /** Seconds of its own time. */
    public function upFor(): float
    {
        return null === $this->upSince ? 0.0 : $this->time() - $this->upSince;
    }

    /** The lab's clock: seconds, so many times faster than life. */
    public function time(): float
    {
        return $this->job->time();
    }

    /** @return array<string, string> */
    public function shows(): array
    {
        return array_merge(...array_map(static fn (Part $part): array => $part->shows(), $this->parts), ...[[]]);
    }

    public function feels(Stimulus $touch): bool
    {
        $meant = false;
        foreach ($this->parts as $part) {
            $meant = $part->feels($touch) || $meant;
        }
        if ($meant) {
            $this->job->keepSoon();
        }

        return $meant;
    }

    /** @return string|null why a setting does not take this value now */
    public function refuses(string $local, string $value): ?string
    {
        foreach ($this->parts as $part) {
            $why = $part->refuses($local, $value);
            if (null !== $why) {
                return $why;
            }
        }

        return null;
    }

    /** What of it can be told to call a number; null while it is off, and where nothing can. */
    public function callsOut(): ?CallsOut
    {
        foreach ($this->behaviours as $behaviour) {
            if ($behaviour instanceof CallsOut) {
                return $behaviour;
            }
        }

        return null;
    }

    /** It rings, for so many seconds of this machine's time. */
    public function rings(float $seconds): void
    {
        $this->ringsUntil = microtime(true) + $seconds;
        $this->job->rings($this->state->device, $seconds);
    }

    public function isRinging(): bool
    {
        return microtime(true) < $this->ringsUntil;
    }

    /** Where its servers listen; a new address takes effect when it restarts. */
    public function runsAt(): ?Ipv4
    {
        return $this->runsAt;
    }

    public function address(): ?Ipv4
    {
        return Ipv4::tryFromString($this->state->get('address'));
    }

    /** Off and on again: what it holds now comes into force when it is up. */
    public function restart(): void
    {
        $this->off();
        foreach ($this->kind->panel->dials as $local) {
            if (isset($this->state->saved[$local])) {
                $this->configure($local, $this->state->saved[$local]);
            }
        }
        $this->isBooting = true;
        $life = $this->life;
        $seconds = $this->kind->boot / $this->pace * ($this->state->isFaulty(InjectedFault::SlowBoot) ? 20 : 1);
        Background::run($this->state->device, function () use ($life, $seconds): void {
            delay($seconds);
            if ($life === $this->life) {
                $this->on();
            }
        });
    }

    public function off(): void
    {
        ++$this->life;
        $this->upSince = null;
        $this->runsAt = null;
        $this->isBooting = false;
        foreach ($this->behaviours as $behaviour) {
            $behaviour->end();
        }
        $this->behaviours = [];
    }

    public function hearsGroup(string $packet, Ipv4 $asker, int $port): void
    {
        foreach ($this->behaviours as $behaviour) {
            if ($behaviour instanceof Announcer) {
                $behaviour->hear($packet, $asker, $port);
            }
        }
    }

    /** New settings from its admin page: those of a port are in force after the restart. An address that is typed stays. */
    public function configure(string $field, string $value): void
    {
        $local = $this->state->local($field);
        if ($local === $this->state->local('address') && $value !== $this->state->get($local)) {
            $this->state->leased = false;
        }
        $this->state->put($field, $value);
        unset($this->state->saved[$local]);
    }

    /** @return list<Service> what it answers to, where its own settings put it */
    public function services(): array
    {
        return array_map(
            fn (Service $one): Service => null === $one->follows ? $one : $one->at($this->state->get($one->follows)),
            $this->kind->services,
        );
    }

    public function serviceNamed(string $name): ?Service
    {
        return array_values(array_filter($this->services(), static fn (Service $one): bool => $one->name === $name))[0] ?? null;
    }

    /** A clock is set while it runs; an address, the port of a service, or where its file is, takes a restart. */
    public function restartsFor(Setting $setting): bool
    {
        return SettingScope::Port === $setting->scope
            || 'provisioning' === $setting->group
            || [] !== array_filter($this->kind->services, static fn (Service $service): bool => $service->follows === $setting->name);
    }

    /** Saved values take effect. */
    public function apply(): void
    {
        foreach ($this->state->saved as $local => $value) {
            $this->configure($local, $value);
        }
    }

    /** Called a moment after an answer was sent, so that its sender learns that it worked. */
    public function restartSoon(): void
    {
        EventLoop::delay(0.05, function (): void {
            $this->job->onChange();
            $this->restart();
        });
    }

    /** A truth changed that takes no restart. */
    public function onChange(): void
    {
        $this->job->keepSoon();
    }

    public function certificate(): File
    {
        return Certificate::of($this->state->device, $this->job->folder().'/certificates', $this->state->resets);
    }

    /** Everything that was put in is gone, its certificate too. */
    public function reset(): void
    {
        ++$this->state->resets;
        $this->state->asMade();
        $this->job->onChange();
        $this->restart();
    }

    private function on(): void
    {
        $this->isBooting = false;
        if ($this->state->leased) {
            $this->job->lease($this);
        }
        $address = $this->address();
        if (null !== $address && !DescriptorLimit::isLeft(self::KEPT_FREE)) {
            // A lab with more sockets than it can watch would not work at all.
            $this->job->say(\sprintf('%s is not played: this lab has no more sockets.', $this->state->device));

            return;
        }
        $this->runsAt = $address;
        if (null !== $address) {
            foreach ($this->job->behavioursOf($this, $address) as $make) {
                try {
                    $this->behaviours[] = $make();
                } catch (\Throwable $e) {
                    // Another one holds the address on this loopback: on a wire both would answer by turns; here the first one does.
                    $this->job->say(\sprintf('%s cannot take %s: %s', $this->state->device, $address, $e->getMessage()));
                }
            }
        }
        $this->upSince = $this->time();
        $this->job->onChange();
    }
}
