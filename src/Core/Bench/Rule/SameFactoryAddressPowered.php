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
use Vorhut\Core\Text\Message;

/** Two devices with the same factory address are switched on together. */
final class SameFactoryAddressPowered implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $powered = array_filter(
            $context->plan->devices,
            static fn (Device $device): bool => RunSheet::of($context->plan, $device)->has(Effect::Powers)
                && !RunSheet::of($context->plan, $device)->has(Effect::Addresses),
        );
        foreach (RuleContext::duplicates(
            array_map(static fn (Device $device): array => [(string) $device->factory->address, $device], $powered),
        ) as $address => $devices) {
            yield new Finding(
                'same-factory-address',
                Severity::Blocks,
                Stage::Bench,
                array_map(static fn (Device $device): string => 'devices/'.$device->key, $devices),
                new Message('{tags} are powered at the same time and share the factory address {address}.', [
                    'tags' => implode(', ', array_map(static fn (Device $device): string => $device->tag, $devices)),
                    'address' => (string) $address,
                ]),
                new Message(
                    'Both devices use {address}, so you cannot tell which one you are configuring.',
                    ['address' => (string) $address],
                ),
                new Message('Switch off all but {tag}, set its address, then go on with the next.', ['tag' => $devices[0]->tag]),
            );
        }
    }
}
