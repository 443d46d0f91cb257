<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/**
 * The change that makes a broken walk hold, or null where none can be computed (a service that is not there, a router that is missing).
 *
 * Searches first for a single mistake at one place, the likeliest first, whose fix makes the walk succeed and breaks no other. If there is
 * none, it fixes hop after hop and drops the fixes that were not needed. Every proposed fix was tried on a copy of the plan.
 */
final class Cure
{
    private const STONES_AT_MOST = 12;
    private const ALTERNATIVES = 4;

    public static function of(Plan $plan, Face $face, string $from, string $to, ?Port $port): ?Change
    {
        return self::within(NetworkModel::of($plan, $face), $from, $to, $port);
    }

    /** The same for a network that is built already, from the values set. */
    public static function within(NetworkModel $model, string $from, string $to, ?Port $port): ?Change
    {
        return self::among($model, $from, $to, $port, 1)[0] ?? null;
    }

    /**
     * The likeliest fix and the alternatives, each by itself: the person at the device knows which one it was.
     *
     * @return list<Change> none where nothing can be computed, or where the walk holds
     */
    public static function some(Plan $plan, Face $face, string $from, string $to, ?Port $port, int $most = self::ALTERNATIVES): array
    {
        return self::among(NetworkModel::of($plan, $face), $from, $to, $port, $most);
    }

    /** @return list<Change> */
    private static function among(NetworkModel $model, string $from, string $to, ?Port $port, int $most): array
    {
        [$plan, $face] = [$model->plan, $model->face];
        $walk = Walker::between($model, $from, $to, $port);
        if ($walk->holds()) {
            return [];
        }
        $harmful = null;
        $found = [];
        foreach (FixCandidates::of($model, $walk, $from, $to) as $remedy) {
            $after = $model->mendedBy($remedy);
            if (!Walker::between($after, $from, $to, $port)->holds()) {
                continue;
            }
            if ([] !== AffectedPaths::brokenBy($model, $after, $remedy)) {
                $harmful ??= $remedy->change;
                continue;
            }
            $found[(string) $remedy->change->why] ??= $remedy->change;
            if (\count($found) >= $most) {
                break;
            }
        }
        if ([] === $found) {
            $only = self::stoneByStone($model, $from, $to, $port) ?? $harmful;

            return null === $only ? [] : [$only];
        }

        return array_values($found);
    }

    private static function stoneByStone(NetworkModel $model, string $from, string $to, ?Port $port): ?Change
    {
        [$plan, $face] = [$model->plan, $model->face];
        $edits = [];
        $remedies = [];
        $fixed = $plan;
        for ($hop = 0; $hop < self::STONES_AT_MOST; ++$hop) {
            $model = 0 === $hop ? $model : NetworkModel::of($fixed, $face);
            $walk = Walker::between($model, $from, $to, $port);
            if ($walk->holds()) {
                break;
            }
            $further = $sideways = null;
            foreach (FixCandidates::of($model, $walk, $from, $to) as $remedy) {
                $next = Walker::between($model->mendedBy($remedy), $from, $to, $port);
                if ($next->holds() || \count($next->hops) > \count($walk->hops)) {
                    $further = $remedy->change;
                    break;
                }
                // At the same hop, and yet another fault: the first is fixed.
                $isOther = \count($next->hops) === \count($walk->hops) && $next->brokenHop()?->fault !== $walk->brokenHop()?->fault;
                $sideways ??= $isOther ? $remedy->change : null;
            }
            $further ??= $sideways;
            if (null === $further) {
                return null;
            }
            $remedies[] = $further;
            $edits = [...$edits, ...$further->edits];
            $fixed = $fixed->with($further);
        }
        $model = $fixed === $model->plan ? $model : NetworkModel::of($fixed, $face);
        if ([] === $remedies || !Walker::between($model, $from, $to, $port)->holds()) {
            return null;
        }
        $needed = self::onlyNeeded($plan, $face, $from, $to, $port, self::mergeEdits($edits));

        return new Change(self::summary($remedies, $needed), $needed);
    }

    /**
     * The messages of the remedies whose edits are left, each once, in the order of the path: the text describes exactly the edits.
     *
     * @param non-empty-list<Change> $remedies
     * @param list<Edit>             $needed
     */
    private static function summary(array $remedies, array $needed): Message
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

        return $why ?? throw new \LogicException('A fix without a change.');
    }

    private static function place(Edit $edit): string
    {
        return $edit->kind->value.' '.$edit->record().' '.$edit->field;
    }

    /**
     * Several edits of one field become one, from the first before to the last after.
     *
     * @param list<Edit> $edits
     *
     * @return list<Edit>
     */
    private static function mergeEdits(array $edits): array
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
    private static function onlyNeeded(Plan $plan, Face $face, string $from, string $to, ?Port $port, array $edits): array
    {
        // The faces of one value change together: editing the value set, without the plan, would create the next contradiction.
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
