<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\LoginPattern;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Core\Text\Message;

/** What a run sheet says at a name: the value to type, where it stands, or why there is none. */
final readonly class SheetValues
{
    public function __construct(private Plan $plan, private RunSheet $sheet)
    {
    }

    /** @param string $name a fact of the device, or the local name of a setting */
    public function value(string $name): SheetValue
    {
        $device = $this->sheet->device;
        $nic = $device->nic();
        $slot = $this->plan->settings()->slot($device, $name);
        if (null !== $slot) {
            return $this->slotValue($name, $slot);
        }
        $factory = $device->factory;

        return match ($name) {
            'mac' => SheetValue::of($name, 'MAC', null === $nic?->mac ? null : (string) $nic->mac),
            'serial' => SheetValue::of($name, 'Serial', '' === $device->serial ? null : $device->serial),
            'factory' => SheetValue::of($name, 'Out of the box', null === $factory->address ? null : (string) $factory->address),
            'login' => $this->login($name),
            'url' => $this->fileServer($name),
            'authority-url' => SheetValue::servedHere($name, 'Load it from'),
            default => SheetValue::of($name, $name, null),
        };
    }

    /** An address from the provider takes precedence over our own. */
    private function fileServer(string $name): SheetValue
    {
        $planned = $this->sheet->device->setting('provisioning')->planned;
        $provider = $this->plan->devices[$this->plan->providerOf($this->sheet->device->key) ?? ''] ?? null;

        return match (true) {
            null === $planned && null !== $provider => SheetValue::of($name, 'File server', null, new Message(
                'The provisioning string of {registrar}: copy it there first.',
                ['registrar' => $provider->tag],
            )),
            \in_array($planned ?? '', ['', FileAddress::HERE], true) => SheetValue::servedHere($name, 'File server'),
            default => SheetValue::of($name, 'File server', $planned),
        };
    }

    private function slotValue(string $name, SettingSlot $slot): SheetValue
    {
        $setting = $slot->setting;
        if (null !== $setting->secret) {
            return SheetValue::secret($name, $setting->label, $setting->secret);
        }
        $planned = $slot->value->planned;
        $which = null !== $slot->port && \count($this->sheet->device->activeNics()) > 1 ? $slot->port : $slot->which();
        if ('' === $planned) {
            return SheetValue::of($name, $setting->label, '', $this->whyBlank($slot), $which);
        }

        return SheetValue::of(
            $name,
            $setting->label,
            null === $planned ? null : $setting->type->format($this->plan->settings()->show($setting, $planned)),
            null,
            $which,
            $setting->unit,
        );
    }

    private function whyBlank(SettingSlot $slot): Message
    {
        $nic = $this->sheet->device->nicNamed($slot->port ?? '') ?? $this->sheet->device->nic();
        $segment = $this->plan->segments[$nic->segment ?? ''] ?? null;

        return match (true) {
            !$slot->value->inherited => new Message('The plan leaves it blank on purpose.'),
            SettingScope::Port === $slot->setting->scope
                && false === $segment?->routed => new Message(
                    'No router is on {segment}: nothing to name here.',
                    ['segment' => $segment->name],
                ),
            default => new Message('Nothing is wanted here.'),
        };
    }

    /** The login that opens the device now: the first one until its password was changed. */
    private function login(string $name): SheetValue
    {
        $admin = $this->plan->credential($this->sheet->device->record(), 'admin');
        if (null !== $admin && !$admin->isDefault && $this->sheet->has(Effect::Secures)) {
            return SheetValue::secret($name, 'Login', 'admin', $admin->user);
        }
        $login = $this->sheet->device->kind->login;
        $user = $this->sheet->device->loginUser();
        $labelled = null !== $this->plan->credential($this->sheet->device->record(), 'label');
        $password = match (true) {
            $labelled, LoginPattern::OnTheLabel === $login->pattern => new Message('as printed on the label'),
            LoginPattern::SerialNumber === $login->pattern => new Message('its serial number {serial}', [
                'serial' => $this->sheet->device->serial,
            ]),
            LoginPattern::Empty === $login->pattern => new Message('(empty)'),
            LoginPattern::Held === $login->pattern => new Message('ask the person who holds it'),
            default => new Message('{password}', ['password' => $login->password]),
        };

        return SheetValue::of(
            $name,
            'Login',
            LoginPattern::Fixed === $login->pattern && !$labelled ? $user.' / '.$login->password : $user,
            $password,
        );
    }
}
