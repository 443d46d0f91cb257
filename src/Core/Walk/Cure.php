<?php

declare(strict_types=1);

namespace Vorhut\Core\Walk;

use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Text\Message;

/**
 * The change that makes a broken walk hold, or null where none can be computed (a service that is not there, a router that is missing).
 *
 * It mends the first broken stone, walks again, and goes on until the walk holds; then it drops every edit that is not needed. So what it
 * proposes has been tried, on a copy of the plan.
 */
final class Cure
{
    private const STONES_AT_MOST = 12;

    public static function of(Plan $plan, Face $face, string $from, string $to, ?Port $port): ?Change
    {
        $edits = [];
        $remedies = [];
        $mended = $plan;
        for ($stone = 0; $stone < self::STONES_AT_MOST; ++$stone) {
            $model = NetworkModel::of($mended, $face);
            $walk = Walker::between($model, $from, $to, $port);
            $broken = $walk->broken();
            if (null === $broken) {
                break;
            }
            $remedy = self::remedy($model, $walk, $broken, $port);
            if (null === $remedy || $remedy->isEmpty()) {
                return null;
            }
            $remedies[] = $remedy;
            $edits = [...$edits, ...$remedy->edits];
            $mended = $mended->with($remedy);
        }
        if ([] === $remedies || !Walker::between(NetworkModel::of($mended, $face), $from, $to, $port)->holds()) {
            return null;
        }

        $needed = self::needed($plan, $face, $from, $to, $port, self::joined($edits));

        return new Change(self::told($remedies, $needed), $needed);
    }

    /**
     * The sentences of the remedies that are left in the edits, each once, in the order of the way: what is said is what is done.
     *
     * @param non-empty-list<Change> $remedies
     * @param list<Edit>             $needed
     */
    private static function told(array $remedies, array $needed): Message
    {
        $left = [];
        foreach ($needed as $edit) {
            $left[self::place($edit)] = $edit;
        }
        $told = [];
        // Of several that touched one field the last had the word.
        foreach (array_reverse($remedies) as $remedy) {
            $isLeft = false;
            foreach ($remedy->edits as $edit) {
                $isLeft = $isLeft || isset($left[self::place($edit)]);
                unset($left[self::place($edit)]);
            }
            if ($isLeft) {
                $told = [(string) $remedy->why => $remedy->why] + $told;
            }
        }
        $why = null;
        foreach ($told as $one) {
            $why = null === $why ? $one : new Message('{first} {then}', ['first' => $why, 'then' => $one]);
        }

        return $why ?? throw new \LogicException('A cure without an edit.');
    }

    private static function place(Edit $edit): string
    {
        return $edit->kind->value.' '.$edit->record().' '.$edit->field;
    }

    private static function remedy(NetworkModel $model, Walk $walk, Hop $broken, ?Port $port): ?Change
    {
        $culprit = $walk->culprit;

        return match ($broken->fault) {
            Fault::NextDoor, Fault::EdgeOfOwnMask => self::tellMaskOrMove($model, $culprit, $walk),
            Fault::NoAddress => null !== $culprit
                && null !== $culprit->address ? self::tellMask($model, $culprit) : self::move($model, $culprit),
            Fault::UnusableAddress, Fault::LinkLocalOnly, Fault::NobodyHolds => self::move($model, $culprit),
            Fault::SameAddress, Fault::Duplicate, Fault::AnotherHolds => self::part($model, $walk),
            Fault::NoGateway, Fault::NoSuchGateway, Fault::GatewayIsHost, Fault::GatewayIsSelf => self::tellGateway($model, $culprit),
            Fault::GatewayDuplicate => self::freeTheGateway($model, $culprit),
            Fault::GatewayOutside => self::tellGateway($model, $culprit) ?? self::tellMaskOrMove($model, $culprit, $walk),
            Fault::NoRoute, Fault::NextHopMissing, Fault::RoutingLoop => self::addRoute($model, $walk),
            Fault::Filtered => self::allow(
                $model,
                $walk,
                $broken->back ? Port::of($port->transport ?? Port::tcp(1)->transport, Walker::ASKING_PORT) : $port,
                $broken->back,
            ),
            default => null,
        };
    }

    private static function tellMask(NetworkModel $model, ?Host $host): ?Change
    {
        $segment = $model->segment($host->segment ?? '');
        $nic = self::nic($model, $host);
        if (null === $segment || null === $nic || (string) $host?->mask === (string) $segment->network->mask) {
            return null;
        }
        $mask = (string) $segment->network->mask;

        return new Change(
            new Message('Give {host} the mask {mask} of its segment.', ['host' => $host->label ?? '', 'mask' => $mask]),
            SettingChange::toHold($nic->record().'#mask', $nic->setting('mask'), $mask, $model->face),
        );
    }

    private static function tellMaskOrMove(NetworkModel $model, ?Host $host, Walk $walk): ?Change
    {
        // A right mask and yet "next door": one of the two is plugged where its address does not belong.
        return self::tellMask($model, $host)
            ?? (self::isAtHome($model, $host) ? self::moveDestination($model, $walk) : self::move($model, $host));
    }

    private static function tellGateway(NetworkModel $model, ?Host $host): ?Change
    {
        $segment = $model->segment($host->segment ?? '');
        $nic = self::nic($model, $host);
        if (null === $segment || null === $nic || null === $host) {
            return null;
        }
        if (!self::isAtHome($model, $host)) {
            return self::move($model, $host);
        }
        $ports = array_values(array_filter(
            $model->plan->routerPorts,
            static fn (RouterPort $port): bool => $port->segment === $segment->key && $segment->network->contains($port->address),
        ));
        foreach ($ports as $port) {
            if (null !== $segment->gateway && $port->address->equals($segment->gateway)) {
                $ports = [$port];
            }
        }
        $gateway = $ports[0]->address ?? null;
        if (null === $gateway || (string) $gateway === $host->gateway) {
            return null;
        }

        return new Change(
            new Message('Give {host} the gateway {gateway}.', ['host' => $host->label, 'gateway' => (string) $gateway]),
            SettingChange::toHold($nic->record().'#gateway', $nic->setting('gateway'), (string) $gateway, $model->face),
        );
    }

    /** A new address, in the host's own segment: the planned one where that is free and right, else the next free one of its kind. */
    private static function move(NetworkModel $model, ?Host $host): ?Change
    {
        $segment = $model->segment($host->segment ?? '');
        $nic = self::nic($model, $host);
        if (null === $segment || null === $nic || null === $host) {
            return null;
        }
        $free = FreeAddress::on($model->plan, $segment, $nic);
        $planned = $nic->plannedAddress();
        $kind = $model->device($nic->device)->kind->code ?? '';
        $address = null !== $planned
            && $free->isFree($planned)
            && (string) $planned !== (string) $host->address ? $planned : $free->next($kind);
        // A full block is no reason to leave a device deaf: then any free address of the segment will do.
        $address ??= $free->next('');
        if (null === $address) {
            return null;
        }
        $edits = SettingChange::toHold($nic->record().'#address', $nic->setting('address'), (string) $address, $model->face);
        $mask = (string) $segment->network->mask;
        if ((string) $host->mask !== $mask) {
            $edits = [...$edits, ...SettingChange::toHold($nic->record().'#mask', $nic->setting('mask'), $mask, $model->face)];
        }

        return new Change(
            new Message('Give {host} the address {address}.', ['host' => $host->label, 'address' => (string) $address]),
            $edits,
        );
    }

    private static function moveDestination(NetworkModel $model, Walk $walk): ?Change
    {
        foreach ($model->plan->nics as $nic) {
            $host = $model->host('nics/'.$nic->key);
            if (
                null !== $host
                && null !== $walk->destination
                && true === $host->address?->equals($walk->destination)
                && !self::isAtHome($model, $host)
            ) {
                return self::move($model, $host);
            }
        }

        return null;
    }

    /** Two hold one address: the one that the plan wants elsewhere moves, else the one that came later in the roster. */
    private static function part(NetworkModel $model, Walk $walk): ?Change
    {
        if (null === $walk->destination) {
            return null;
        }
        $holders = [];
        foreach ($model->plan->devices as $device) {
            foreach ($model->hostsOf($device->key) as $host) {
                if (true === $host->address?->equals($walk->destination) && null !== self::nic($model, $host)) {
                    $holders[] = $host;
                }
            }
        }
        foreach ($holders as $host) {
            if (self::nic($model, $host)?->setting('address')->planned !== (string) $walk->destination || !self::isAtHome($model, $host)) {
                return self::move($model, $host);
            }
        }

        return self::move($model, [] === $holders ? null : $holders[array_key_last($holders)]);
    }

    private static function freeTheGateway(NetworkModel $model, ?Host $host): ?Change
    {
        $gateway = $host?->gatewayAddress;
        foreach (null === $gateway ? [] : $model->holders($host->segment, $gateway) as $holder) {
            if (!$holder->forwards) {
                return self::move($model, $holder);
            }
        }

        return null;
    }

    /** A static route at the router that knew no way, by the fewest routers. */
    private static function addRoute(NetworkModel $model, Walk $walk): ?Change
    {
        $router = $walk->router;
        $goal = null === $walk->destination ? null : self::portAround($model, $walk->destination);
        if (null === $router || null === $goal) {
            return null;
        }
        $via = self::nextHop($model, $router, $goal->router);
        if (null === $via) {
            return null;
        }
        $edits = [];
        foreach ($model->plan->routes as $route) {
            if ($route->router === $router && $route->destination->equals($goal->network)) {
                if ($route->via->equals($via->address)) {
                    return null;
                }
                $edits[] = Edit::put('routes', $route->key, 'via', (string) $route->via, (string) $via->address);
            }
        }
        if ([] === $edits) {
            $edits[] = Edit::add('routes', [
                'key' => $model->plan->freeKey('routes', $router.'-'.$goal->segment),
                'router' => $router,
                'destination' => (string) $goal->network,
                'via' => (string) $via->address,
            ]);
        }

        return new Change(new Message('Tell {router} the route to {network} by {via}.', [
            'router' => $model->device($router)->tag ?? $router,
            'network' => (string) $goal->network,
            'via' => (string) $via->address,
        ]), $edits);
    }

    private static function portAround(NetworkModel $model, Ipv4 $address): ?RouterPort
    {
        foreach ($model->plan->routerPorts as $port) {
            if ($port->network->contains($address)) {
                return $port;
            }
        }

        return null;
    }

    /** The port of the neighbour through which the goal is nearest: breadth first over routers that share a segment. */
    private static function nextHop(NetworkModel $model, string $from, string $goal): ?RouterPort
    {
        $first = [];
        $seen = [$from => true];
        $queue = [$from];
        while ([] !== $queue) {
            $here = array_shift($queue);
            foreach ($model->ports($here) as $port) {
                foreach ($model->plan->routerPorts as $neighbour) {
                    if (
                        isset($seen[$neighbour->router])
                        || $neighbour->segment !== $port->segment
                        || !$port->network->contains($neighbour->address)
                    ) {
                        continue;
                    }
                    $seen[$neighbour->router] = true;
                    $first[$neighbour->router] = $first[$here] ?? $neighbour;
                    if ($neighbour->router === $goal) {
                        return $first[$goal];
                    }
                    $queue[] = $neighbour->router;
                }
            }
        }

        return null;
    }

    /** A rule ahead of the one that denied. What the administrator is asked for is exactly this one pair and port. */
    private static function allow(NetworkModel $model, Walk $walk, ?Port $port, bool $answer): ?Change
    {
        $router = $model->device($walk->router);
        if (null === $router || null === $walk->fromSegment || null === $walk->toSegment) {
            return null;
        }
        if ($answer && !$router->stateful) {
            return new Change(
                new Message('Let {router} keep state, so that answers of a flow it let out come back.', ['router' => $router->tag]),
                [Edit::put('devices', $router->key, 'stateful', false, true)],
            );
        }
        $positions = array_map(
            static fn ($rule): int => $rule->position,
            array_filter($model->plan->filters, static fn ($rule): bool => $rule->router === $router->key),
        );
        // Positions are whole numbers from 1; a tie is broken by the key, and "+" would not be one: shift the others only where needed.
        $position = max(1, ([] === $positions ? 10 : min($positions)) - 1);
        $edits = [];
        if ([] !== $positions && min($positions) <= $position) {
            foreach ($model->plan->filters as $rule) {
                if ($rule->router === $router->key) {
                    $edits[] = Edit::put('filters', $rule->key, 'position', $rule->position, $rule->position + 10);
                }
            }
            $position = 10;
        }
        $edits[] = Edit::add('filters', [
            'key' => $model->plan->freeKey('filters', $router->key.'-'.$walk->fromSegment.'-'.$walk->toSegment),
            'router' => $router->key,
            'position' => $position,
            'from' => $walk->fromSegment,
            'to' => $walk->toSegment,
            'transport' => $port->transport->value ?? 'any',
            'portFirst' => $answer ? Walker::ASKING_PORT : $port?->number,
            'portLast' => $answer ? 65535 : $port?->number,
            'action' => 'allow',
            'note' => null,
        ]);

        return new Change(new Message('Ask for a rule at {router}: allow {port} from {from} to {to}.', [
            'router' => $router->tag,
            'port' => null === $port ? 'any' : (string) $port,
            'from' => $model->segmentName($walk->fromSegment),
            'to' => $model->segmentName($walk->toSegment),
        ]), $edits);
    }

    private static function isAtHome(NetworkModel $model, ?Host $host): bool
    {
        $segment = $model->segment($host->segment ?? '');

        return null !== $segment
            && null !== $host?->address
            && $segment->network->contains($host->address)
            && !$segment->network->isEdge($host->address);
    }

    private static function nic(NetworkModel $model, ?Host $host): ?Nic
    {
        return null !== $host && str_starts_with($host->ref, 'nics/') ? $model->plan->nics[substr($host->ref, 5)] ?? null : null;
    }

    /**
     * Several edits of one field become one, from the first before to the last after.
     *
     * @param list<Edit> $edits
     *
     * @return list<Edit>
     */
    private static function joined(array $edits): array
    {
        $joined = [];
        foreach ($edits as $edit) {
            $at = self::place($edit);
            $joined[$at] = isset($joined[$at])
                ? Edit::put($edit->section, $edit->key, $edit->field, $joined[$at]->before, $edit->after)
                : $edit;
        }

        return array_values(array_filter($joined, static fn (Edit $edit): bool => null !== $edit->row || $edit->before !== $edit->after));
    }

    /**
     * @param list<Edit> $edits
     *
     * @return list<Edit>
     */
    private static function needed(Plan $plan, Face $face, string $from, string $to, ?Port $port, array $edits): array
    {
        // The faces of one value go together: an edit of what was set, without that of the plan, would plant the next contradiction.
        $groups = [];
        foreach ($edits as $edit) {
            $groups[$edit->record()][] = $edit;
        }
        foreach (array_reverse(array_keys($groups)) as $record) {
            $fewer = $groups;
            unset($fewer[$record]);
            $without = $plan->with(new Change(new Message(''), array_merge(...array_values($fewer))));
            if ([] !== $fewer && Walker::between(NetworkModel::of($without, $face), $from, $to, $port)->holds()) {
                $groups = $fewer;
            }
        }

        return array_merge(...array_values($groups));
    }
}
