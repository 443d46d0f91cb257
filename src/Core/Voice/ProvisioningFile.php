<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RegistrarEntry;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Core\Text\Message;

/**
 * The content of a phone's file: every value resolved from the plan, or the reason why there is no file. The kind's template defines its
 * format.
 */
final readonly class ProvisioningFile
{
    /** Values that no person compares by eye. */
    private const SECRETS = ['secret', 'adminPassword'];

    /** @param array<string, string> $values */
    private function __construct(public Device $device, public Extension $extension, public array $values)
    {
    }

    /**
     * @param string $sipSecret     of the account
     * @param string $adminPassword the phone's own
     *
     * @throws Malformed naming the first thing that is missing
     */
    public static function of(Plan $plan, Device $device, string $sipSecret, string $adminPassword): self
    {
        $obstacle = self::obstacle($plan, $device, '' !== $sipSecret && '' !== $adminPassword);
        if (null !== $obstacle) {
            throw Malformed::saying($obstacle);
        }
        $extension = $plan->extensionsOf($device->key)[0];
        $account = $plan->accountOf($extension->key);
        $registrar = $plan->devices[$account->registrar ?? ''] ?? null;
        $values = [
            'mac' => $device->nic()->mac->digits ?? '',
            'extension' => $extension->number,
            'displayName' => $extension->name,
            'registrar' => (string) $registrar?->nic()?->plannedAddress(),
            'user' => $account->user ?? '',
            'secret' => $sipSecret,
            'adminPassword' => $adminPassword,
            'language' => $plan->job->text('language'),
        ];
        foreach (self::settingsIn($plan, $device) as $slot) {
            // The file carries one account, that of its first number.
            if (null === $slot->account || $slot->account === $extension->number) {
                $values[$slot->setting->name] = $slot->value->planned ?? '';
            }
        }
        $values['port'] = ($values['registrarPort'] ?? '') ?: (string) Registration::hearsAt($registrar, Face::Planned)->number;
        // A file names one transport: the one that is preferred.
        $values['transport'] = ValueType::List->parts($values['transport'] ?? '')[0] ?? 'udp';

        return new self($device, $extension, $values);
    }

    /**
     * Why there is no file for a phone yet, in the order of the work; null if there can be one.
     *
     * @param bool $secrets whether its SIP secret and its password are there
     */
    public static function obstacle(Plan $plan, Device $device, bool $secrets = true): ?Message
    {
        $at = ['tag' => $device->tag];
        $extension = $plan->extensionsOf($device->key)[0] ?? null;
        if (null === $extension) {
            return new Message('{tag} has no number.', $at);
        }
        $at['number'] = $extension->number;
        $account = $plan->accountOf($extension->key);
        if (null === $account) {
            return new Message('{number} has no account at a registrar.', $at);
        }

        $hosted = $plan->devices[$account->registrar] ?? null;
        if (true === $hosted?->kind->isHosted()) {
            return new Message('{tag} gets its file from {registrar}, not from here.', $at + ['registrar' => $hosted->tag]);
        }

        return match (true) {
            null === ($plan->devices[$account->registrar] ?? null)
                ?->nic()
                ?->plannedAddress() => new Message('The registrar of {number} has no address.', $at),
            true !== RegistrarEntry::of($plan, $extension, $device->key)?->isEntered() => new Message(
                false === RegistrarEntry::of($plan, $extension, $device->key)?->needsMac()
                    ? 'The account of {number} is not entered at the registrar yet.'
                    : 'The MAC of {tag} is not entered at the registrar for {number} yet.',
                $at,
            ),
            '' === $plan->job->text('timeZone') => new Message('The job has no time zone: the phones would show the wrong hour.'),
            !$secrets => new Message('{number} has an empty secret: generate one first.', $at),
            default => null,
        };
    }

    /** The server that a phone fetches from: `vorhut` for this one, or the address from its provider; null if not known yet. */
    public static function source(Plan $plan, Device $device): ?string
    {
        $registrar = $plan->devices[$plan->accountOf($plan->extensionsOf($device->key)[0]->key ?? '')->registrar ?? ''] ?? null;
        if (true !== $registrar?->kind->isHosted()) {
            return FileAddress::HERE;
        }
        $given = $registrar->setting('provisioningString')->effective(Face::Seen);

        return '' === $given ? null : $given;
    }

    /** @return list<SettingSlot> the settings of a device that its file puts in */
    public static function settingsIn(Plan $plan, Device $device): array
    {
        return array_values(array_filter(
            $plan->settings()->slots($device),
            static fn (SettingSlot $slot): bool => null === $slot->setting->secret && \in_array('file', $slot->setting->written, true),
        ));
    }

    /** @return list<Message> what a phone's file says otherwise in one state of a job than in an earlier one */
    public static function changedSince(Plan $then, Plan $now, Device $device): array
    {
        try {
            $before = isset($then->devices[$device->key]) ? self::of($then, $then->devices[$device->key], '*', '*') : null;
            $after = self::of($now, $device, '*', '*');
        } catch (Malformed $e) {
            return [$e->message()];
        }
        $lines = [];
        if (null !== $before) {
            foreach ($after->since($before) as $name => [$was, $is]) {
                $lines[] = new Message('{name}: {was} → {is}', [
                    'name' => $name,
                    'was' => '' === $was ? '–' : $was,
                    'is' => '' === $is ? '–' : $is,
                ]);
            }
        }

        return $lines;
    }

    /**
     * What this one says otherwise than an earlier one, its secrets apart.
     *
     * @return array<string, array{string, string}> value → as it was, as it is
     */
    public function since(self $then): array
    {
        $changed = [];
        foreach (array_keys($this->values + $then->values) as $name) {
            $pair = [$then->values[$name] ?? '', $this->values[$name] ?? ''];
            if ($pair[0] !== $pair[1] && !\in_array($name, self::SECRETS, true)) {
                $changed[$name] = $pair;
            }
        }
        ksort($changed);

        return $changed;
    }

    /** What may be shown, compared and logged: the file's values without its secrets. */
    public function fingerprint(): string
    {
        return substr(hash('sha256', serialize($this->values)), 0, 12);
    }
}
