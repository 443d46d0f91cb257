<?php

declare(strict_types=1);

namespace Vorhut\Core\Kind;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Port;

/**
 * What is true of every device of a kind, read from a data file. A kind is never a make: "desk phone, PoE".
 *
 * @phpstan-type Nic array{name: string, passive: bool}
 */
final readonly class Kind
{
    /**
     * @param list<Nic>     $nics
     * @param list<Service> $services
     * @param list<string>  $discovery    methods by which it can be found: mdns, range
     * @param list<string>  $transports   SIP transports, the first is its own choice
     * @param list<Step>    $steps
     * @param list<string>  $tells        who can tell its address, in order of effort
     * @param int           $rank         what others depend on has the lower rank and is brought up first
     * @param int           $boot         seconds from power to answering
     */
    private function __construct(
        public string $code,
        public string $name,
        public string $family,
        public FactoryState $factory,
        public ?Ipv4 $factoryAddress,
        public ?Mask $factoryMask,
        public string $loginUser,
        public string $loginPassword,
        public int $boot,
        public int $rank,
        public array $nics,
        public array $services,
        public array $discovery,
        public ?string $discoveryService,
        public array $transports,
        public array $steps,
        public array $tells,
        public string $mode,
        public ?string $keypad,
        public int $analoguePorts,
        public ?string $provisioning,
        public bool $writable,
        public bool $secondAddress,
        public bool $firmwareWanted,
        public ?Admin $admin,
    ) {
    }

    /**
     * @param array<mixed> $data the decoded data file
     *
     * @throws Malformed naming the field
     */
    public static function fromArray(string $code, array $data): self
    {
        $text = static fn (array $in, string $field, string $default = ''): string => \is_scalar($in[$field] ?? null) ? (string) $in[$field] : $default;
        $texts = static fn (array $in, string $field): array => array_values(array_map(strval(...), array_filter((array) ($in[$field] ?? []), is_scalar(...))));
        $maps = static fn (array $in, string $field): array => array_values(array_filter((array) ($in[$field] ?? []), is_array(...)));
        foreach (['name', 'family', 'factory'] as $needed) {
            if (!isset($data[$needed])) {
                throw new Malformed(\sprintf('Kind %s: "%s" is missing.', $code, $needed));
            }
        }
        $factory = (array) $data['factory'];
        $state = FactoryState::tryFrom($text($factory, 'state')) ?? throw new Malformed(\sprintf('Kind %s: factory state "%s" is not known.', $code, $text($factory, 'state')));
        [$address, $mask] = explode('/', $text($factory, 'address').'/', 3);
        if ($state->hasFixedAddress() && ('' === $address || '' === $mask)) {
            throw new Malformed(\sprintf('Kind %s: a fixed factory state needs an address as 192.168.1.10/24.', $code));
        }
        $login = (array) ($data['login'] ?? []);

        return new self(
            $code,
            $text($data, 'name'),
            $text($data, 'family'),
            $state,
            '' === $address ? null : Ipv4::fromString($address),
            '' === $mask ? null : Mask::fromString($mask),
            $text($login, 'user'),
            $text($login, 'password'),
            (int) $text($data, 'boot', '30'),
            (int) $text($data, 'rank', '5'),
            array_map(static fn (array $nic): array => ['name' => $text($nic, 'name'), 'passive' => true === ($nic['passive'] ?? false)], $maps($data, 'nics')),
            array_map(static fn (array $service): Service => new Service($text($service, 'name'), Port::fromString($text($service, 'port')), 'own-subnet' === $text($service, 'scope')), $maps($data, 'services')),
            $texts($data, 'discovery'),
            '' === $text($data, 'discoveryService') ? null : $text($data, 'discoveryService'),
            $texts($data, 'transports'),
            array_map(static fn (array $step): Step => new Step(
                $text($step, 'code'),
                $text($step, 'do'),
                $text($step, 'see'),
                (int) $text($step, 'hands', '30'),
                (int) $text($step, 'wait', '0'),
                $texts($step, 'values'),
                $texts($step, 'records'),
                '' === $text($step, 'caution') ? null : $text($step, 'caution'),
                true === ($step['keypad'] ?? false),
            ), $maps($data, 'steps')),
            $texts($data, 'tells'),
            $text($data, 'mode', 'static'),
            '' === $text($data, 'keypad') ? null : $text($data, 'keypad'),
            (int) $text($data, 'analoguePorts', '0'),
            '' === $text($data, 'provisioning') ? null : $text($data, 'provisioning'),
            true === ($data['writable'] ?? false),
            false !== ($data['secondAddress'] ?? true),
            true === ($data['firmwareWanted'] ?? false),
            isset($data['admin']) ? Admin::fromArray((array) $data['admin']) : null,
        );
    }

    public function factoryNetwork(): ?Network
    {
        return null !== $this->factoryAddress && null !== $this->factoryMask ? Network::around($this->factoryAddress, $this->factoryMask) : null;
    }

    public function service(Port $port): ?Service
    {
        foreach ($this->services as $service) {
            if ($service->port == $port) {
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

    public function isPhone(): bool
    {
        return 'phone' === $this->family;
    }

    public function isRegistrar(): bool
    {
        return 'pbx' === $this->family;
    }

    public function isRouter(): bool
    {
        return 'router' === $this->family;
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
}
