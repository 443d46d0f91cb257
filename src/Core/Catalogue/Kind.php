<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Port;

/**
 * What is true of every device of a kind, read from a data file. A kind is never a make: "desk phone, PoE". Code asks it for
 * roles, effects and settings, and never what it is called.
 */
final readonly class Kind
{
    /** @var array<string, Setting> slot → setting, of the device itself and its items */
    public array $deviceSlots;
    /** @var array<string, array<string, Setting>> scope → name → setting */
    private array $byScope;
    /** A step of it puts something back. */
    public bool $putsBack;

    /**
     * @param list<Role>                   $roles
     * @param non-empty-list<FactoryState> $factoryStates the first is how it comes out of a new box
     * @param int                          $rank          what others depend on has the lower rank and is brought up first
     * @param int                          $boot          seconds from power to answering
     * @param list<KindPort>               $ports
     * @param list<Socket>                 $sockets
     * @param array<string, Setting>       $settings      by name
     * @param list<Service>                $services
     * @param list<string>                 $discovery     methods by which it can be found: mdns, range
     * @param list<string>                 $tells         who can tell its address, in order of effort
     * @param list<Step>                   $steps
     * @param list<HandTest>               $handTests     what a person is asked at the proof
     * @param string|null                  $provisioning  template of its file
     * @param bool                         $writable      takes its settings over HTTP, as $admin says
     * @param list<string>                 $kit           what is in its box
     * @param list<LicenceTerm>            $licences
     * @param float|null                   $weight        kg
     * @param int|null                     $units         of a rack
     * @param int|null                     $fetches       kbit/s that it takes from outside while it plays
     * @param int|null                     $warmest       degrees Celsius around it, at most
     * @param list<Play>                   $plays         what its stand-in does in the lab beyond its services
     */
    private function __construct(
        public string $code,
        public string $name,
        public array $roles,
        public array $factoryStates,
        public Login $login,
        public int $boot,
        public int $rank,
        public array $ports,
        public array $sockets,
        public array $settings,
        public array $services,
        public array $discovery,
        public ?string $discoveryService,
        public array $tells,
        public array $steps,
        public array $handTests,
        public ?string $keypad,
        public ?string $provisioning,
        public bool $writable,
        public ?Admin $admin,
        public array $kit,
        public ?Power $power,
        public array $licences,
        public ?FirmwareRules $firmware,
        public ?ModuleSlots $modules,
        public ?float $weight,
        public ?int $units,
        public ?int $fetches,
        public ?int $warmest,
        public Panel $panel,
        public array $plays,
    ) {
        $byScope = [];
        $deviceSlots = [];
        foreach ($settings as $name => $setting) {
            $byScope[$setting->scope->value][$name] = $setting;
            if (\in_array($setting->scope, [SettingScope::Device, SettingScope::Item], true)) {
                foreach ($setting->slots() as $slot) {
                    $deviceSlots[$slot] = $setting;
                }
            }
        }
        $this->byScope = $byScope;
        $this->putsBack = [] !== array_filter($steps, static fn (Step $step): bool => null !== $step->undoes);
        $this->deviceSlots = $deviceSlots;
    }

    /**
     * @param array<mixed> $data the decoded data file
     *
     * @throws Malformed naming the field
     */
    public static function fromArray(string $code, array $data, SharedSettings $shared = new SharedSettings()): self
    {
        $read = new Reading($data, \sprintf('kind %s', $code));
        $states = array_map(self::state(...), $read->each('factory'));
        if ([] === $states) {
            throw Malformed::because('{of}: "{name}" is missing.', ['of' => $read->of(), 'name' => 'factory']);
        }
        $login = new Reading((array) ($data['login'] ?? []), $read->of().', login');

        return new self(
            $code,
            $read->requireText('name'),
            array_map(static fn (string $role): Role => Role::tryFrom($role)
                ?? throw Malformed::because(
                    '{of}: there is no role "{role}".',
                    ['of' => $read->of(), 'role' => $role],
                ), $read->texts('roles')),
            $states,
            new Login(
                $login->word(LoginPattern::class, 'pattern', $login->text('pattern', $read->has('login') ? 'fixed' : 'none')),
                $login->text('user'),
                $login->text('password'),
                $login->flag('forcedChange'),
                $login->text('certificate', 'none'),
            ),
            (int) $read->text('boot', '30'),
            (int) $read->text('rank', '5'),
            self::ports($read),
            array_map(
                static fn (Reading $one): Socket => new Socket($one->text('name'), $one->text('takes'), (int) $one->text('count', '1')),
                $read->each('sockets'),
            ),
            $shared->of($read),
            array_map(static fn (Reading $one): Service => new Service(
                $one->text('name'),
                Port::fromString($one->text('port')),
                'own-subnet' === $one->text('scope'),
                $one->textOrNull('follows'),
            ), $read->each('services')),
            $read->texts('discovery'),
            $read->textOrNull('discoveryService'),
            $read->texts('tells'),
            array_map(Step::read(...), $read->each('steps')),
            array_map(HandTest::read(...), $read->each('handTests')),
            $read->textOrNull('keypad'),
            $read->textOrNull('provisioning'),
            $read->flag('writable'),
            $read->has('admin') ? Admin::fromArray((array) $data['admin']) : null,
            $read->texts('kit'),
            $read->has('power') ? Power::read(new Reading((array) $data['power'], $read->of().', power')) : null,
            array_map(LicenceTerm::read(...), $read->each('licences')),
            $read->has('firmware') ? FirmwareRules::read(new Reading((array) $data['firmware'], $read->of().', firmware')) : null,
            $read->has('modules') ? ModuleSlots::read(new Reading((array) $data['modules'], $read->of().', modules')) : null,
            $read->has('weight') ? $read->number('weight', 0.0) : null,
            $read->has('units') ? (int) $read->number('units', 0.0) : null,
            $read->has('fetches') ? (int) $read->number('fetches', 0.0) : null,
            $read->has('warmest') ? (int) $read->number('warmest', 0.0) : null,
            Panel::read(new Reading((array) ($data['panel'] ?? []), $read->of().', panel')),
            array_map(Play::read(...), $read->each('plays')),
        );
    }

    public function has(Role $role): bool
    {
        return \in_array($role, $this->roles, true);
    }

    /** Its admin page is reached by TLS, with a certificate that nobody else vouches for. */
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
     * @param \Closure(string): ?string $planned by the name of a setting; blank or null for what is not wanted
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
