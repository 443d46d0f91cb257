<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Network\Reachability\RequiredFlows;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** A filter rule opens the admin pages of devices to a segment that does not manage them. */
final class AdminPageOpened implements Rule
{
    private const SERVICE = 'admin';
    /** Devices that are named. */
    private const NAMED = 4;

    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        $flows = null;
        foreach ($plan->filters as $rule) {
            $opened = $this->openedBy($plan, $rule);
            if ([] === $opened) {
                continue;
            }
            $flows ??= self::flows($plan);
            $needed = self::neededFlows($flows[$rule->from] ?? [], $rule);
            $opened = array_filter($opened, static fn (Device $one): bool => !isset($needed[$one->key]['admin']));
            if ([] !== $opened) {
                yield $this->finding($plan, $rule, array_values($opened), array_keys($needed));
            }
        }
    }

    /** @return list<Device> whose admin page the rule lets another segment reach, by naming its port */
    private function openedBy(Plan $plan, FilterRule $rule): array
    {
        if (!$rule->allows || null === $rule->from || null === $rule->portFirst || Transport::Udp === $rule->transport) {
            return [];
        }
        $opened = [];
        foreach (null === $rule->to ? array_keys($plan->segments) : [$rule->to] as $segment) {
            if ($segment !== $rule->from) {
                foreach ($plan->nicsOn((string) $segment) as $nic) {
                    $device = $plan->devices[$nic->device] ?? null;
                    if (null !== $device && self::opens($rule, $device)) {
                        $opened[$device->key] = $device;
                    }
                }
            }
        }

        return array_values($opened);
    }

    private static function opens(FilterRule $rule, Device $device): bool
    {
        $address = $device->nic()?->plannedAddress();
        $port = $device->serviceNamed(self::SERVICE)?->port;
        if (null === $port || null === $address || $device->controlledFrom === $rule->from) {
            return false;
        }

        return $rule->reaches($address, $port);
    }

    /** @return array<string, list<array{Device, Port}>> segment → targets that a device there needs to reach */
    private static function flows(Plan $plan): array
    {
        $flows = [];
        foreach (RequiredFlows::of($plan) as $flow) {
            $to = $plan->devices[$flow->to] ?? null;
            $from = $plan->devices[$flow->from] ?? null;
            if (null !== $to) {
                $flows[null === $from ? (string) OutpostKey::segment($flow->from) : $from->nic()->segment ?? ''][] = [$to, $flow->port];
            }
        }

        return $flows;
    }

    /**
     * What of all that is needed from a segment the rule lets through.
     *
     * @param list<array{Device, Port}> $flows
     *
     * @return array<string, array<string, true>> device → `admin` where its admin page is needed, else nothing
     */
    private static function neededFlows(array $flows, FilterRule $rule): array
    {
        $needed = [];
        foreach ($flows as [$device, $port]) {
            $address = $device->nic()?->plannedAddress();
            if (null === $address || (null !== $rule->to && $device->nic()->segment !== $rule->to) || !$rule->reaches($address, $port)) {
                continue;
            }
            $needed[$device->key] ??= [];
            if (true === $device->serviceNamed(self::SERVICE)?->port->equals($port)) {
                $needed[$device->key]['admin'] = true;
            }
        }

        return $needed;
    }

    /**
     * @param non-empty-list<Device> $opened
     * @param list<string>           $needed devices that the rule is there for
     */
    private function finding(Plan $plan, FilterRule $rule, array $opened, array $needed): Finding
    {
        $tags = array_map(static fn (Device $one): string => $one->tag, $opened);
        $at = [
            'n' => $rule->position,
            'router' => $plan->devices[$rule->router]->tag ?? $rule->router,
            'from' => $plan->segments[$rule->from ?? '']->name ?? '',
            'tags' => implode(', ', \array_slice($tags, 0, self::NAMED)).(\count($tags) > self::NAMED ? ', …' : ''),
        ];

        return new Finding(
            'admin-page-opened',
            Severity::Risk,
            Stage::Networks,
            ['filters/'.$rule->key, 'devices/'.$rule->router, ...array_map(static fn (Device $one): string => $one->record(), $opened)],
            new Message('Rule {n} of {router} lets {from} reach the admin pages of {tags}, which it does not manage.', $at),
            new Message('Anyone in {from} can try passwords there.', $at),
            [] === $needed
                ? new Message('Remove rule {n} of {router}, which nothing needs.', $at)
                : new Message('Limit rule {n} of {router} to {addresses}.', $at + [
                    'addresses' => implode(', ', self::addresses($plan, $needed)),
                ]),
            $this->fix($plan, $rule, $needed, $at),
            $rule->key,
        );
    }

    /**
     * @param list<string>              $needed
     * @param array<string, string|int> $at
     */
    private function fix(Plan $plan, FilterRule $rule, array $needed, array $at): Change
    {
        $row = $plan->row('filters', $rule->key) ?? [];
        if ([] === $needed) {
            return new Change(new Message('Rule {n} of {router} removed.', $at), [Edit::remove('filters', $row)]);
        }
        $addresses = self::addresses($plan, $needed);

        return new Change(
            new Message('Rule {n} of {router} limited to {addresses}.', $at + ['addresses' => implode(', ', $addresses)]),
            [Edit::put('filters', $rule->key, 'toAddresses', $row['toAddresses'] ?? null, $addresses)],
        );
    }

    /**
     * @param list<string> $devices
     *
     * @return list<string>
     */
    private static function addresses(Plan $plan, array $devices): array
    {
        $addresses = array_map(static fn (string $key): string => (string) $plan->devices[$key]->nic()?->plannedAddress(), $devices);
        sort($addresses, \SORT_NATURAL);

        return array_values(array_unique($addresses));
    }
}
