<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\RegistrarEntry;
use Vorhut\Core\Text\Message;

/** A phone was provisioned before it had a number, or before its MAC was entered at the registrar. */
final class ProvisionedBeforeEntry implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $phone) {
            if (
                !$phone->kind->has(Role::FileClient)
                || (!RunSheet::of($context->plan, $phone)->has(Effect::Provisions) && null === $phone->setting('provisioning')->set)
            ) {
                continue;
            }
            $extensions = $context->plan->extensionsOf($phone->key);
            if ([] === $extensions) {
                yield new Finding(
                    'provisioned-before-entry',
                    Severity::Blocks,
                    Stage::Services,
                    [$phone->record()],
                    new Message('{tag} was provisioned, but has no number.', ['tag' => $phone->tag]),
                    new Message('It requests its file but gets none, because the file would be empty.'),
                    new Message('Give {tag} a number, enter its MAC at the registrar, then restart it.', ['tag' => $phone->tag]),
                );
            }
            foreach ($extensions as $extension) {
                yield from self::entry($context, $phone, $extension);
            }
        }
    }

    /** @return iterable<Finding> */
    private static function entry(RuleContext $context, Device $phone, Extension $extension): iterable
    {
        $account = $context->plan->accountOf($extension->key);
        $entry = RegistrarEntry::of($context->plan, $extension, $phone->key);
        if (true === $entry?->isEntered()) {
            return;
        }
        $mac = $phone->nic()?->mac;
        $byMac = false !== $entry?->needsMac();
        [$section, $key] = explode('/', $entry?->record() ?? '', 2) + [1 => ''];
        $at = ['tag' => $phone->tag, 'number' => $extension->number, 'mac' => (string) $mac];
        yield new Finding(
            'provisioned-before-entry',
            Severity::Blocks,
            Stage::Services,
            [$phone->record(), 'extensions/'.$extension->key, ...(null === $entry ? [] : [$entry->record()])],
            match (true) {
                null === $account => new Message('{tag} was provisioned, but {number} has no account at a registrar.', $at),
                !$byMac => new Message('{tag} was provisioned, but the account of {number} is not entered at the registrar.', $at),
                default => new Message('{tag} was provisioned, but its MAC address is not entered at the registrar for {number}.', $at),
            },
            new Message('It starts and fetches its file, but shows no service.'),
            match (true) {
                !$byMac => new Message('Enter the account of {number} at the registrar and confirm it in Services.', $at),
                null === $mac => new Message('Read the MAC address of {tag} from its label and enter it.', $at),
                default => new Message('Enter {mac} at the registrar, then restart {tag}.', $at),
            },
            null === $mac || null === $entry || !$byMac
                ? null
                : new Change(new Message('MAC address {mac} entered at the registrar for {number}.', $at), [
                    Edit::put($section, $key, 'macEntered', null, (string) $mac),
                ]),
            button: new Message('Confirm the registrar entry {mac}.', $at),
        );
    }
}
