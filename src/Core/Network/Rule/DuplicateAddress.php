<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** Two devices are to hold, or hold, one address. */
final class DuplicateAddress implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ([Face::Planned, Face::Set] as $face) {
            $pairs = [];
            foreach ($context->nics() as [$device, $nic]) {
                if (!$device->kind->has(Role::Workstation)) {
                    $pairs[] = [$nic->setting('address')->effective($face) ?? '', [$device, $nic]];
                }
            }
            foreach ($context->plan->routerPorts as $port) {
                $router = $context->plan->devices[$port->router] ?? null;
                if (null !== $router) {
                    $pairs[] = [(string) $port->address, [$router, null]];
                }
            }
            foreach (RuleContext::duplicates($pairs) as $address => $holders) {
                $tags = array_map(static fn (array $holder): string => $holder[0]->tag, $holders);
                // The one whose plan says otherwise moves back; else the last of the roster.
                $planned = array_values(array_filter(
                    $holders,
                    static fn (array $holder): bool => null !== $holder[1] && $holder[1]->setting('address')->planned !== (string) $address,
                ));
                if (Face::Set === $face && [] !== $planned) {
                    continue; // typed other than planned: that rule has the cure
                }
                $last = $holders[\count($holders) - 1];
                $segment = $context->plan->segments[$last[1]->segment ?? ''] ?? null;
                $free = null === $segment
                    || null === $last[1] ? null : FreeAddress::on($context->plan, $segment)->next($last[0]->kind->code);
                $at = ['tags' => implode(', ', $tags), 'address' => (string) $address, 'tag' => $last[0]->tag, 'free' => (string) $free];
                yield new Finding(
                    'duplicate-address',
                    Severity::Blocks,
                    Stage::Devices,
                    array_values(array_unique(array_map(static fn (array $holder): string => 'devices/'.$holder[0]->key, $holders))),
                    new Message('{tags} have the same address, {address}.', $at),
                    new Message('Connections to both drop, and you cannot tell which device answers.'),
                    new Message(null === $free ? 'Give {tag} another address.' : 'Change the address of {tag} to {free}.', $at),
                    null === $free
                        || $last[1]->isApplied()
                            ? null
                            : new Change(new Message('Address of {tag} set to {free}.', $at), [
                                Edit::setting(
                                    $last[1]->record().'#address',
                                    Face::Planned,
                                    $last[1]->setting('address')->own(Face::Planned),
                                    (string) $free,
                                ),
                            ]),
                );
            }
        }
    }
}
