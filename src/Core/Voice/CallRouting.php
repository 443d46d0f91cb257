<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Plan\CallMenu;
use Vorhut\Core\Plan\CallRoute;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\RingGroup;

/** The path of a call in a PBX by its numbers and rules only, with every decision; the network is not considered here. */
final readonly class CallRouting
{
    /**
     * @param list<Decision>  $decisions in order, including rules that did not match
     * @param list<Extension> $ring      the extensions that ring: one, or the members of a group
     * @param string          $sent      digits as they go out by the trunk
     * @param string          $callerId  as it is sent outside; empty for none
     * @param string|null     $emergency the emergency number that was dialled
     * @param bool            $returned  it went out and returned through a trunk
     */
    public function __construct(
        public CallRoutingEnd $end,
        public array $decisions,
        public array $ring = [],
        public ?RingGroup $group = null,
        public ?CallMenu $menu = null,
        public ?CallRoute $route = null,
        public string $sent = '',
        public string $callerId = '',
        public ?string $emergency = null,
        public bool $returned = false,
    ) {
    }

    public function cameIn(): self
    {
        return $this->with($this->decisions, $this->emergency, true);
    }

    /** As the continuation of another: with the decisions of both, and what either of them says of the whole call. */
    public function after(self $before): self
    {
        return $this->with(
            [...$before->decisions, ...$this->decisions],
            $this->emergency ?? $before->emergency,
            $this->returned || $before->returned,
        );
    }

    /** @param list<Decision> $decisions */
    private function with(array $decisions, ?string $emergency, bool $returned): self
    {
        return new self(
            $this->end,
            $decisions,
            $this->ring,
            $this->group,
            $this->menu,
            $this->route,
            $this->sent,
            $this->callerId,
            $emergency,
            $returned,
        );
    }

    public function last(): Decision
    {
        return $this->decisions[array_key_last($this->decisions) ?? throw new \LogicException('A course without a decision.')];
    }

    /** @return list<Decision> what the call went by */
    public function way(): array
    {
        return array_values(array_filter($this->decisions, static fn (Decision $one): bool => $one->taken));
    }
}
