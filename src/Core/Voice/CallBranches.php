<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Plan\CallMenu;
use Vorhut\Core\Plan\CallRoute;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RingGroup;
use Vorhut\Core\Text\Message;

/**
 * Every place where a call can end, at any hour and whatever the called parties do: forwards (always, busy, unanswered) of every phone
 * that rings, fallbacks of groups and menus, every key of a menu, routes of every time frame and every trunk of a route.
 *
 * Switching says where a call goes at one moment; this says where it could go at all. In doubt a branch is included, so a call that
 * stays inside here stays inside.
 */
final class CallBranches
{
    /** @var array<string, CallBranch> by end and last number; the first found is kept */
    private array $branches = [];
    /** @var array<string, true> PBX, caller and digits that were followed already */
    private array $followed = [];

    private function __construct(private readonly Plan $plan, private readonly Numbering $numbering)
    {
    }

    /** Of a call that an extension makes. */
    public static function ofCall(Plan $plan, Extension $caller, string $digits): self
    {
        return self::ofForwarded($plan, (string) $caller->pbx, $digits, $caller);
    }

    /** Of a call that a forward, group, menu or inbound route leads to a number; by an extension, or null for a caller from outside. */
    public static function ofForwarded(Plan $plan, string $pbx, string $digits, ?Extension $by = null): self
    {
        $branches = new self($plan, Switching::of($plan)->numbering);
        $branches->follow($pbx, $by, $digits, [], []);

        return $branches;
    }

    /** @return list<CallBranch> */
    public function all(): array
    {
        return array_values($this->branches);
    }

    /** The branch that most forbids to make the call by a probe; null where all end at devices of the job. */
    public function worst(): ?CallBranch
    {
        foreach ([BranchEnd::Emergency, BranchEnd::Outside, BranchEnd::Provider, BranchEnd::Feature] as $end) {
            foreach ($this->branches as $branch) {
                if ($end === $branch->end) {
                    return $branch;
                }
            }
        }

        return null;
    }

    /** Why a person has to make the call; null where every branch ends at a device of the job. */
    public function reasonForHand(): ?Message
    {
        return $this->worst()?->reason();
    }

    public function reachesEmergency(): bool
    {
        return BranchEnd::Emergency === $this->worst()?->end;
    }

    /**
     * @param list<string> $passed  numbers before this one
     * @param list<string> $records that led here
     */
    private function follow(string $pbx, ?Extension $caller, string $digits, array $passed, array $records): void
    {
        $key = $pbx.' '.($caller->key ?? '').' '.$digits;
        if ('' === $digits || isset($this->followed[$key])) {
            return;
        }
        $this->followed[$key] = true;
        $numbers = [...$passed, $digits];
        if ($this->plan->emergencyNumbers()->isMeant($digits)) {
            $this->end(BranchEnd::Emergency, $numbers, $records);

            return;
        }
        if (true === ($this->plan->devices[$pbx] ?? null)?->kind->isHosted()) {
            $this->end(BranchEnd::Provider, $numbers, $records);

            return;
        }
        if (\in_array($digits, $this->plan->job->texts('featureCodes'), true)) {
            $this->end(BranchEnd::Feature, $numbers, $records);

            return;
        }
        $found = $this->numbering->at($pbx, $digits);
        match (true) {
            $found instanceof Extension => $this->extension($pbx, $found, $numbers, $records),
            $found instanceof RingGroup => $this->group($pbx, $caller, $found, $numbers, $records),
            $found instanceof CallMenu => $this->menu($pbx, $caller, $found, $numbers, $records),
            default => $this->routes($pbx, $caller, $digits, $numbers, $records),
        };
    }

    /**
     * @param non-empty-list<string> $numbers
     * @param list<string>           $records
     */
    private function extension(string $pbx, Extension $to, array $numbers, array $records): void
    {
        $records[] = 'extensions/'.$to->key;
        $this->end(BranchEnd::Inside, $numbers, $records);
        foreach ([$to->forwardAlways, $to->forwardBusy, $to->forwardUnanswered] as $next) {
            // A forwarded call goes on with the rights of the phone that forwards it.
            $this->follow($pbx, $to, $next, $numbers, $records);
        }
    }

    /**
     * @param non-empty-list<string> $numbers
     * @param list<string>           $records
     */
    private function group(string $pbx, ?Extension $caller, RingGroup $group, array $numbers, array $records): void
    {
        foreach ([...$group->members, $group->otherwise] as $next) {
            $this->follow($pbx, $caller, $next, $numbers, [...$records, 'ringGroups/'.$group->key]);
        }
    }

    /**
     * @param non-empty-list<string> $numbers
     * @param list<string>           $records
     */
    private function menu(string $pbx, ?Extension $caller, CallMenu $menu, array $numbers, array $records): void
    {
        $records[] = 'menus/'.$menu->key;
        $this->end(BranchEnd::Inside, $numbers, $records);
        foreach ([...array_values($menu->choices), $menu->otherwise] as $next) {
            $this->follow($pbx, $caller, $next, $numbers, $records);
        }
    }

    /**
     * @param non-empty-list<string> $numbers
     * @param list<string>           $records
     */
    private function routes(string $pbx, ?Extension $caller, string $digits, array $numbers, array $records): void
    {
        foreach ($this->plan->callRoutes as $route) {
            if ($route->pbx !== $pbx || 'full' !== $route->map->match($digits) || !Switching::mayUse($route, $caller)) {
                continue;
            }
            $this->trunks($route, $digits, $numbers, [...$records, 'callRoutes/'.$route->key]);
            if (null === $route->timeFrame) {
                // It is open at any hour: no call gets past it.
                return;
            }
        }
    }

    /**
     * @param non-empty-list<string> $numbers
     * @param list<string>           $records
     */
    private function trunks(CallRoute $route, string $digits, array $numbers, array $records): void
    {
        $sent = $route->digitsSent($digits);
        foreach ($route->trunks as $key) {
            $trunk = $this->plan->trunks[$key] ?? null;
            if (null === $trunk) {
                continue;
            }
            if ($this->plan->emergencyNumbers()->isMeant($sent)) {
                $this->end(BranchEnd::Emergency, [...$numbers, $sent], $records);
            } elseif (null === $trunk->far) {
                $this->end(BranchEnd::Outside, $numbers, $records);
            } elseif ($this->switches($trunk->far)) {
                $this->follow($trunk->far, null, $sent, $numbers, $records);
            } else {
                $this->end(BranchEnd::Inside, $numbers, $records);
            }
        }
    }

    /** Whether a device at the far end of a trunk sends calls on by rules of its own. */
    private function switches(string $device): bool
    {
        if (true === ($this->plan->devices[$device] ?? null)?->kind->isHosted() || [] !== $this->numbering->numbers($device)) {
            return true;
        }
        foreach ($this->plan->callRoutes as $route) {
            if ($route->pbx === $device) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param non-empty-list<string> $numbers
     * @param list<string>           $records
     */
    private function end(BranchEnd $end, array $numbers, array $records): void
    {
        $this->branches[$end->name.' '.$numbers[array_key_last($numbers)]] ??= new CallBranch($end, $numbers, $records);
    }
}
