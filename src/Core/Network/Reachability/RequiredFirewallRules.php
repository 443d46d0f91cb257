<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Network\Walk\Fault;
use Vorhut\Core\Network\Walk\Host;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/**
 * The rules that a job needs and no others: all flows across a router that the plan requires, in as few rules as there are pairs of
 * segments and ports; verified by walking with only these rules. Each router keeps state, and denies by default.
 */
final readonly class RequiredFirewallRules implements \JsonSerializable
{
    /**
     * @param list<RequiredFirewallRule>          $rules
     * @param list<array{Flow, Message}> $unreachable what no rule helps, with the reason
     */
    private function __construct(private Plan $plan, public array $rules, public array $unreachable)
    {
    }

    /** @param bool $byAddress name the devices' addresses; else whole segments */
    public static function of(Plan $plan, bool $byAddress = false): self
    {
        $open = NetworkModel::of(self::without($plan, 'allow'), Face::Planned);
        $equivalence = new HostEquivalence($open);
        $unreachable = $crossings = [];
        /** @var array<string, Walk> $walks of those that are alike one is walked */
        $walks = [];
        foreach (RequiredFlows::of($plan) as $flow) {
            $walk = $walks[$equivalence->ofFlow($flow).' '.$flow->port] ??= $flow->walk($open);
            if (!$flow->passes($walk)) {
                $unreachable[] = [$flow, $walk->brokenHop()->text ?? new Message('')];
                continue;
            }
            foreach (self::crossings($plan, $walk) as [$router, $from, $to]) {
                $outside = match (true) {
                    null === $flow->outside => '',
                    $flow->isAnywhere => '*',
                    default => (string) $flow->outside,
                };
                $crossings["$router $from $to {$flow->port} {$flow->last} $outside"][] = [$router, $from, $to, $flow];
            }
        }
        ksort($crossings, \SORT_NATURAL);
        $rules = [];
        foreach ($crossings as $some) {
            $rules[] = self::rule($open, $some, $byAddress);
        }

        return new self($plan, self::withoutCovered(self::joinPorts($rules)), $unreachable);
    }

    /** @return list<array{Message, non-empty-list<Flow>}> why no rule helps, with the flows that fail for that reason */
    public function unreachableByReason(): array
    {
        $reasons = [];
        foreach ($this->unreachable as [$flow, $reason]) {
            $reasons[(string) $reason][0] ??= $reason;
            $reasons[(string) $reason][1][] = $flow;
        }

        return array_values($reasons);
    }

    /** The same job with no rules of its own. */
    public static function without(Plan $plan, string $default): Plan
    {
        $edits = [];
        foreach ($plan->rows('filters') as $row) {
            $edits[] = Edit::remove('filters', $row);
        }
        foreach ($plan->routerPorts as $port) {
            foreach (['filterDefault' => $default, 'filterSameInterface' => 'allow', 'stateful' => true] as $field => $value) {
                $edits[$port->router.$field] = Edit::put('devices', $port->router, $field, null, $value);
            }
        }

        return $plan->with(new Change(new Message(''), array_values($edits)));
    }

    /** @return list<array{string, string, string}> router, and from which segment to which it passes it on */
    private static function crossings(Plan $plan, Walk $walk): array
    {
        $crossed = [];
        $last = null;
        foreach ($walk->leg(false) as $hop) {
            $router = null;
            $segment = $hop->segment;
            if (str_starts_with($hop->ref, 'routerPorts/')) {
                $router = $plan->routerPorts[substr($hop->ref, 12)]->router ?? null;
            }
            // Where the router denies by default what leaves by the interface it arrived on, that needs a rule as well.
            $isFiltered = $last !== $segment || false === ($plan->devices[$router ?? ''] ?? null)?->forwardsOnSameInterface;
            if (null !== $router && null !== $last && $isFiltered) {
                $crossed[] = [$router, $last, $segment];
            }
            $last = $segment;
        }

        return $crossed;
    }

    /** @param non-empty-list<array{string, string, string, Flow}> $some */
    private static function rule(NetworkModel $model, array $some, bool $byAddress): RequiredFirewallRule
    {
        [$router, $from, $to, $first] = $some[0];
        $ends = [[], []];
        $why = $tags = $flows = [];
        $open = false;
        foreach ($some as [, , , $flow]) {
            $flows[$flow->key()] = $flow;
            $why[(string) $flow->why] = $flow->why;
            foreach ([$flow->from, $flow->to] as $i => $end) {
                $device = $model->device($end);
                if (null !== $device) {
                    $tags[$device->tag] = true;
                }
                // A controller may have any address of its segment; an outpost has the one in the plan.
                $open = $open || (null === $device && Flow::OUTSIDE !== $end && !$flow->isTest);
                foreach (self::addresses($model, $flow, $end) as $address) {
                    $ends[$i][$address->number] = $address;
                }
            }
        }
        ksort($tags, \SORT_NATURAL);
        // An end outside the job is always named, because the segment that leads there is not where it is.
        $named = [
            $first->enters() || ($byAddress && !$open),
            $first->leaves() || $byAddress,
        ];

        return new RequiredFirewallRule(
            $router,
            $from,
            $to,
            $first->port,
            $first->last,
            $named[0] ? Range::covering(array_values($ends[0])) : [],
            $named[1] ? Range::covering(array_values($ends[1])) : [],
            array_values($why),
            array_map(strval(...), array_keys($tags)),
            array_values($flows),
            $first->enters(),
            $first->leaves(),
        );
    }

    /** @return list<Ipv4> of one end of a flow; none where it may be anywhere outside */
    private static function addresses(NetworkModel $model, Flow $flow, string $end): array
    {
        if (Flow::OUTSIDE === $end) {
            return null === $flow->outside || $flow->isAnywhere ? [] : [$flow->outside];
        }
        $hosts = null === $model->device($end) ? [$model->host($end)] : $model->hostsOf($end);

        return array_values(array_filter(
            array_map(static fn (?Host $host): ?Ipv4 => $host?->ipv4(), $hosts),
            static fn (?Ipv4 $address): bool => null !== $address,
        ));
    }

    /**
     * Ports that follow one another, for the same pair and the same addresses, are one rule.
     *
     * @param list<RequiredFirewallRule> $rules
     *
     * @return list<RequiredFirewallRule>
     */
    private static function joinPorts(array $rules): array
    {
        $place = static fn (RequiredFirewallRule $rule): string => implode(' ', [
            $rule->router,
            $rule->from,
            $rule->to,
            $rule->first->transport->value,
            implode(',', $rule->fromAddresses),
            implode(',', $rule->toAddresses),
            $rule->isFromOutside ? 'in' : '',
            $rule->isToOutside ? 'out' : '',
        ]);
        usort(
            $rules,
            static fn (RequiredFirewallRule $a, RequiredFirewallRule $b): int => [$place($a), $a->first->number]
                <=> [$place($b), $b->first->number],
        );
        $joined = [];
        foreach ($rules as $rule) {
            $before = $joined[array_key_last($joined) ?? -1] ?? null;
            if (null === $before || $place($before) !== $place($rule) || $rule->first->number > $before->last + 1) {
                $joined[] = $rule;
                continue;
            }
            $tags = array_values(array_unique([...$before->devices, ...$rule->devices]));
            natsort($tags);
            array_pop($joined);
            $joined[] = new RequiredFirewallRule(
                $rule->router,
                $rule->from,
                $rule->to,
                $before->first,
                max($before->last, $rule->last),
                $rule->fromAddresses,
                $rule->toAddresses,
                array_values(array_combine(
                    array_map(strval(...), [...$before->why, ...$rule->why]),
                    [...$before->why, ...$rule->why],
                )),
                array_values($tags),
                [...$before->flows, ...$rule->flows],
                $rule->isFromOutside,
                $rule->isToOutside,
            );
        }

        return $joined;
    }

    /** So that the plan has these rules and no others. */
    public function change(): Change
    {
        $edits = [];
        foreach ($this->plan->rows('filters') as $row) {
            $edits[] = Edit::remove('filters', $row);
        }
        $routers = [];
        foreach ($this->plan->routerPorts as $port) {
            $routers[$port->router] = true;
        }
        foreach (array_keys($routers) as $router) {
            $row = $this->plan->row('devices', (string) $router) ?? [];
            foreach (['filterDefault' => 'deny', 'stateful' => true] as $field => $value) {
                if (($row[$field] ?? null) !== $value) {
                    $edits[] = Edit::put('devices', (string) $router, $field, $row[$field] ?? null, $value);
                }
            }
        }
        foreach ($this->rules as $i => $rule) {
            $edits[] = Edit::add('filters', $rule->row(\sprintf('wanted-%03d', $i + 1), 10 * ($i + 1)));
        }

        return new Change(new Message('The rules that the job needs, and no others: {n}.', ['n' => \count($this->rules)]), $edits);
    }

    /**
     * What the rules of the plan, as they are, keep from working: the flows that break at a filter, one of each reason.
     *
     * @return list<array{Flow, Message}>
     */
    public function missing(): array
    {
        $model = NetworkModel::of($this->plan, Face::Planned);
        $equivalence = new HostEquivalence($model);
        $missing = [];
        /** @var array<string, Walk> $walks */
        $walks = [];
        foreach ($this->rules as $rule) {
            foreach ($rule->flows as $flow) {
                foreach ($equivalence->portsOf($flow) as $port) {
                    $walk = $walks[$equivalence->ofFlow($flow).' '.$port] ??= $flow->walk($model, $port);
                    if (Fault::Filtered === $walk->brokenHop()?->fault) {
                        // Devices that need the same thing for the same reason are told once.
                        $missing["$flow->why $flow->port {$walk->brokenHop()->text}"] ??= [$flow, $walk->brokenHop()->text];
                    }
                }
            }
        }

        return array_values($missing);
    }

    /**
     * With only these rules: every flow that fails, and every rule that could be removed without breaking one. Both are empty, or the rules
     * are wrong.
     *
     * @return array{broken: list<Flow>, spare: list<RequiredFirewallRule>}
     */
    public function proof(): array
    {
        $model = NetworkModel::of($this->plan->with($this->change()), Face::Planned);
        $broken = $spare = [];
        $equivalence = new HostEquivalence($model);
        $walks = [];
        foreach ($this->rules as $i => $rule) {
            foreach ($rule->flows as $flow) {
                foreach ($equivalence->portsOf($flow) as $port) {
                    $walk = $walks[$equivalence->ofFlow($flow).' '.$port] ??= $flow->walk($model, $port);
                    // Beyond the first port of a range only the path counts, not whether a service answers.
                    $isUnasked = $port->number !== $flow->port->number && Fault::NotServed === $walk->brokenHop()?->fault;
                    if (!$flow->passes($walk) && !$isUnasked) {
                        $broken[$flow->key()] = $flow;
                    }
                }
            }
            foreach ($this->rules as $j => $other) {
                if ($i !== $j && $other->covers($rule)) {
                    $spare[] = $rule;
                    break;
                }
            }
        }

        return ['broken' => array_values($broken), 'spare' => $spare];
    }

    /**
     * Without those that another one covers: a rule for any address outside makes one for a single provider redundant.
     *
     * @param list<RequiredFirewallRule> $rules
     *
     * @return list<RequiredFirewallRule>
     */
    private static function withoutCovered(array $rules): array
    {
        $kept = $rules;
        foreach ($rules as $i => $rule) {
            foreach ($kept as $j => $other) {
                if ($i !== $j && $other->covers($rule)) {
                    unset($kept[$i]);
                    $kept[$j] = $other->also($rule);
                    break;
                }
            }
        }

        return array_values($kept);
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'rules' => $this->rules,
            'hopeless' => array_map(static fn (array $one): array => [
                'from' => $one[0]->from,
                'to' => $one[0]->to,
                'port' => (string) $one[0]->port,
                'why' => (string) $one[1],
            ], $this->unreachable),
        ];
    }
}
