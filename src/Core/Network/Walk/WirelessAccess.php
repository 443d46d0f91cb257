<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;

/**
 * Computes which wireless devices have network access: IEEE 802.1X blocks a device until the authentication server accepts it. A setting
 * that is not recorded never causes a refusal.
 */
final class WirelessAccess
{
    /** The settings that access depends on. */
    public const READS = ['networkName', 'wirelessSecurity', 'eapMethod', 'authServer', 'methods', 'clientAddresses'];

    /** @var array<string, list<Device>>|null network name → controllers that offer it */
    private ?array $offers = null;
    /** @var array<string, Refusal|null> device → why it is refused */
    private array $known = [];
    /** @var array<string, Walk> controller → walk to its authentication server */
    private array $asked = [];

    public function __construct(private readonly NetworkModel $model)
    {
    }

    /** Why a device is refused; null if it has access, is wired, or too little is known. */
    public function refusal(string $device): ?Refusal
    {
        if (!\array_key_exists($device, $this->known)) {
            $supplicant = $this->model->device($device);
            $this->known[$device] = null !== $supplicant && self::isSupplicant($supplicant) ? $this->judge($supplicant) : null;
        }

        return $this->known[$device];
    }

    /** Whether it is a wireless client and not a controller. */
    private static function isSupplicant(Device $device): bool
    {
        return null !== $device->kind->setting('networkName') && !self::isController($device);
    }

    private static function isController(Device $device): bool
    {
        return null !== $device->kind->setting('networkName') && null !== $device->kind->setting('authServer');
    }

    private function judge(Device $device): ?Refusal
    {
        $name = $this->value($device, 'networkName');
        $offers = $this->offers();
        if ([] === $offers || null === $device->setting('networkName')->effective($this->model->face)) {
            return null;
        }
        if ('' === $name) {
            return new Refusal(
                new Message('{tag} is set to no Wi-Fi network. Offered: {offered}.', [
                    'tag' => $device->tag,
                    'offered' => implode(', ', array_map(strval(...), array_keys($offers))),
                ]),
                $this->read($device, 'networkName'),
            );
        }
        if (!isset($offers[$name])) {
            $facts = $this->read($device, 'networkName');
            foreach ($offers as $controllers) {
                $facts->take($this->read($controllers[0], 'networkName'));
            }

            return new Refusal(new Message('{tag} is set to the Wi-Fi network {name}, which no controller offers. Offered: {offered}.', [
                'tag' => $device->tag,
                'name' => $name,
                'offered' => implode(', ', array_map(strval(...), array_keys($offers))),
            ]), $facts);
        }
        $refusal = null;
        foreach ($offers[$name] as $controller) {
            $refusal = $this->refusedBy($controller, $device);
            if (null === $refusal) {
                return null;
            }
        }

        return $refusal;
    }

    private function refusedBy(Device $controller, Device $device): ?Refusal
    {
        $at = ['tag' => $device->tag, 'controller' => $controller->tag];
        $offered = $this->value($controller, 'wirelessSecurity');
        $wanted = $this->value($device, 'wirelessSecurity');
        if ('' !== $offered && '' !== $wanted && $offered !== $wanted) {
            $facts = $this->read($device, 'wirelessSecurity');
            $facts->take($this->read($controller, 'wirelessSecurity'));

            return new Refusal(
                new Message('{tag} uses {wanted}, {controller} uses {offered}.', $at + ['wanted' => $wanted, 'offered' => $offered]),
                $facts,
            );
        }
        $server = $this->model->device($this->value($controller, 'authServer'));
        if (null === $server || !str_ends_with($offered ?: $wanted, 'Enterprise')) {
            return null;
        }
        $at['server'] = $server->tag;

        return $this->wrongMethod($server, $device, $at)
            ?? $this->unknownClient($server, $controller, $at)
            ?? $this->unreachable($server, $controller, $at);
    }

    /** @param array<string, string> $at */
    private function wrongMethod(Device $server, Device $device, array $at): ?Refusal
    {
        $methods = ValueType::List->parts($this->value($server, 'methods'));
        $method = $this->value($device, 'eapMethod');
        if ([] === $methods || '' === $method || \in_array($method, $methods, true)) {
            return null;
        }
        $facts = $this->read($device, 'eapMethod');
        $facts->take($this->read($server, 'methods'));
        $at += ['method' => $method, 'methods' => implode(', ', $methods)];

        return new Refusal(new Message('{tag} uses the EAP method {method}; {server} accepts only {methods}.', $at), $facts);
    }

    /**
     * A server silently drops requests from addresses that are not in its client list (RFC 2865 §3).
     *
     * @param array<string, string> $at
     */
    private function unknownClient(Device $server, Device $controller, array $at): ?Refusal
    {
        $clients = ValueType::List->parts($this->value($server, 'clientAddresses'));
        $address = $this->model->hostsOf($controller->key)[0]->address ?? null;
        if ([] === $clients || null === $address || \in_array((string) $address, $clients, true)) {
            return null;
        }
        $facts = $this->read($server, 'clientAddresses');
        $this->model->hostsOf($controller->key)[0]->note($facts, 'address');
        $at += ['address' => (string) $address, 'clients' => implode(', ', $clients)];

        return new Refusal(
            new Message('{server} drops requests of {controller} from {address}, which is not in its client list ({clients}).', $at),
            $facts,
        );
    }

    /** @param array<string, string> $at */
    private function unreachable(Device $server, Device $controller, array $at): ?Refusal
    {
        $port = $server->serviceNamed('radius')?->port;
        // A server that is itself a wireless client would make this recursive.
        if (null === $port || self::isSupplicant($server)) {
            return null;
        }
        $walk = $this->asked[$controller->key] ??= Walker::between($this->model, $controller->key, $server->key, $port);

        return $walk->holds() ? null : new Refusal(
            new Message('{controller} gets no answer from {server}: {why}', $at + ['why' => $walk->brokenHop()->text ?? '']),
            $walk->facts,
        );
    }

    /** @return array<string, list<Device>> network name → controllers that offer it */
    private function offers(): array
    {
        if (null === $this->offers) {
            $this->offers = [];
            foreach ($this->model->plan->devices as $device) {
                $name = self::isController($device) ? $this->value($device, 'networkName') : '';
                if ('' !== $name) {
                    $this->offers[$name][] = $device;
                }
            }
        }

        return $this->offers;
    }

    /** The value of a setting; '' if it is not known or the kind has no such setting. */
    private function value(Device $device, string $name): string
    {
        return null === $device->kind->setting($name) ? '' : (string) $device->setting($name)->effective($this->model->face);
    }

    private function read(Device $device, string $name): Facts
    {
        $facts = new Facts();
        $facts->note($device->record().':'.$name, $this->value($device, $name));

        return $facts;
    }
}
