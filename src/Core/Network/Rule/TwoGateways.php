<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Text\Message;

/** A host with several ports has a gateway on more than one of them. */
final class TwoGateways implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            $with = array_values(array_filter(
                $device->activeNics(),
                static fn (Nic $nic): bool => !\in_array($nic->setting('gateway')->effective(Face::Set), [null, ''], true),
            ));
            if (\count($with) < 2) {
                continue;
            }
            $edits = [];
            foreach (\array_slice($with, 1) as $nic) {
                $edits = [...$edits, ...SettingChange::toHold($nic->record().'#gateway', $nic->setting('gateway'), '', Face::Set)];
            }
            $names = array_map(static fn (Nic $nic): string => $nic->name, $with);
            $at = [
                'tag' => $device->tag,
                'ports' => implode(', ', $names),
                'first' => $names[0],
                'rest' => implode(', ', \array_slice($names, 1)),
            ];
            yield new Finding(
                'two-gateways',
                Severity::Blocks,
                Stage::Networks,
                [$device->record(), ...array_map(static fn (Nic $nic): string => $nic->record(), $with)],
                new Message('{tag} has gateways on {ports}, but a host uses only one.', $at),
                new Message('After a restart it may use the other one, and its replies leave by the wrong port.'),
                new Message('Leave the gateway of {rest} blank on {tag}, and keep that of {first}.', $at),
                new Change(new Message('{tag}: gateway of {rest} set to blank.', $at), $edits),
            );
        }
    }
}
