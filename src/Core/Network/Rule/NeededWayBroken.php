<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Bench\Rule\TypedOtherThanPlanned;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Reachability\Flow;
use Vorhut\Core\Network\Reachability\RequiredPaths;
use Vorhut\Core\Network\Walk\Cure;
use Vorhut\Core\Network\Walk\Fault;
use Vorhut\Core\Network\Walk\Hop;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Text\Message;

/** A required connection of the job (control, registration, media) fails in the packet walk. */
final class NeededWayBroken implements Rule
{
    /** A network where more is broken than this is not planned yet: the first of them are told. */
    private const PLACES = 24;
    /** So many ports of one place are fixed at once. */
    private const PORTS = 8;

    public function find(RuleContext $context): iterable
    {
        $model = NetworkAsSet::of($context);
        // Those that break at one place for one reason are one finding.
        /** @var array<string, non-empty-list<array{Flow, Port, Hop}>> $broken place and reason → ways */
        $broken = [];
        foreach (RequiredPaths::of($model, true) as [$flow, $port, $walk]) {
            $at = $walk->brokenHop();
            // A missing address or cable is a question, not a fault. Wireless settings that do not match are found by the must-match rules.
            // At the last port of a range only the path is checked, not the service.
            $unasked = [Fault::NoAddress, Fault::NotPlugged, Fault::NotAuthenticated];
            if ($port->number !== $flow->port->number) {
                $unasked[] = Fault::NotServed;
            }
            $isKnown = null === $at || \in_array($at->fault, $unasked, true) || self::isFoundElsewhere($context->plan, $flow, $at);
            if (!$isKnown && !$flow->passes($walk)) {
                $broken[self::place($walk, $at)][] = [$flow, $port, $at];
            }
        }
        if ([] === $broken) {
            return;
        }
        $named = self::namedByOthers($context);
        $told = [];
        foreach (\array_slice($broken, 0, self::PLACES, true) as $place => $ways) {
            $change = self::cure($model, $ways);
            $isNamed = static fn (string $record): bool => isset($named[$record]);
            if (null === $change || [] === array_filter(self::changedRecords($change), $isNamed)) {
                $finding = self::finding($context->plan, $place, $ways, $change);
                $told[(string) ($change->why ?? $place)] ??= $finding;
            }
        }
        yield from array_values($told);
    }

    /** Trunks, and whatever finds no way out of the site, have findings of their own. */
    private static function isFoundElsewhere(Plan $plan, Flow $flow, Hop $at): bool
    {
        foreach ($plan->trunks as $trunk) {
            if (null !== $trunk->address && true === $flow->outside?->equals($trunk->address)) {
                return true;
            }
        }

        return null !== $flow->outside && Fault::Filtered !== $at->fault;
    }

    private static function place(Walk $walk, Hop $at): string
    {
        $who = null === $walk->culprit ? $at->ref : $walk->culprit->ref;

        if (Fault::Filtered !== $at->fault) {
            return ($at->fault->value ?? '')." $who ";
        }
        // Two rules that deny are two findings.
        $rule = (string) ($at->text->with['rule'] ?? '');

        return $at->fault->value." $who $walk->fromSegment>$walk->toSegment".('' === $rule ? '' : ' '.$rule);
    }

    /** @return array<string, true> records with a finding from a more specific rule, closer to the actual mistake */
    private static function namedByOthers(RuleContext $context): array
    {
        $named = [];
        foreach ([
            new DuplicateAddress(),
            new GatewayLeftBlank(),
            new PortOffItsNetwork(),
            new RouterOffItsNetwork(),
            new SegmentContradictsItself(),
            new TypedOtherThanPlanned(),
        ] as $rule) {
            foreach ($rule->find($context) as $finding) {
                $named += array_fill_keys($finding->records, true);
            }
        }

        return $named;
    }

    /** @return list<string> the records that a change changes, those that it adds apart */
    private static function changedRecords(Change $change): array
    {
        $records = [];
        foreach ($change->edits as $edit) {
            $ref = 'settings' === $edit->section ? SettingRef::tryFromString($edit->key) : null;
            if (null === $edit->row) {
                $records[] = $ref?->record() ?? $edit->record();
            }
        }

        return array_values(array_unique($records));
    }

    /**
     * For each port that breaks there, one after the other.
     *
     * @param non-empty-list<array{Flow, Port, Hop}> $ways
     */
    private static function cure(NetworkModel $model, array $ways): ?Change
    {
        $cure = null;
        $byPort = [];
        foreach ($ways as [$flow, $port]) {
            $byPort[(string) $port] ??= [$flow, $port];
        }
        foreach (\array_slice($byPort, 0, self::PORTS) as [$flow, $port]) {
            $model = null === $cure ? $model : NetworkModel::of($model->plan->with($cure), $model->face);
            $next = Cure::within($model, $flow->from, $flow->to, $port);
            if (null === $next) {
                continue;
            }
            $cure = null === $cure ? $next : new Change(
                new Message('{first} {then}', ['first' => $cure->why, 'then' => $next->why]),
                [...$cure->edits, ...$next->edits],
            );
        }

        return $cure;
    }

    /** @param non-empty-list<array{Flow, Port, Hop}> $ways */
    private static function finding(Plan $plan, string $place, array $ways, ?Change $change): Finding
    {
        [$flow, $port, $hop] = $ways[0];
        $records = [];
        if (null !== $change) {
            foreach (self::changedRecords($change) as $record) {
                $records[$record] = true;
                $key = explode('/', $record, 2)[1];
                $owner = ($plan->nics[$key] ?? null)->device
                    ?? ($plan->routerPorts[$key] ?? null)->router
                    ?? ($plan->routes[$key] ?? null)?->router;
                if (null !== $owner) {
                    $records = ['devices/'.$owner => true] + $records;
                }
            }
        }
        if ([] === $records && str_starts_with($hop->ref, 'routerPorts/')) {
            $records['devices/'.($plan->routerPorts[substr($hop->ref, 12)]->router ?? '')] = true;
        }
        // The cause first, then the affected devices: it is listed in their details as well.
        foreach ([$flow->from, $flow->to] as $end) {
            if (isset($plan->devices[$end])) {
                $records['devices/'.$end] = true;
            }
        }
        $named = static fn (string $end): string => $plan->devices[$end]->tag ?? $plan->segments[substr($end, 9)]->name ?? $end;
        $at = [
            'from' => $named($flow->from),
            'to' => null !== $flow->outside && $flow->leaves() ? (string) $flow->outside : $named($flow->to),
            'port' => (string) $port,
            'n' => \count(array_unique(array_map(static fn (array $way): string => $way[0]->key(), $ways))),
            'hop' => $hop->text,
            'why' => $flow->why,
        ];

        return new Finding(
            'needed-way-broken',
            Severity::Blocks,
            Stage::Networks,
            array_map(strval(...), array_keys($records)),
            1 === $at['n']
                ? new Message('{from} does not reach {to} on {port}: {hop}', $at)
                : new Message('{from} does not reach {to} on {port}, one of {n} connections that fail there: {hop}', $at),
            new Message('{why}', $at),
            $change->why ?? (null === $flow->outside
                ? new Message('No single change fixes this. Check the packet walk, and ask the administrator.')
                : new Message('Add the missing filter rule: it is listed on the page Rules.')),
            $change,
            $place,
        );
    }
}
