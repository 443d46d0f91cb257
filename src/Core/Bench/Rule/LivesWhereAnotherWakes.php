<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** A device lives at the address at which others come out of their box, and those are not set yet. */
final class LivesWhereAnotherWakes implements Rule
{
    public function find(RuleContext $context): iterable
    {
        /** @var array<string, list<Device>> $waking */
        $waking = [];
        foreach ($context->plan->devices as $device) {
            $wakes = [] !== $device->kind->steps && null !== $device->factory->address;
            if ($wakes && !RunSheet::of($context->plan, $device)->has(Effect::Addresses)) {
                $waking[(string) $device->factory->address][] = $device;
            }
        }
        foreach ($context->plan->devices as $device) {
            $address = $device->nic()?->setting('address')->effective(Face::Set) ?? '';
            $others = array_values(array_filter($waking[$address] ?? [], static fn (Device $other): bool => $other->key !== $device->key));
            if ([] === $others) {
                continue;
            }
            $isThere = RunSheet::of($context->plan, $device)->has(Effect::Addresses) || null !== $device->nic()?->setting('address')->set;
            $up = array_filter($others, static fn (Device $other): bool => RunSheet::of($context->plan, $other)->has(Effect::Powers));
            $at = [
                'tag' => $device->tag,
                'address' => $address,
                'others' => implode(', ', array_map(static fn (Device $other): string => $other->tag, \array_slice($others, 0, 5))),
                'n' => \count($others),
            ];
            yield new Finding(
                'lives-where-another-wakes',
                match (true) {
                    $isThere && [] !== $up => Severity::Blocks,
                    $isThere => Severity::Risk,
                    default => Severity::Note,
                },
                Stage::Bench,
                ['devices/'.$device->key, 'devices/'.$others[0]->key],
                $isThere
                    ? new Message('{tag} already uses {address}, the factory address of {others}.', $at)
                    : new Message('{tag} is planned with {address}, the factory address of {others}.', $at),
                new Message('Two devices have the address {address}, so you cannot tell which one you are configuring.', $at),
                $isThere
                    ? new Message('Unplug {tag} until {others} have their planned addresses.', $at)
                    : new Message('Set up {others} first: the bench schedule has them in this order.', $at),
            );
        }
    }
}
