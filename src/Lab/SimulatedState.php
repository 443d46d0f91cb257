<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Plan\Device;

/** What a stand-in really holds, whatever anybody believes. Begins as the factory made it. */
final class SimulatedState
{
    public readonly string $device;
    public readonly Kind $kind;
    public bool $powered = false;
    /** @var array<string, string> local name of a setting → stamp of the last putting-in, so that each is put in once */
    public array $taken = [];
    /** @var list<string> faults that stay: slow-boot, voicemail-answers */
    public array $standingFaults = [];
    /** @var array<string, string> local name → typed, and not in force before the next restart */
    public array $saved = [];
    /**
     * @var array<string, string> local name of a setting (`lan.address`, `hostName`), or what a file brought (user, secret,
     *     registrar) → value
     */
    private array $settings = [];

    public function __construct(Device $device)
    {
        $this->device = $device->key;
        $this->kind = $device->kind;
        foreach ($device->kind->locals() as $local => $setting) {
            $this->settings[$local] = $setting->factory ?? '';
        }
        $this->put('address', (string) $device->factory->address);
        $this->put('mask', (string) $device->factory->mask);
        $this->put('hostName', $device->labelHostName ?? $device->kind->code);
        $this->put('adminUser', $device->loginUser());
        $this->put('adminPassword', $device->firstPassword() ?? '');
    }

    /** By the local name of a setting; `address` alone is that of the first port. */
    public function get(string $name): string
    {
        return $this->settings[$this->local($name)] ?? '';
    }

    public function put(string $name, string $value): void
    {
        $this->settings[$this->local($name)] = $value;
    }

    /** The name under which a setting is held. */
    public function local(string $name): string
    {
        if (SettingScope::Port !== $this->kind->setting($name)?->scope) {
            return $name;
        }
        $first = $this->kind->activePorts()[0] ?? null;

        return null === $first ? $name : $first->name.'.'.$name;
    }

    /** @return array<string, mixed> */
    public function keep(): array
    {
        return [
            'powered' => $this->powered,
            'settings' => $this->settings,
            'taken' => $this->taken,
            'standingFaults' => $this->standingFaults,
            'saved' => $this->saved,
        ];
    }

    /** @param array<mixed> $kept what keep() gave, of this version or of an older one */
    public function recall(array $kept): void
    {
        $this->powered = true === ($kept['powered'] ?? false);
        $this->settings = $this->texts($kept['settings'] ?? []) + $this->settings;
        $this->taken = $this->texts($kept['taken'] ?? []);
        $this->saved = $this->texts($kept['saved'] ?? []);
        $this->standingFaults = array_values($this->texts($kept['standingFaults'] ?? $kept['habits'] ?? []));
    }

    /** @return array<string, string> */
    private function texts(mixed $map): array
    {
        $texts = [];
        foreach (\is_array($map) ? $map : [] as $name => $value) {
            $texts[$this->local((string) $name)] = \is_scalar($value) ? (string) $value : '';
        }

        return $texts;
    }
}
