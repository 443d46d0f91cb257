<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Plan\CallMenu;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RingGroup;
use Vorhut\Core\Text\Message;

/**
 * Calls that are forwarded without dialling: forwards, unanswered groups and menus, menu keys, and inbound calls. Reports dead ends and
 * loops.
 */
final class CallGraph
{
    /** Where more is wrong than this, the first are enough to go on. */
    private const CIRCLES = 50;

    /** @var list<array{record: string, from: string, digits: string, why: Message}> */
    public array $dead = [];
    /** @var list<array{records: list<string>, way: list<string>, outside: bool}> */
    public array $circles = [];
    /** @var array<string, true> circles that are told */
    private array $told = [];

    /** @var array<string, list<array{to: string, digits: string, pressed: bool, outside: bool}>> record → where it leads */
    private array $edges = [];
    /** @var array<string, string> record → its number, or its name */
    private array $names = [];

    private function __construct(private readonly Plan $plan, private readonly Switching $switching)
    {
    }

    public static function of(Plan $plan): self
    {
        $graph = new self($plan, Switching::of($plan));
        $graph->lead();
        $graph->search();

        return $graph;
    }

    private function lead(): void
    {
        foreach ($this->plan->extensions as $one) {
            foreach ([$one->forwardAlways, $one->forwardBusy, $one->forwardUnanswered] as $digits) {
                $this->edge('extensions/'.$one->key, $one->number, (string) $one->pbx, $digits, false, $one);
            }
        }
        $numbering = Numbering::of($this->plan);
        foreach ($this->plan->ringGroups as $one) {
            $this->edge('ringGroups/'.$one->key, $one->number, $one->pbx, $one->otherwise, false, null);
            foreach ($one->members as $number) {
                $found = $numbering->at($one->pbx, $number);
                if (!$found instanceof Extension) {
                    $this->dead[] = [
                        'record' => 'ringGroups/'.$one->key,
                        'from' => $one->number,
                        'digits' => $number,
                        'why' => new Message('no phone has that number.'),
                    ];
                }
            }
        }
        foreach ($this->plan->menus as $one) {
            $this->edge('menus/'.$one->key, $one->number, $one->pbx, $one->otherwise, false, null);
            foreach ($one->choices as $digits) {
                $this->edge('menus/'.$one->key, $one->number, $one->pbx, $digits, true, null);
            }
        }
        foreach ($this->plan->inboundRoutes as $one) {
            $trunk = $this->plan->trunks[$one->trunk] ?? null;
            if (null !== $trunk) {
                $this->edge('inboundRoutes/'.$one->key, $trunk->name.' '.$one->map, $trunk->pbx, $one->to, false, null);
            }
        }
    }

    private function edge(string $record, string $name, string $pbx, string $digits, bool $pressed, ?Extension $by): void
    {
        if ('' === $digits) {
            return;
        }
        $this->names[$record] = $name;
        $routing = $this->switching->forwarded($pbx, $digits, '', $by);
        if (\in_array($routing->end, [CallRoutingEnd::Unknown, CallRoutingEnd::Denied, CallRoutingEnd::Incomplete], true)) {
            $this->dead[] = ['record' => $record, 'from' => $name, 'digits' => $digits, 'why' => $routing->last()->text];
        }
        $to = match (true) {
            null !== $routing->menu => $routing->menu,
            null !== $routing->group => $routing->group,
            CallRoutingEnd::Extension === $routing->end => $routing->ring[0] ?? null,
            default => null,
        };
        if ($to instanceof CallMenu || $to instanceof RingGroup || $to instanceof Extension) {
            $this->edges[$record][] = [
                'to' => Numbering::recordOf($to),
                'digits' => $digits,
                'pressed' => $pressed,
                'outside' => $routing->returned,
            ];
            $this->names[Numbering::recordOf($to)] ??= $to->number;
        }
        if (CallRoutingEnd::Loop === $routing->end) {
            $records = array_values(array_filter(
                array_map(static fn (Decision $one): string => $one->record, $routing->way()),
                static fn (string $one): bool => '' !== $one,
            ));
            $this->circle([] === $records ? [$record] : $records, array_map(
                static fn (Decision $one): string => rtrim((string) $one->text, '.'),
                $routing->way(),
            ), $routing->returned);
        }
    }

    /**
     * @param non-empty-list<string> $records
     * @param list<string>           $way
     */
    private function circle(array $records, array $way, bool $outside): void
    {
        $sorted = array_unique($records);
        sort($sorted);
        $key = implode(' ', $sorted);
        if (!isset($this->told[$key])) {
            $this->circles[] = ['records' => $records, 'way' => $way, 'outside' => $outside];
        }
        $this->told[$key] = true;
    }

    /** A loop without a key press, or one that goes out and returns through a trunk. */
    private function search(): void
    {
        $this->prune();
        foreach (array_keys($this->edges) as $start) {
            if (\count($this->circles) >= self::CIRCLES) {
                return;
            }
            $seen = [];
            $stack = [[$start, [], false, false]];
            while ([] !== $stack) {
                [$at, $way, $pressed, $outside] = array_pop($stack);
                foreach ($this->edges[$at] ?? [] as $edge) {
                    $now = [$pressed || $edge['pressed'], $outside || $edge['outside']];
                    if ($edge['to'] === $start && (!$now[0] || $now[1])) {
                        $records = [...$way, $at];
                        $this->circle(
                            $records,
                            array_map(fn (string $one): string => $this->names[$one] ?? $one, [...$records, $start]),
                            $now[1],
                        );
                    }
                    $state = $edge['to'].' '.(int) $now[0].(int) $now[1];
                    if ($edge['to'] !== $start && !isset($seen[$state])) {
                        $seen[$state] = true;
                        $stack[] = [$edge['to'], [...$way, $at], $now[0], $now[1]];
                    }
                }
            }
        }
    }

    /** A destination that nothing leads to, or that leads nowhere, is not part of a loop. */
    private function prune(): void
    {
        do {
            $before = \count($this->edges, \COUNT_RECURSIVE);
            $reached = [];
            foreach ($this->edges as $record => $some) {
                $this->edges[$record] = array_values(array_filter($some, fn (array $edge): bool => isset($this->edges[$edge['to']])));
                foreach ($this->edges[$record] as $edge) {
                    $reached[$edge['to']] = true;
                }
            }
            $this->edges = array_filter(array_intersect_key($this->edges, $reached));
        } while (\count($this->edges, \COUNT_RECURSIVE) < $before);
    }
}
