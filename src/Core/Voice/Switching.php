<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Plan\CallMenu;
use Vorhut\Core\Plan\CallRoute;
use Vorhut\Core\Plan\EmergencyNumbers;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RingGroup;
use Vorhut\Core\Plan\Trunk;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Dialling\OutsideNumber;

/**
 * How the PBXs of a job switch calls: numbers, features, groups, menus, forwards, routes and trunks, in that order, by the rules of the
 * plan and the time on the site's clock. The network is considered elsewhere (Dial).
 */
final class Switching
{
    /** After so many times of being led on, a call is led in a circle. */
    private const LED_ON = 16;
    private const PERMISSIONS = ['inside' => 0, '' => 1, 'national' => 1, 'international' => 2];

    public readonly Numbering $numbering;
    /** @var array<string, list<CallRoute>> PBX → its routes, by position */
    private array $routes = [];
    /** @var list<string> */
    private readonly array $features;
    private readonly EmergencyNumbers $emergency;

    /** One per snapshot: it switches all its calls. */
    public static function of(Plan $plan): self
    {
        return $plan->derived->once(self::class, 'switching', static fn (): self => new self($plan));
    }

    private function __construct(private readonly Plan $plan)
    {
        $this->numbering = Numbering::of($plan);
        foreach ($plan->callRoutes as $route) {
            $this->routes[$route->pbx][] = $route;
        }
        $this->features = $plan->job->texts('featureCodes');
        $this->emergency = $plan->emergencyNumbers();
    }

    /** @param string $at wall time of the site, `2026-03-02 09:30`; empty where time frames are not to be looked at */
    public function dial(Extension $from, string $digits, string $at = ''): CallRouting
    {
        return $this->follow((string) $from->pbx, $from, $digits, $at, [], []);
    }

    /** Where a number of a PBX leads that a menu, a group or a forward names. */
    public function forwarded(string $pbx, string $digits, string $at = '', ?Extension $by = null): CallRouting
    {
        return $this->follow($pbx, $by, $digits, $at, [], []);
    }

    /** An inbound call on a trunk, with the called number as the far end sends it. */
    public function inbound(Trunk $trunk, string $number, string $at = ''): CallRouting
    {
        return $this->arriving($trunk, $number, $at, [], []);
    }

    /**
     * @param list<Decision>      $decisions
     * @param array<string, true> $seen      numbers that the call was led to already
     */
    private function arriving(Trunk $trunk, string $number, string $at, array $decisions, array $seen): CallRouting
    {
        $known = ['number' => $number, 'trunk' => $trunk->name];
        $taken = null;
        foreach ($this->plan->inboundRoutes as $route) {
            if ($route->trunk !== $trunk->key) {
                continue;
            }
            $record = 'inboundRoutes/'.$route->key;
            $here = $known + ['map' => (string) $route->map, 'frame' => $this->plan->timeFrames[$route->timeFrame ?? '']->name ?? ''];
            if ('full' !== $route->map->match($number)) {
                $decisions[] = new Decision(false, new Message('{number} is not {map}.', $here), $record);
            } elseif (!$this->isOpen($route->timeFrame, $at)) {
                $decisions[] = new Decision(false, new Message('{map} holds at {frame} only.', $here), $record);
            } elseif (null !== $taken) {
                $decisions[] = new Decision(
                    false,
                    new Message('{map} matches too, but comes later in the order.', $here),
                    $record,
                );
            } else {
                $taken = $route;
                $decisions[] = new Decision(
                    true,
                    new Message('{number} comes in by {trunk}: {map} leads it to {to}.', $here + ['to' => $route->to]),
                    $record,
                );
            }
        }
        if (null === $taken) {
            $decisions[] = new Decision(
                true,
                new Message('Nothing says where {number} by {trunk} goes: it is refused (404).', $known),
                'trunks/'.$trunk->key,
            );

            return new CallRouting(CallRoutingEnd::Unknown, $decisions);
        }

        return $this->follow($trunk->pbx, null, $taken->to, $at, $decisions, $seen);
    }

    /**
     * @param Extension|null      $caller    whose permissions and caller id count; null for a call from outside
     * @param list<Decision>      $decisions
     * @param array<string, true> $seen      numbers that the call was led to already
     */
    private function follow(string $pbx, ?Extension $caller, string $digits, string $at, array $decisions, array $seen): CallRouting
    {
        $known = ['digits' => $digits, 'pbx' => $this->plan->devices[$pbx]->tag ?? $pbx];
        if (isset($seen["$pbx $digits"]) || \count($seen) > self::LED_ON) {
            $decisions[] = new Decision(
                true,
                new Message('The call comes to {digits} for the second time: it is led in a circle.', $known),
            );

            return new CallRouting(CallRoutingEnd::Loop, $decisions);
        }
        $seen["$pbx $digits"] = true;
        if ($this->emergency->isMeant($digits)) {
            return $this->outside($pbx, $caller, $digits, $at, $decisions, $seen);
        }
        if (\in_array($digits, $this->features, true)) {
            $decisions[] = new Decision(true, new Message('{digits} is a feature code of the PBX.', $known));

            return new CallRouting(CallRoutingEnd::Feature, $decisions);
        }
        $found = $this->numbering->at($pbx, $digits);

        return match (true) {
            $found instanceof Extension => $this->extension($pbx, $caller, $found, $at, $decisions, $seen),
            $found instanceof RingGroup => $this->group($pbx, $caller, $found, $at, $decisions, $seen),
            $found instanceof CallMenu => new CallRouting(CallRoutingEnd::Menu, [...$decisions, new Decision(
                true,
                new Message('{digits} is the menu {name}: it says what to press.', $known + ['name' => $found->name]),
                'menus/'.$found->key,
            )], menu: $found),
            default => $this->outside($pbx, $caller, $digits, $at, $decisions, $seen),
        };
    }

    /**
     * @param list<Decision>      $decisions
     * @param array<string, true> $seen
     */
    private function extension(string $pbx, ?Extension $caller, Extension $to, string $at, array $decisions, array $seen): CallRouting
    {
        $known = ['digits' => $to->number, 'name' => $to->name, 'to' => $to->forwardAlways];
        if ('' !== $to->forwardAlways) {
            $decisions[] = new Decision(true, new Message('{digits} is led on to {to}, always.', $known), 'extensions/'.$to->key);

            // Forwarded by the called party, and at that party's cost.
            return $this->follow($pbx, $to, $to->forwardAlways, $at, $decisions, $seen);
        }
        $decisions[] = new Decision(true, '' === $to->name
            ? new Message('{digits} is a number of this PBX.', $known)
            : new Message('{digits} is {name}.', $known), 'extensions/'.$to->key);

        return new CallRouting('fax' === $to->terminal ? CallRoutingEnd::Fax : CallRoutingEnd::Extension, $decisions, [$to]);
    }

    /**
     * @param list<Decision>      $decisions
     * @param array<string, true> $seen
     */
    private function group(string $pbx, ?Extension $caller, RingGroup $group, string $at, array $decisions, array $seen): CallRouting
    {
        $known = ['digits' => $group->number, 'name' => $group->name, 'n' => $group->seconds, 'to' => $group->otherwise];
        $ring = [];
        foreach ($group->members as $number) {
            $member = $this->numbering->at($pbx, $number);
            if ($member instanceof Extension) {
                $ring[] = $member;
            } else {
                $decisions[] = new Decision(
                    false,
                    new Message('{name} lists {number}, and no phone has that number.', $known + ['number' => $number]),
                    'ringGroups/'.$group->key,
                );
            }
        }
        if ([] === $ring) {
            $decisions[] = new Decision(true, new Message('The group {name} has no members to ring.', $known), 'ringGroups/'.$group->key);

            return '' === $group->otherwise
                ? new CallRouting(CallRoutingEnd::Unknown, $decisions, group: $group)
                : $this->follow($pbx, $caller, $group->otherwise, $at, $decisions, $seen);
        }
        $decisions[] = new Decision(true, 'in-turn' === $group->order
            ? new Message('{digits} is the group {name}: its members ring one after the other, {n} s each.', $known)
            : new Message('{digits} is the group {name}: its members ring together, for {n} s.', $known), 'ringGroups/'.$group->key);

        return new CallRouting(CallRoutingEnd::Group, $decisions, $ring, $group);
    }

    /**
     * @param list<Decision>      $decisions
     * @param array<string, true> $seen
     */
    private function outside(string $pbx, ?Extension $caller, string $digits, string $at, array $decisions, array $seen): CallRouting
    {
        $emergency = $this->emergency->match($digits);
        if (true === ($this->plan->devices[$pbx] ?? null)?->kind->isHosted()) {
            $decisions[] = new Decision(true, new Message('{digits} is handed to {pbx}, by whose rules it goes on.', [
                'digits' => $digits,
                'pbx' => $this->plan->devices[$pbx]->tag,
            ]), 'devices/'.$pbx);

            return new CallRouting(CallRoutingEnd::Provider, $decisions, emergency: $emergency);
        }
        $taken = null;
        $waits = $denied = false;
        foreach ($this->routes[$pbx] ?? [] as $route) {
            [$why, $partly] = $this->whyNot($route, $caller, $digits, $at, $emergency);
            $record = 'callRoutes/'.$route->key;
            $known = ['name' => $route->name, 'map' => (string) $route->map, 'digits' => $digits];
            if (null !== $why) {
                $waits = $waits || $partly;
                $denied = $denied || 'full' === $route->map->match($digits);
                $decisions[] = new Decision(false, $why, $record);
            } elseif (null !== $taken) {
                $decisions[] = new Decision(
                    false,
                    new Message('{name}: {map} matches too, but comes after {taken}.', $known + ['taken' => $taken->name]),
                    $record,
                );
            } else {
                $taken = $route;
                $decisions[] = new Decision(true, new Message('{name}: {map} takes {digits}.', $known), $record);
            }
        }
        if (null === $taken) {
            return $this->nowhere($pbx, $digits, $decisions, $emergency, $waits, $denied);
        }
        $sent = $taken->digitsSent($digits);
        $trunk = $this->plan->trunks[$this->takers($taken, $emergency)[0] ?? ''] ?? null;
        $callerId = '' !== ($caller->callerId ?? '') ? (string) $caller?->callerId : ($trunk->callerId ?? '');
        $known = ['digits' => $digits, 'sent' => $sent, 'trunk' => $trunk->name ?? '?', 'id' => $callerId];
        $more = $taken->map->goesOn($digits) || $this->numbering->goesOn($pbx, $digits);
        if ($more && $taken->map->waitsForTimer($digits)) {
            $decisions[] = new Decision(true, new Message('More digits could follow: the timer decides, or #.', $known));
        }
        $decisions[] = new Decision(true, '' === $callerId
            ? new Message('{sent} goes out by {trunk}, without a caller id.', $known)
            : new Message('{sent} goes out by {trunk}, with the caller id {id}.', $known), 'callRoutes/'.$taken->key);
        $back = null === $trunk || null !== $emergency ? null : $this->comesBack($trunk, $sent);
        if (null !== $back) {
            $decisions[] = new Decision(true, new Message('{sent} is a number of this very site: it comes in again.', $known));

            return $this->arriving($back[0], $back[1], $at, $decisions, $seen)->cameIn();
        }

        return new CallRouting(CallRoutingEnd::Outside, $decisions, route: $taken, sent: $sent, callerId: $callerId, emergency: $emergency);
    }

    /**
     * Why a route does not take a call, and whether it would take longer digits.
     *
     * @return array{Message|null, bool}
     */
    private function whyNot(CallRoute $route, ?Extension $caller, string $digits, string $at, ?string $emergency): array
    {
        $known = [
            'name' => $route->name,
            'map' => (string) $route->map,
            'digits' => $digits,
            'from' => $caller->number ?? '',
            'frame' => $this->plan->timeFrames[$route->timeFrame ?? '']->name ?? '',
            'needs' => new Message($route->needs),
        ];
        $match = $route->map->match($digits);
        if ('full' !== $match) {
            return ['partial' === $match
                ? new Message('{name}: {map} wants more digits than {digits}.', $known)
                : new Message('{name}: {map} does not take {digits}.', $known), 'partial' === $match];
        }
        if (!$this->isOpen($route->timeFrame, $at)) {
            return [new Message('{name} holds at {frame} only.', $known), false];
        }
        if (!self::isForCaller($route, $caller)) {
            return [new Message('{name} is not for {from}.', $known), false];
        }
        if (null !== $emergency) {
            return [
                [] === $this->takers($route, $emergency) ? new Message('{name}: none of its trunks takes emergency calls.', $known) : null,
                false,
            ];
        }
        if (self::isPermitted($route, $caller)) {
            return [null, false];
        }

        return ['inside' === $caller?->permission
            ? new Message('{name}: {from} may call inside only.', $known)
            : new Message('{name}: {from} may not call {needs}.', $known), false];
    }

    /** Whether a route is for a caller at all, whatever was dialled and at whatever hour; a caller from outside may use each. */
    public static function mayUse(CallRoute $route, ?Extension $caller): bool
    {
        return self::isForCaller($route, $caller) && self::isPermitted($route, $caller);
    }

    private static function isForCaller(CallRoute $route, ?Extension $caller): bool
    {
        return null === $route->callers || null === $caller || 'full' === $route->callers->match($caller->number);
    }

    private static function isPermitted(CallRoute $route, ?Extension $caller): bool
    {
        $permission = self::PERMISSIONS[$caller->permission ?? 'international'] ?? 2;

        return $permission >= (self::PERMISSIONS[$route->needs] ?? 1);
    }

    /** @param list<Decision> $decisions */
    private function nowhere(string $pbx, string $digits, array $decisions, ?string $emergency, bool $waits, bool $denied): CallRouting
    {
        $known = ['digits' => $digits];
        if ($denied) {
            $decisions[] = new Decision(true, new Message('No route takes {digits} from here: it is refused (403).', $known));

            return new CallRouting(CallRoutingEnd::Denied, $decisions, emergency: $emergency);
        }
        if (null === $emergency && ($waits || $this->numbering->goesOn($pbx, $digits))) {
            $decisions[] = new Decision(
                true,
                new Message('{digits} is not a whole number yet: after the timer it is refused (484).', $known),
            );

            return new CallRouting(CallRoutingEnd::Incomplete, $decisions);
        }
        $outside = $this->plan->job->text('outsideDigit');
        $decisions[] = new Decision(true, [] === $this->plan->trunks && '' !== $outside && str_starts_with($digits, $outside)
            ? new Message('{digits} goes outside, and this job has no trunk yet.', $known)
            : new Message('{digits} is not known to this PBX (404).', $known));

        return new CallRouting(CallRoutingEnd::Unknown, $decisions, emergency: $emergency);
    }

    /** @return list<string> the trunks of a route that take such a call */
    private function takers(CallRoute $route, ?string $emergency): array
    {
        return array_values(array_filter(
            $route->trunks,
            fn (string $key): bool => isset($this->plan->trunks[$key]) && (null === $emergency || $this->plan->trunks[$key]->emergency),
        ));
    }

    private function isOpen(?string $frame, string $at): bool
    {
        $when = $this->plan->timeFrames[$frame ?? '']->when ?? null;

        return null === $when || '' === $at || $when->holds($at);
    }

    /**
     * Whether a number that is sent outside is one that comes in again by a trunk of the job, in whatever notation.
     *
     * @return array{Trunk, string}|null the trunk, and the number as it arrives by it
     */
    private function comesBack(Trunk $by, string $sent): ?array
    {
        // A line of its own leads to another device of the job.
        if (null !== $by->far) {
            return null;
        }
        $outside = OutsideNumber::tryFromString($sent, $this->plan->job->text('country'))
            ?? (str_starts_with($sent, '00') ? OutsideNumber::tryFromString('+'.substr($sent, 2)) : null);
        if (null !== $outside) {
            foreach ([substr((string) $outside, 1), $outside->national(), $sent] as $number) {
                foreach ($this->plan->inboundRoutes as $route) {
                    $trunk = $this->plan->trunks[$route->trunk] ?? null;
                    // What takes any number says nothing about whose it is.
                    if (null === $trunk || null !== $trunk->far || 'full' === $route->map->match('1')) {
                        continue;
                    }
                    if ('full' === $route->map->match($number)) {
                        return [$trunk, $number];
                    }
                }
            }
        }

        return null;
    }
}
