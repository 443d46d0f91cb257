<?php

declare(strict_types=1);

namespace Vorhut\Core\Lighting\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Lighting\Fixture;
use Vorhut\Core\Lighting\Patch;
use Vorhut\Core\Lighting\UniversePatch;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/**
 * Two fixtures use the same slots, one exceeds the universe, two senders compete for a universe, or a universe has no sender or no output.
 */
final class LightMispatched implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $any = false;
        foreach ($context->plan->devices as $device) {
            $any = $any || null !== $device->kind->setting('startAddress') || null !== $device->kind->setting('universesSent');
        }
        if ($any) {
            foreach (Patch::of($context->plan)->universes as $universe) {
                foreach ($universe->overlaps() as [$first, $second]) {
                    yield $this->overlap($universe, $first, $second);
                }
                foreach ($universe->pastTheEnd() as $fixture) {
                    yield $this->pastTheEnd($universe, $fixture);
                }
                if ([] !== $universe->fighting()) {
                    yield $this->fight($universe);
                }
                yield from $this->lonely($universe);
            }
        }
    }

    private function overlap(UniversePatch $universe, Fixture $first, Fixture $second): Finding
    {
        $at = $this->at($universe, $second) + [
            'other' => $first->device->tag,
            'from' => $second->start,
            'to' => min($first->end, $second->end),
        ];

        return new Finding(
            'patch-overlap',
            Severity::Blocks,
            Stage::Services,
            ['devices/'.$first->device->key, 'devices/'.$second->device->key],
            new Message('{other} and {fixture} both use slots {from} to {to} of universe {universe}.', $at),
            new Message('The faders of these slots control both fixtures.'),
            new Message('Give one of them another start address, in its menu and on the lighting console.'),
            $this->moveToFreeSlots($universe, $second),
            button: $this->moveButton($universe, $second),
        );
    }

    private function pastTheEnd(UniversePatch $universe, Fixture $fixture): Finding
    {
        return new Finding(
            'patch-past-the-end',
            Severity::Blocks,
            Stage::Services,
            ['devices/'.$fixture->device->key],
            new Message(
                '{fixture} uses slots {start} to {end} of universe {universe}, but a universe ends at 512.',
                $this->at($universe, $fixture),
            ),
            new Message('Its last channels get no data.'),
            new Message('Use a lower start address, or put {fixture} in the next universe.', $this->at($universe, $fixture)),
            $this->moveToFreeSlots($universe, $fixture),
            button: $this->moveButton($universe, $fixture),
        );
    }

    private function fight(UniversePatch $universe): Finding
    {
        $fighting = $universe->fighting();
        $at = [
            'universe' => $universe->universe->number,
            'senders' => implode(', ', array_map(static fn (array $one): string => $one[0]->tag, $fighting)),
            'priority' => $fighting[0][1],
        ];

        return new Finding(
            'senders-fight',
            Severity::Risk,
            Stage::Services,
            array_map(static fn (array $one): string => 'devices/'.$one[0]->key, $fighting),
            new Message('{senders} send universe {universe} with the same priority {priority}.', $at),
            new Message('Each receiver chooses a sender. Light flickers between two scenes, or the brighter one wins.'),
            new Message('Give them different priorities, the console a higher one than automatic senders.'),
        );
    }

    /** @return iterable<Finding> */
    private function lonely(UniversePatch $universe): iterable
    {
        if ([] === $universe->fixtures) {
            return;
        }
        $devices = array_map(static fn (Fixture $one): string => 'devices/'.$one->device->key, $universe->fixtures);
        $at = ['universe' => $universe->universe->number, 'n' => \count($devices), 'first' => $universe->fixtures[0]->device->tag];
        if ([] === $universe->senders) {
            yield new Finding(
                'universe-without-sender',
                Severity::Risk,
                Stage::Services,
                $devices,
                new Message('Universe {universe} of {first} has no sender ([n fixture|fixtures]).', $at),
                new Message('These fixtures stay dark.'),
                new Message('Have a console or a scene store send this universe, or move the fixtures to a universe that is sent.'),
            );
        }
        if ([] === $universe->receivers) {
            yield new Finding(
                'universe-without-node',
                Severity::Risk,
                Stage::Services,
                $devices,
                new Message('No node outputs universe {universe} of {first} ([n fixture|fixtures]).', $at),
                new Message('The universe is on the network, but no DMX cable carries it to the fixtures.'),
                new Message('Assign this universe to a port of a node.'),
            );
        }
    }

    private function moveButton(UniversePatch $universe, Fixture $fixture): Message
    {
        return new Message('Set the start address of {fixture} to {to}.', [
            'fixture' => $fixture->device->tag,
            'to' => $universe->free($fixture->footprint) ?? 0,
        ]);
    }

    /** To where there is room; a start address is typed at the fixture, so only the plan changes. */
    private function moveToFreeSlots(UniversePatch $universe, Fixture $fixture): ?Change
    {
        $to = $universe->free($fixture->footprint);
        $planned = $fixture->device->setting('startAddress')->planned;
        if (null === $to || $planned !== $fixture->device->setting('startAddress')->effective(Face::Set)) {
            return null;
        }

        return new Change(
            new Message('Start address of {fixture} set to {to}.', ['fixture' => $fixture->device->tag, 'to' => $to]),
            [Edit::setting($fixture->device->record().'#startAddress', Face::Planned, $planned, (string) $to)],
        );
    }

    /** @return array<string, string|int> */
    private function at(UniversePatch $universe, Fixture $fixture): array
    {
        return [
            'fixture' => $fixture->device->tag,
            'universe' => $universe->universe->number,
            'start' => $fixture->start,
            'end' => $fixture->end,
        ];
    }
}
