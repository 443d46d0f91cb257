<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Malformed;

/**
 * The settings of the devices of one snapshot: which settings a device has, the stored values, and the defaults.
 *
 * @phpstan-import-type RowData from Edit
 */
final readonly class DeviceSettings
{
    /** @param array<string, array<string, RowData>> $values record → slot → stored values */
    public function __construct(private Plan $plan, private array $values)
    {
    }

    /** What a setting holds, its own word or what it inherits. */
    public function value(SettingRef|string $ref): TrackedValue
    {
        $ref = \is_string($ref) ? SettingRef::fromString($ref) : $ref;

        return match ($ref->section) {
            'nics' => ($this->plan->nics[$ref->key] ?? null)?->setting($ref->slot),
            'devices' => ($this->plan->devices[$ref->key] ?? null)?->setting($ref->slot),
            default => ($this->plan->accounts[$ref->key] ?? null)?->setting($ref->slot),
        } ?? new TrackedValue();
    }

    /** The properties of a setting in a record of this job; null if the record has no such setting. */
    public function definition(SettingRef $ref): ?Setting
    {
        $device = $this->plan->deviceOf($ref->section, $ref->key);
        $setting = $device?->kind->setting($ref->name);
        $passive = 'nics' === $ref->section && ($this->plan->nics[$ref->key]->passive ?? true);
        $scope = match ($ref->section) {
            'nics' => [SettingScope::Port],
            'devices' => [SettingScope::Device, SettingScope::Item],
            default => [SettingScope::Account],
        };

        return null === $setting
            || $passive
            || !\in_array($setting->scope, $scope, true)
            || !\in_array($ref->slot, $setting->slots(), true) ? null : $setting;
    }

    /**
     * All settings of a device, in the order in which one works: of the device, of each port, of each account.
     *
     * @param bool $written only settings with a stored value: planned by hand, set, seen or unreadable
     *
     * @return list<SettingSlot> secrets among them, without their values
     */
    public function slots(Device $device, bool $written = false): array
    {
        $slots = [];
        $own = $this->values['devices/'.$device->key] ?? [];
        foreach ($device->kind->deviceSlots as $slot => $setting) {
            if (!$written || isset($own[$slot])) {
                $slots[] = new SettingSlot(
                    SettingRef::ofDeclared('devices', $device->key, $slot),
                    $slot,
                    null,
                    $setting,
                    $device->setting($slot),
                );
            }
        }
        foreach ($device->activeNics() as $nic) {
            $own = $this->values['nics/'.$nic->key] ?? [];
            foreach ($device->kind->settingsOf(SettingScope::Port) as $name => $setting) {
                if (!$written || isset($own[$name])) {
                    $slots[] = new SettingSlot(
                        SettingRef::ofDeclared('nics', $nic->key, $name),
                        $nic->name.'.'.$name,
                        $nic->name,
                        $setting,
                        $nic->setting($name),
                    );
                }
            }
        }
        foreach ($this->accountsAt($device) as $number => $account) {
            $own = $this->values['accounts/'.$account->key] ?? [];
            foreach (array_keys($device->kind->settingsOf(SettingScope::Account)) as $name) {
                if (!$written || isset($own[$name])) {
                    $slots[] = $this->accountSlot($device, (string) $number, $account, $name);
                }
            }
        }

        return $slots;
    }

    /** @return array<array-key, Account> number → the account that the device registers it with, in the order of the numbers */
    private function accountsAt(Device $device): array
    {
        $accounts = [];
        foreach ($this->plan->extensionsOf($device->key) as $extension) {
            $account = $this->plan->accountOf($extension->key);
            if (null !== $account) {
                $accounts[$extension->number] = $account;
            }
        }

        return $accounts;
    }

    private function accountSlot(Device $device, string $number, Account $account, string $name): SettingSlot
    {
        return new SettingSlot(
            SettingRef::ofDeclared('accounts', $account->key, $name),
            $number.'.'.$name,
            null,
            $device->kind->settings[$name],
            $account->setting($name),
            $number,
        );
    }

    /**
     * Values in the record of a device, its ports and its accounts that are not settings of its kind: kept, but unused.
     *
     * @return list<SettingRef>
     */
    public function strays(Device $device): array
    {
        $strays = [];
        $records = [
            $device->record(),
            ...array_map(static fn (Nic $nic): string => $nic->record(), $device->nics),
            ...array_map(static fn (Account $account): string => 'accounts/'.$account->key, array_values($this->accountsAt($device))),
        ];
        foreach ($records as $record) {
            foreach (array_keys($this->values[$record] ?? []) as $slot) {
                $ref = SettingRef::tryFromString($record.'#'.$slot);
                $row = new Row($this->values[$record][$slot] ?? []);
                if (null !== $ref && null === $this->definition($ref) && !TrackedValue::fromRow($row)->isEmpty()) {
                    $strays[] = $ref;
                }
            }
        }

        return $strays;
    }

    /**
     * One setting of a device by its name on sheets and in tables: `hostName`, `lan.address`, `2101.lineLabel`; `address` is that of
     * its first port, `lineLabel` that of its first account.
     */
    public function slot(Device $device, string $local): ?SettingSlot
    {
        [$first, $rest] = explode('.', $local, 2) + [1 => ''];
        [$port, $name] = '' !== $rest && null !== $device->nicNamed($first) ? [$first, $rest] : [null, $local];
        $setting = $device->kind->setting(explode('.', $name, 2)[0]);
        if (SettingScope::Port === $setting?->scope) {
            $nic = null === $port ? $device->nic() : $device->nicNamed($port);

            return null === $nic
                || $nic->passive
                    ? null
                    : new SettingSlot(
                        SettingRef::ofDeclared('nics', $nic->key, $name),
                        $nic->name.'.'.$name,
                        $nic->name,
                        $setting,
                        $nic->setting($name),
                    );
        }
        if (null === $setting) {
            $setting = $device->kind->setting($rest);
            $number = $first;
            $name = $rest;
        }
        if (SettingScope::Account === $setting?->scope) {
            $accounts = $this->accountsAt($device);
            $number ??= (string) array_key_first($accounts);

            return isset($accounts[$number]) ? $this->accountSlot($device, $number, $accounts[$number], $name) : null;
        }
        if (null === $setting || null !== $port || isset($number) || !\in_array($name, $setting->slots(), true)) {
            return null;
        }

        return new SettingSlot(SettingRef::ofDeclared('devices', $device->key, $name), $name, null, $setting, $device->setting($name));
    }

    /**
     * Converts input from a person or a file to the stored form: checked by the type of the setting, another device by its tag.
     *
     * @throws Malformed
     */
    public function read(Setting $setting, string $text): string
    {
        if (ValueType::Device !== $setting->type || '' === trim($text)) {
            return $setting->read($text);
        }

        return $this->plan->deviceTagged(trim($text))->key
            ?? throw Malformed::because('This job has no device "{tag}".', ['tag' => trim($text)]);
    }

    /** A stored value in readable form: another device by its tag. */
    public function show(Setting $setting, string $value): string
    {
        return ValueType::Device === $setting->type ? $this->plan->devices[$value]->tag ?? $value : $value;
    }
}
