<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Kind\Kind;

/** What a stand-in really holds, whatever anybody believes. Begins as the factory made it. */
final class Truth
{
    public bool $powered = false;
    /** @var array<string, string> address, mask, gateway, dns, hostName, firmware, adminPassword, provisioning, provisioningUser, user, secret, registrar, extension */
    public array $settings;
    /** @var array<string, string> field → stamp of the last putting-in, so that each is put in once */
    public array $taken = [];
    /** @var list<string> faults that stay: slow-boot, voicemail-answers */
    public array $habits = [];
    /** @var array<string, string> typed, and not in force before the next restart */
    public array $saved = [];

    public function __construct(public readonly string $device, Kind $kind)
    {
        $this->settings = [
            'address' => (string) $kind->factoryAddress,
            'mask' => (string) $kind->factoryMask,
            'gateway' => '',
            'dns' => '',
            'hostName' => $kind->code,
            'firmware' => '4.2.10',
            'adminPassword' => $kind->loginPassword,
            'provisioning' => '',
            'provisioningUser' => '',
        ];
    }

    public function get(string $field): string
    {
        return $this->settings[$field] ?? '';
    }

    /** @return array<string, mixed> */
    public function keep(): array
    {
        return ['powered' => $this->powered, 'settings' => $this->settings, 'taken' => $this->taken, 'habits' => $this->habits, 'saved' => $this->saved];
    }

    /** @param array<mixed> $kept */
    public function recall(array $kept): void
    {
        $texts = static function (mixed $map): array {
            $texts = [];
            foreach (\is_array($map) ? $map : [] as $name => $value) {
                $texts[(string) $name] = \is_scalar($value) ? (string) $value : '';
            }

            return $texts;
        };
        $this->powered = true === ($kept['powered'] ?? false);
        $this->settings = $texts($kept['settings'] ?? []) + $this->settings;
        $this->taken = $texts($kept['taken'] ?? []);
        $this->saved = $texts($kept['saved'] ?? []);
        $this->habits = array_values($texts($kept['habits'] ?? []));
    }
}
