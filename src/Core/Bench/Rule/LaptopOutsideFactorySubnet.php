<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** The laptop is not in the factory subnet of the stop, so the admin page never opens. */
final class LaptopOutsideFactorySubnet implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        $laptop = $plan->devices[$plan->job->text('laptop')] ?? null;
        $nic = $laptop?->nic();
        $stop = $context->once(Queue::class, Queue::of(...))?->next($plan);
        $held = Ipv4::tryFromString($nic?->setting('address')->set ?? '');
        if (null === $laptop || null === $nic || null === $held || null === $stop?->laptop || null === $stop->mask) {
            return;
        }
        $mask = Mask::tryFromString($nic->setting('mask')->set ?? '') ?? $stop->mask;
        foreach ($stop->devices() as $device) {
            $factory = $device->factory->address;
            if (
                null === $factory
                || RunSheet::of($context->plan, $device)->has(Effect::Addresses)
                || Network::around($held, $mask)->contains($factory)
            ) {
                continue;
            }
            yield new Finding(
                'laptop-outside-factory-subnet',
                Severity::Blocks,
                Stage::Bench,
                ['devices/'.$laptop->key, 'devices/'.$device->key],
                new Message('{laptop} has the address {held}, but {tag} waits at {factory}.', [
                    'laptop' => $laptop->tag,
                    'held' => $held.$mask,
                    'tag' => $device->tag,
                    'factory' => (string) $factory,
                ]),
                new Message('From another subnet the admin page does not open, and the device looks faulty.'),
                new Message('Set the laptop to {address} for stop {n}.', ['address' => $stop->laptop.$stop->mask, 'n' => $stop->number]),
                new Change(new Message('Address of {laptop} set to {address}.', [
                    'laptop' => $laptop->tag,
                    'address' => (string) $stop->laptop,
                ]), [
                    Edit::setting($nic->record().'#address', Face::Set, $nic->setting('address')->set, (string) $stop->laptop),
                    Edit::setting($nic->record().'#mask', Face::Set, $nic->setting('mask')->set, (string) $stop->mask),
                ]),
            );

            return;
        }
    }
}
