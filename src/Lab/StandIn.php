<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Revolt\EventLoop;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Socket\Background;

use function Amp\delay;

/** One device in the lab: off, starting, or up with the behaviours of its family at the address it holds. */
final class StandIn
{
    /** @var list<Behaviour> */
    private array $behaviours = [];
    private bool $up = false;
    /** Counts restarts, so that a boot that was overtaken by another does nothing. */
    private int $life = 0;

    /** @param float $pace how much faster than life it starts */
    public function __construct(
        public readonly Kind $kind,
        public readonly SimulatedState $state,
        private readonly Simulation $job,
        private readonly float $pace,
    ) {
    }

    public function isUp(): bool
    {
        return $this->up;
    }

    public function address(): ?Ipv4
    {
        return Ipv4::tryFromString($this->state->get('address'));
    }

    /** Off and on again: what it holds now comes into force when it is up. */
    public function restart(): void
    {
        $this->off();
        $life = $this->life;
        $seconds = $this->kind->boot / $this->pace * (\in_array(
            InjectedFault::SlowBoot->value,
            $this->state->standingFaults,
            true,
        ) ? 20 : 1);
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
        $this->up = false;
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

    /** New settings from its admin page: they are in force after the restart. */
    public function configure(string $field, string $value): void
    {
        $this->state->put($field, $value);
        unset($this->state->saved[$this->state->local($field)]);
    }

    /** Called a moment after an answer went out, so that whoever configured it hears that it worked. */
    public function restartSoon(): void
    {
        EventLoop::delay(0.05, function (): void {
            $this->job->changed();
            $this->restart();
        });
    }

    private function on(): void
    {
        $address = $this->address();
        if (null === $address) {
            return;
        }
        foreach ($this->job->behavioursOf($this, $address) as $make) {
            try {
                $this->behaviours[] = $make();
            } catch (\Throwable $e) {
                // Another one holds the address on this loopback: on a wire both would answer by turns; here the first one does.
                $this->job->say(\sprintf('%s cannot take %s: %s', $this->state->device, $address, $e->getMessage()));
            }
        }
        $this->up = true;
        $this->job->changed();
    }
}
