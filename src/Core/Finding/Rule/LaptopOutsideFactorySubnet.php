<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Ground;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Message;

/** The laptop is not in the factory subnet of the stop, so the admin page never opens. */
final class LaptopOutsideFactorySubnet implements Rule
{
    public function find(Ground $ground): iterable
    {
        $plan = $ground->plan;
        $laptop = $plan->devices[$plan->job->text('laptop')] ?? null;
        $nic = $laptop?->nic();
        $stop = $ground->queue()->next($plan);
        $held = Ipv4::tryFromString($nic->address->set ?? '');
        if (null === $laptop || null === $nic || null === $held || null === $stop?->laptop || null === $stop->mask) {
            return;
        }
        $mask = Mask::tryFromString($nic->mask->set ?? '') ?? $stop->mask;
        foreach ($stop->devices() as $device) {
            $factory = $device->kind->factoryAddress;
            if (null === $factory || $ground->sheet($device)->isMarked('address') || Network::around($held, $mask)->contains($factory)) {
                continue;
            }
            yield new Finding(
                'laptop-outside-factory-subnet',
                Weight::Blocks,
                Stage::Bench,
                ['devices/'.$laptop->key, 'devices/'.$device->key],
                new Message('{laptop} holds {held}, and {tag} waits at {factory}.', ['laptop' => $laptop->tag, 'held' => $held.$mask, 'tag' => $device->tag, 'factory' => (string) $factory]),
                new Message('Outside its factory subnet the admin page never opens, and the device is thought dead.'),
                new Message('Set the laptop to {address} for stop {n}.', ['address' => $stop->laptop.$stop->mask, 'n' => $stop->number]),
                new Change(new Message('{laptop} set to {address}.', ['laptop' => $laptop->tag, 'address' => (string) $stop->laptop]), [
                    Edit::value('nics/'.$nic->key, 'address', Face::Set, $nic->address->set, (string) $stop->laptop),
                    Edit::value('nics/'.$nic->key, 'mask', Face::Set, $nic->mask->set, (string) $stop->mask),
                ]),
            );

            return;
        }
    }
}
