<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\ProvisioningFile;

/** A phone is planned to fetch its file from one place, and its registrar gives it at another. */
final class FetchesElsewhere implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            $value = $device->setting('provisioning');
            $planned = $value->planned;
            if (!$device->kind->has(Role::FileClient) || null === $planned || '' === $planned) {
                continue;
            }
            $source = ProvisioningFile::source($context->plan, $device);
            $here = FileAddress::HERE === $planned;
            if ($here === (FileAddress::HERE === $source) && ($here || null === $source || $source === $planned)) {
                continue;
            }
            $at = ['tag' => $device->tag, 'planned' => $planned, 'source' => (string) $source];
            yield new Finding(
                'fetches-elsewhere',
                Severity::Blocks,
                Stage::Services,
                [$device->record()],
                $here
                    ? new Message('{tag} is planned to fetch its file here, but its number is at a provider.', $at)
                    : new Message(
                        '{tag} is planned to fetch its file from {planned}, which is not the provisioning address of its registrar.',
                        $at,
                    ),
                new Message('It gets no suitable file and shows no service.'),
                null === $source
                    ? new Message('Enter the provisioning string of the provider, then plan it for {tag}.', $at)
                    : new Message('Set the provisioning address of {tag} to {source}.', $at),
                null === $source ? null : new Change(
                    new Message('Provisioning address of {tag} set to {source}.', $at),
                    [
                        ...SettingChange::toHold($device->record().'#provisioning', $value, $source, Face::Planned),
                        // A phone that fetches from a provider trusts the provider's authority.
                        ...self::trust($device, FileAddress::HERE === $source ? null : ''),
                    ],
                ),
            );
        }
    }

    /** @return list<Edit> */
    private static function trust(Device $device, ?string $authority): array
    {
        $known = $device->setting(FileAddress::TRUST)->own(Face::Planned);

        return null === $device->kind->setting(FileAddress::TRUST) || $known === $authority
            ? []
            : [Edit::setting($device->record().'#'.FileAddress::TRUST, Face::Planned, $known, $authority)];
    }
}
