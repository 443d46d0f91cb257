<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Port;

/**
 * The properties of all devices of a kind, read from a data file. A kind is never a make: "desk phone, PoE". Code asks it for roles,
 * effects and settings, and never for its name.
 */
final readonly class Kind
{
    /** @var array<string, Setting> slot → setting, of the device itself and its items */
    public array $deviceSlots;
    /** @var array<string, array<string, Setting>> scope → name → setting */
    private array $byScope;
    /** A step of it puts something back. */
    public bool $putsBack;

    public string $code;
    public string $name;
    /** @var list<string> other words for it, as people write them in lists */
    public array $words;
    /** The letters of a proposed tag. */
    public string $tagPrefix;
    /** @var list<Role> */
    public array $roles;
    /** @var non-empty-list<FactoryState> the first is how it comes out of a new box */
    public array $factoryStates;
    public Login $login;
    /** Seconds from power to answering. */
    public int $boot;
    /** What others depend on has the lower rank and is brought up first. */
    public int $rank;
    /** @var list<KindPort> */
    public array $ports;
    /** @var list<Socket> */
    public array $sockets;
    /** @var array<string, Setting> by name */
    public array $settings;
    /** @var list<Service> */
    public array $services;
    /** @var list<string> its discovery methods: mdns, range */
    public array $discovery;
    public ?string $discoveryService;
    /** @var list<string> who can tell its address, in order of effort */
    public array $tells;
    /** @var list<Step> */
    public array $steps;
    /** @var list<HandTest> questions to a person at the Proof stage */
    public array $handTests;
    public ?string $keypad;
    /** @var string|null template of its file */
    public ?string $provisioning;
    /** Takes its settings over HTTP, as $admin says. */
    public bool $writable;
    public ?Admin $admin;
    /** @var list<string> contents of its box */
    public array $kit;
    public ?Power $power;
    /** @var list<LicenceTerm> */
    public array $licences;
    public ?FirmwareRules $firmware;
    public ?ModuleSlots $modules;
    /** @var float|null kg */
    public ?float $weight;
    /** @var int|null of a rack */
    public ?int $units;
    /** @var int|null kbit/s that it takes from outside while it plays */
    public ?int $fetches;
    /** @var int|null degrees Celsius around it, at most */
    public ?int $warmest;
    public Panel $panel;
    /** @var list<Play> what its stand-in does in the lab beyond its services */
    public array $plays;

    /** @param array<mixed> $data the decoded data file */
    private function __construct(string $code, array $data, SharedSettings $shared = new SharedSettings())
    {
        $read = new Reading($data, \sprintf('kind %s', $code));
        $states = array_map(self::state(...), $read->each('factory'));
        if ([] === $states) {
            throw Malformed::because('{of}: "{name}" is missing.', ['of' => $read->of(), 'name' => 'factory']);
        }
        $this->code = $code;
        $this->name = $read->requireText('name');
        $this->words = $read->texts('words');
        $this->tagPrefix = $read->text('tag', 'D');
        $this->roles = array_map(static fn (string $role): Role => self::readRole($read, $role), $read->texts('roles'));
        $this->factoryStates = $states;
        $this->login = self::readLogin(new Reading((array) ($data['login'] ?? []), $read->of().', login'), $read->has('login'));
        $this->boot = (int) $read->text('boot', '30');
        $this->rank = (int) $read->text('rank', '5');
        $this->ports = self::ports($read);
        $this->sockets = array_map(
            static fn (Reading $one): Socket => new Socket($one->text('name'), $one->text('takes'), (int) $one->text('count', '1')),
            $read->each('sockets'),
        );
        $this->settings = $shared->of($read);
        $this->services = array_map(self::readService(...), $read->each('services'));
        $this->discovery = $read->texts('discovery');
        $this->discoveryService = $read->textOrNull('discoveryService');
        $this->tells = $read->texts('tells');
        $this->steps = array_map(Step::read(...), $read->each('steps'));
        $this->handTests = array_map(HandTest::read(...), $read->each('handTests'));
        $this->keypad = $read->textOrNull('keypad');
        $this->provisioning = $read->textOrNull('provisioning');
        $this->writable = $read->flag('writable');
        $this->admin = $read->has('admin') ? Admin::fromArray((array) $data['admin']) : null;
        $this->kit = $read->texts('kit');
        $this->power = $read->has('power') ? Power::read(new Reading((array) $data['power'], $read->of().', power')) : null;
        $this->licences = array_map(LicenceTerm::read(...), $read->each('licences'));
        $this->firmware = $read->has('firmware')
            ? FirmwareRules::read(new Reading((array) $data['firmware'], $read->of().', firmware'))
            : null;
        $this->modules = $read->has('modules') ? ModuleSlots::read(new Reading((array) $data['modules'], $read->of().', modules')) : null;
        $this->weight = $read->has('weight') ? $read->number('weight', 0.0) : null;
        $this->units = $read->has('units') ? (int) $read->number('units', 0.0) : null;
        $this->fetches = $read->has('fetches') ? (int) $read->number('fetches', 0.0) : null;
        $this->warmest = $read->has('warmest') ? (int) $read->number('warmest', 0.0) : null;
        $this->panel = Panel::read(new Reading((array) ($data['panel'] ?? []), $read->of().', panel'));
        $this->plays = array_map(Play::read(...), $read->each('plays'));
        $this->putsBack = [] !== array_filter($this->steps, static fn (Step $step): bool => null !== $step->undoes);
        $byScope = [];
        foreach ($this->settings as $name => $setting) {
            $byScope[$setting->scope->value][$name] = $setting;
        }
        $this->byScope = $byScope;
        $this->deviceSlots = self::slotsOf($this->settings);
    }

    private static function readRole(Reading $read, string $role): Role
    {
        return Role::tryFrom($role)
            ?? throw Malformed::because('{of}: unknown role "{role}".', ['of' => $read->of(), 'role' => $role]);
    }

    private static function readLogin(Reading $login, bool $isGiven): Login
    {
        return new Login(
            $login->word(LoginPattern::class, 'pattern', $login->text('pattern', $isGiven ? 'fixed' : 'none')),
            $login->text('user'),
            $login->text('password'),
            $login->flag('forcedChange'),
            $login->text('certificate', 'none'),
        );
    }

    private static function readService(Reading $service): Service
    {
        return new Service(
            $service->text('name'),
            Port::fromString($service->text('port')),
            'own-subnet' === $service->text('scope'),
            $service->textOrNull('follows'),
        );
    }

    /**
     * @param array<string, Setting> $settings
     *
     * @return array<string, Setting> slot → setting, of the device itself and its items
     */
    private static function slotsOf(array $settings): array
    {
        $slots = [];
        foreach ($settings as $setting) {
            if (\in_array($setting->scope, [SettingScope::Device, SettingScope::Item], true)) {
                $slots += array_fill_keys($setting->slots(), $setting);
            }
        }

        return $slots;
    }

    /**
     * @param array<mixed> $data the decoded data file
     *
     * @throws Malformed naming the field
     */
    public static function fromArray(string $code, array $data, SharedSettings $shared = new SharedSettings()): self
    {
        return new self($code, $data, $shared);
    }

    public function has(Role $role): bool
    {
        return \in_array($role, $this->roles, true);
    }

    /** Its admin page uses TLS with a self-signed certificate. */
    public function isSelfSigned(): bool
    {
        return 'self-signed' === $this->login->certificate;
    }

    public function setting(string $name): ?Setting
    {
        return $this->settings[$name] ?? null;
    }

    /** @return array<string, Setting> by name, in the order of the data file */
    public function settingsOf(SettingScope $scope): array
    {
        return $this->byScope[$scope->value] ?? [];
    }

    /** The state it comes in; an unknown name means as new. */
    public function factoryState(string $when = ''): FactoryState
    {
        foreach ($this->factoryStates as $state) {
            if ($state->when === $when) {
                return $state;
            }
        }

        return $this->factoryStates[0];
    }

    /** A registrar without a box: it stands at a provider, and is reached out of the site. */
    public function isHosted(): bool
    {
        return $this->has(Role::Registrar) && [] === $this->activePorts();
    }

    /** @return list<KindPort> those that carry an address */
    public function activePorts(): array
    {
        return array_values(array_filter($this->ports, static fn (KindPort $port): bool => !$port->passive));
    }

    /**
     * @param string                   $state   the name of the factory state in which a device comes
     * @param \Closure(string): ?string $planned by the name of a setting; blank or null for features that are not wanted
     *
     * @return list<Step> those that are called for then
     */
    public function stepsFrom(string $state, \Closure $planned): array
    {
        $all = array_filter(
            $this->steps,
            static fn (Step $step): bool => (null === $step->only || $step->only === $state)
                && (null === $step->where || '' !== ($planned($step->where) ?? '')),
        );

        return \count($all) === \count($this->steps) ? $this->steps : array_values($all);
    }

    public function licence(string $code): ?LicenceTerm
    {
        foreach ($this->licences as $licence) {
            if ($licence->code === $code) {
                return $licence;
            }
        }

        return null;
    }

    public function port(string $name): ?KindPort
    {
        foreach ($this->ports as $port) {
            if ($port->name === $name) {
                return $port;
            }
        }

        return null;
    }

    public function service(Port $port): ?Service
    {
        foreach ($this->services as $service) {
            if ($service->port->equals($port)) {
                return $service;
            }
        }

        return null;
    }

    public function serviceNamed(string $name): ?Service
    {
        foreach ($this->services as $service) {
            if ($service->name === $name) {
                return $service;
            }
        }

        return null;
    }

    public function step(string $code): ?Step
    {
        foreach ($this->steps as $step) {
            if ($step->code === $code) {
                return $step;
            }
        }

        return null;
    }

    /**
     * Every setting that a device of this kind has, by its local name: `hostName`, `lan.address`, `inputSource.3`.
     *
     * @return array<string, Setting>
     */
    public function locals(): array
    {
        $locals = [];
        foreach ($this->settings as $name => $setting) {
            if (SettingScope::Port === $setting->scope) {
                foreach ($this->activePorts() as $port) {
                    $locals[$port->name.'.'.$name] = $setting;
                }
            }
            if (\in_array($setting->scope, [SettingScope::Device, SettingScope::Item], true)) {
                foreach ($setting->slots() as $slot) {
                    $locals[$slot] = $setting;
                }
            }
        }

        return $locals;
    }

    /** @return array<string, string> local name → what the device's admin page calls it */
    public function adminFields(): array
    {
        $fields = [];
        $first = ($this->activePorts()[0] ?? null)?->name;
        foreach ($this->locals() as $local => $setting) {
            $own = $this->admin?->own($local, $setting, str_starts_with($local, $first.'.'));
            if (null !== $own) {
                $fields[$local] = $own;
            }
        }

        return $fields;
    }

    /** The first step that does this. */
    public function stepThat(Effect $effect): ?Step
    {
        foreach ($this->steps as $step) {
            if ($step->does($effect)) {
                return $step;
            }
        }

        return null;
    }

    private static function state(Reading $read): FactoryState
    {
        $mode = FactoryMode::tryFrom($read->text('state'))
            ?? throw Malformed::because('{of}: factory state "{state}" is not known.', [
                'of' => $read->of(),
                'state' => $read->text('state'),
            ]);
        [$address, $mask] = explode('/', $read->text('address').'/', 3);
        if ($mode->hasFixedAddress() && ('' === $address || '' === $mask)) {
            throw Malformed::because('{of}: a fixed factory state needs an address as 192.168.1.10/24.', ['of' => $read->of()]);
        }

        return new FactoryState(
            $read->text('when', 'new'),
            $mode,
            '' === $address ? null : Ipv4::fromString($address),
            '' === $mask ? null : Mask::fromString($mask),
            (int) $read->text('after', '0'),
        );
    }

    /** @return list<KindPort> */
    private static function ports(Reading $read): array
    {
        $ports = [];
        $gateway = false;
        foreach ($read->each('ports') as $port) {
            $passive = $port->flag('passive');
            // A host has one default gateway: the first port that carries an address takes it, unless the kind says otherwise.
            $takes = !$passive && $port->flag('gateway', !$gateway);
            $gateway = $gateway || $takes;
            $ports[] = new KindPort(
                $port->requireText('name'),
                $passive,
                $port->text('mode', $read->text('mode', 'static')),
                $takes,
                $port->text('goesTo'),
            );
        }

        return $ports;
    }
}
