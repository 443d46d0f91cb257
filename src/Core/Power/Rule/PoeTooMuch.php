<?php

declare(strict_types=1);

namespace Vorhut\Core\Power\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Power\PoeBudget;
use Vorhut\Core\Power\PoeLoad;
use Vorhut\Core\Text\Message;

/** A switch feeds more than it has, or a device hangs at the end of a cable that is too long to feed it; one port taken twice. */
final class PoeTooMuch implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach (PoeBudget::all($context->plan) as $budget) {
            foreach ($budget->loads as $load) {
                if (!$load->isFed()) {
                    yield $this->tooFar($budget->switch, $load);
                }
            }
            if ($budget->isOver() || $budget->eatsReserve()) {
                yield $this->tooMuch($budget);
            }
        }
        $taken = [];
        foreach ($context->plan->cables as $cable) {
            if ('' !== $cable->port) {
                $taken[$cable->switch.' '.strtolower($cable->port)][] = $cable;
            }
        }
        foreach ($taken as $cables) {
            if (\count($cables) > 1) {
                $at = [
                    'switch' => $context->plan->devices[$cables[0]->switch]->tag ?? '?',
                    'port' => $cables[0]->port,
                    'devices' => implode(', ', array_map(
                        static fn ($one): string => $context->plan->devices[$one->device]->tag ?? '?',
                        $cables,
                    )),
                ];
                yield new Finding(
                    'port-taken-twice',
                    Severity::Blocks,
                    Stage::Services,
                    ['devices/'.$cables[0]->switch, ...array_map(static fn ($one): string => 'cables/'.$one->key, $cables)],
                    new Message('Port {port} of {switch} is planned for {devices}.', $at),
                    new Message('One of them will be plugged somewhere else, with another VLAN and no record of it.'),
                    new Message('Give each a port of its own.'),
                );
            }
        }
    }

    private function tooFar(Device $switch, PoeLoad $load): Finding
    {
        $at = [
            'device' => $load->device->tag,
            'switch' => $switch->tag,
            'watts' => (string) $load->watts,
            'metres' => $load->metres,
            'longest' => $load->longest,
            'class' => $load->class->value,
        ];

        return new Finding(
            'poe-too-far',
            $load->assumed ? Severity::Risk : Severity::Blocks,
            Stage::Services,
            ['devices/'.$load->device->key, 'cables/'.$load->cable->key],
            $load->assumed
                ? new Message('{device} takes {watts} W; over {metres} m of cable (assumed), {switch} cannot power it.', $at)
                : new Message('{device} takes {watts} W, and over {metres} m {switch} cannot feed it.', $at),
            new Message('Power is lost in the cable. The device starts but fails under load.'),
            0 === $load->longest
                ? new Message(
                    'No cable is short enough for class {class}: feed it by an injector of a higher class, or by its own supply.',
                    $at,
                )
                : new Message('It could be fed up to {longest} m. Put a switch nearer, or an injector, or feed four pairs.', $at),
        );
    }

    private function tooMuch(PoeBudget $budget): Finding
    {
        $at = [
            'switch' => $budget->switch->tag,
            'sum' => number_format($budget->sum, 1, '.', ''),
            'has' => number_format($budget->has, 0, '.', ''),
            'by' => new Message($budget->by),
            'shed' => implode(', ', array_map(static fn (PoeLoad $load): string => $load->device->tag, $budget->shedFirst())),
            'reserve' => (int) round(100 * PoeBudget::RESERVE),
        ];

        return new Finding(
            'poe-over-budget',
            $budget->isOver() ? Severity::Blocks : Severity::Risk,
            Stage::Services,
            ['devices/'.$budget->switch->key],
            $budget->isOver()
                ? new Message('{switch} is to feed {sum} W by {by}, and has {has}: dark stay {shed}.', $at)
                : new Message('{switch} is to feed {sum} W by {by} of {has}: less than {reserve} % stays free.', $at),
            new Message('After a power cut, the last device to start does not power up, and that can be a different one each time.'),
            new Message('Move devices to another switch, feed some by injectors, or give by draw where the switch can.'),
        );
    }
}
