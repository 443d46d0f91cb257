<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Plan\Cable;
use Vorhut\Core\Plan\Plan;

/**
 * Which cables a packet goes over: those that are not spare, as a spanning tree leaves them (IEEE 802.1Q). Built once, asked by climbing
 * from both ends, so that a way costs its length and not the network's size.
 */
final class Cabling
{
    /** Mbit/s if not set. */
    public const USUAL_MBPS = 1000;

    /** @var array<string, array{string, Cable}> device → next hop towards the root, and the cable to it */
    private array $parent = [];
    /** @var array<string, int> */
    private array $depth = [];
    /** @var array<string, string> device → root of its part */
    private array $root = [];
    /** @var array<string, list<array{string, Cable}>> device → neighbours in the tree */
    private array $near = [];
    /** @var list<Cable> what would close a ring: blocked, whether or not anybody said so */
    public array $closing = [];

    private function __construct()
    {
    }

    public static function of(Plan $plan): self
    {
        $self = new self();
        $cables = [];
        foreach ($plan->cables as $cable) {
            if (!$cable->spare && isset(
                $plan->devices[$cable->device],
                $plan->devices[$cable->switch],
            ) && $cable->device !== $cable->switch) {
                $cables[$cable->device][] = [$cable->switch, $cable];
                $cables[$cable->switch][] = [$cable->device, $cable];
            }
        }
        // The root of a part is its switch with most cables: there what many share comes together.
        $starts = array_keys($cables);
        usort($starts, static fn (string $a, string $b): int => [
            $plan->devices[$b]->kind->has(Role::Switches),
            \count($cables[$b]),
            $a,
        ] <=> [$plan->devices[$a]->kind->has(Role::Switches), \count($cables[$a]), $b]);
        $used = [];
        foreach ($starts as $start) {
            if (isset($self->root[$start])) {
                continue;
            }
            $self->root[$start] = $start;
            $self->depth[$start] = 0;
            for ($queue = [$start], $i = 0; $i < \count($queue); ++$i) {
                $here = $queue[$i];
                foreach ($cables[$here] as [$there, $cable]) {
                    if (isset($used[$cable->key])) {
                        continue;
                    }
                    $used[$cable->key] = true;
                    if (isset($self->root[$there])) {
                        $self->closing[] = $cable;
                        continue;
                    }
                    $self->root[$there] = $start;
                    $self->depth[$there] = $self->depth[$here] + 1;
                    $self->parent[$there] = [$here, $cable];
                    $self->near[$here][] = [$there, $cable];
                    $self->near[$there][] = [$here, $cable];
                    $queue[] = $there;
                }
            }
        }

        return $self;
    }

    public function has(string $device): bool
    {
        return isset($this->root[$device]);
    }

    /** @return list<array{string, Cable}> neighbour and cable */
    public function near(string $device): array
    {
        return $this->near[$device] ?? [];
    }

    /**
     * From one to the other, in order.
     *
     * @return list<LinkHop>|null null where no cable leads there
     */
    public function way(string $from, string $to): ?array
    {
        if (!isset($this->root[$from], $this->root[$to]) || $this->root[$from] !== $this->root[$to]) {
            return null;
        }
        $up = $down = [];
        while ($from !== $to) {
            if ($this->depth[$from] >= $this->depth[$to]) {
                [$next, $cable] = $this->parent[$from];
                $up[] = new LinkHop($cable, $from, $next);
                $from = $next;
            } else {
                [$next, $cable] = $this->parent[$to];
                $down[] = new LinkHop($cable, $next, $to);
                $to = $next;
            }
        }

        return [...$up, ...array_reverse($down)];
    }
}
