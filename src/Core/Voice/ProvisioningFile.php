<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;

/**
 * What a phone's file says: every value resolved from the plan, or the reason why there is no file. How the values are written down is the
 * business of the kind's template.
 */
final readonly class ProvisioningFile
{
    /** @param array<string, string> $values */
    private function __construct(public Device $device, public Extension $extension, public array $values)
    {
    }

    /**
     * @param string $sipSecret     of the account
     * @param string $adminPassword the phone's own
     *
     * @throws Malformed naming what is missing
     */
    public static function of(Plan $plan, Device $device, string $sipSecret, string $adminPassword): self
    {
        $extension = $plan->extensionsOf($device->key)[0] ?? throw new Malformed(\sprintf('%s has no extension.', $device->tag));
        $account = $plan->accountOf($extension->key) ?? throw new Malformed(\sprintf('%s has no account at a registrar.', $extension->number));
        $registrar = ($plan->devices[$account->registrar] ?? null)?->nic()?->plannedAddress() ?? throw new Malformed(\sprintf('The registrar of %s has no address.', $extension->number));
        if ('' === $sipSecret || '' === $adminPassword) {
            throw new Malformed(\sprintf('%s has an empty secret: generate one first.', $extension->number));
        }
        $zone = $plan->job->text('timeZone');
        if ('' === $zone) {
            throw new Malformed('The job has no time zone: the phones would show the wrong hour.');
        }

        return new self($device, $extension, [
            'mac' => (string) $device->nic()?->mac?->digits,
            'extension' => $extension->number,
            'displayName' => $extension->name,
            'registrar' => (string) $registrar,
            'port' => (string) Registration::SIP_PORT,
            'transport' => $device->kind->transports[0] ?? 'udp',
            'user' => $account->user,
            'secret' => $sipSecret,
            'adminPassword' => $adminPassword,
            'timeZone' => $zone,
            'ntp' => $plan->job->text('ntp'),
            'language' => $plan->job->text('language'),
        ]);
    }

    /** What may be shown, compared and logged: the file's values without its secrets. */
    public function fingerprint(): string
    {
        return substr(hash('sha256', serialize($this->values)), 0, 12);
    }
}
