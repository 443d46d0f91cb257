<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Catalogue\FactoryMode;
use Vorhut\Core\Catalogue\FactoryState;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\LoginPattern;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Plan\Device;

/** What a stand-in really holds, whatever anybody believes. Begins as the factory made it. */
final class SimulatedState
{
    /** The factory state of a used device. */
    private const USED = 'used';

    public readonly string $device;
    public readonly Kind $kind;
    public bool $powered = false;
    /** @var array<string, string> local name of a setting → stamp of the last putting-in, so that each is put in once */
    public array $taken = [];
    /** @var list<string> faults that stay: slow-boot, voicemail-answers */
    public array $standingFaults = [];
    /** @var array<string, string> local name → typed, and not in force before the next restart */
    public array $saved = [];
    /** @var array<string, string> what its parts keep: scenes, an unlock, a licence */
    public array $extra = [];
    /** Its address came by DHCP or was made by itself, and is sought anew at every start. */
    public bool $leased;
    /** On the bench rather than at its place. */
    public bool $onBench = false;
    /** How often it was set back to its factory state. */
    public int $resets = 0;
    /** The password that its label, its serial number or its kind has for the first login. */
    public string $firstPassword;
    public readonly string $mac;
    /**
     * @var array<string, string> local name of a setting (`lan.address`, `hostName`), or what a file brought (user, secret,
     *     registrar) → value
     */
    private array $settings = [];

    public function __construct(private readonly Device $asMade)
    {
        $this->device = $asMade->key;
        $this->kind = $asMade->kind;
        $this->firstPassword = $asMade->firstPassword() ?? '';
        // The text on its label, whether or not it was read yet.
        $this->mac = $asMade->nic()->mac->digits ?? '02005e00'.substr(hash('sha256', $asMade->key), 0, 4);
        $this->asMade();
    }

    public function isFaulty(InjectedFault $fault): bool
    {
        return \in_array($fault->value, $this->standingFaults, true);
    }

    /** As the factory made it: everything that was put in is gone. */
    public function asMade(): void
    {
        $this->settings = $this->saved = $this->extra = [];
        foreach ($this->kind->locals() as $local => $setting) {
            $this->settings[$local] = $setting->factory ?? '';
        }
        $this->leased = !\in_array($this->asMade->factory->mode, [FactoryMode::Fixed, FactoryMode::None], true);
        $this->put('address', $this->leased ? '' : (string) $this->asMade->factory->address);
        $this->put('mask', $this->leased ? '' : (string) $this->asMade->factory->mask);
        $this->put('hostName', $this->asMade->labelHostName ?? $this->kind->code);
        $this->put('adminUser', $this->asMade->loginUser());
        $this->put('adminPassword', $this->firstPassword);
        if (self::USED === $this->asMade->factory->when && 0 === $this->resets) {
            $this->leftovers();
        }
    }

    /** What the last job left in it: another password, another server, a name of its own. */
    private function leftovers(): void
    {
        $this->put('adminPassword', 'of the last job');
        $this->put('hostName', 'last-job');
        foreach ($this->kind->settings as $name => $setting) {
            if ('provisioning' === $setting->group) {
                $this->put($name, 'of-the-last-job');
            }
        }
    }

    public function serial(): string
    {
        return $this->asMade->serial;
    }

    /** The password on the label for the first login; '' if there is none. */
    public function labelLogin(): string
    {
        return LoginPattern::OnTheLabel === $this->kind->login->pattern ? $this->asMade->loginUser().' / '.$this->firstPassword : '';
    }

    public function factory(): FactoryState
    {
        return $this->asMade->factory;
    }

    /** By the local name of a setting; a plain `address` means that of the first port. */
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
            'extra' => $this->extra,
            'leased' => $this->leased,
            'onBench' => $this->onBench,
            'resets' => $this->resets,
        ];
    }

    /** @param array<mixed> $kept what keep() gave, of this version or of an older one */
    public function recall(array $kept): void
    {
        $this->powered = true === ($kept['powered'] ?? false);
        $this->settings = $this->texts($kept['settings'] ?? []) + $this->settings;
        $this->taken = $this->texts($kept['taken'] ?? []);
        $this->saved = $this->texts($kept['saved'] ?? []);
        $this->extra = $this->texts($kept['extra'] ?? []);
        // What an older version kept had an address of its own.
        $this->leased = true === ($kept['leased'] ?? false);
        $this->onBench = true === ($kept['onBench'] ?? false);
        $this->resets = \is_int($kept['resets'] ?? null) ? $kept['resets'] : 0;
        $this->standingFaults = array_values($this->texts($kept['standingFaults'] ?? $kept['habits'] ?? []));
    }

    /** @return array<string, string> */
    private function texts(mixed $map): array
    {
        $texts = [];
        if (\is_array($map)) {
            foreach ($map as $name => $value) {
                $texts[$this->local((string) $name)] = \is_scalar($value) ? (string) $value : '';
            }
        }

        return $texts;
    }
}
