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
                    new Message('Port {port} of {switch} is planned for more than one device: {devices}.', $at),
                    new Message('One of them will be plugged into another port, possibly with another VLAN, without a record.'),
                    new Message('Plan a separate port for each.'),
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
                ? new Message('{device} draws {watts} W, which {switch} cannot supply over {metres} m of cable (assumed).', $at)
                : new Message('{device} draws {watts} W, which {switch} cannot supply over {metres} m of cable.', $at),
            new Message('The cable loses power, so the device starts but fails under load.'),
            0 === $load->longest
                ? new Message(
                    'No cable is short enough for class {class}: use an injector of a higher class, or the device\'s own power supply.',
                    $at,
                )
                : new Message('The limit is {longest} m. Use a switch that is nearer, an injector, or power over four pairs.', $at),
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
                ? new Message('{switch} needs {sum} W by {by}, but has {has}: {shed} will not power up.', $at)
                : new Message('{switch} needs {sum} W of {has} by {by}: less than {reserve} % headroom.', $at),
            new Message('After a power cut, the last device to start does not power up, and that can be a different one each time.'),
            new Message('Move devices to another switch, use injectors for some, or allocate by actual draw where the switch can.'),
        );
    }
}
