<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Ground;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Message;

/** A phone was provisioned before its MAC was entered at the registrar. */
final class ProvisionedBeforeEntry implements Rule
{
    public function find(Ground $ground): iterable
    {
        foreach ($ground->plan->extensions as $extension) {
            $phone = $ground->plan->devices[$extension->phone ?? ''] ?? null;
            $account = $ground->plan->accountOf($extension->key);
            if (null === $phone || null === $account || null === $phone->value('provisioning')->set) {
                continue;
            }
            $mac = $phone->nic()?->mac;
            $entered = $account->macEntered;
            if (null !== $entered && (null === $mac || $mac->equals($entered))) {
                continue;
            }
            $at = ['tag' => $phone->tag, 'number' => $extension->number, 'mac' => (string) $mac, 'entered' => (string) $entered];
            yield new Finding(
                'provisioned-before-entry',
                Weight::Blocks,
                Stage::Services,
                ['devices/'.$phone->key, 'extensions/'.$extension->key, 'accounts/'.$account->key],
                null === $entered ? new Message('{tag} was provisioned, and its MAC is not entered at the registrar for {number}.', $at) : new Message('At the registrar {entered} is entered for {number}, {tag} has {mac}.', $at),
                new Message('It boots, fetches its file, and shows no service.'),
                null === $mac ? new Message('Read the MAC of {tag} from its label and enter it.', $at) : new Message('Enter {mac} at the registrar, then restart {tag}.', $at),
                null === $mac ? null : new Change(new Message('{mac} entered for {number}.', $at), [Edit::put('accounts', $account->key, 'macEntered', null === $entered ? null : (string) $entered, (string) $mac)]),
            );
        }
    }
}
