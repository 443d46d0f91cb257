<?php

declare(strict_types=1);

namespace Vorhut\Core\Walk;

use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;

/**
 * Whether a wireless device gets into the network at all: IEEE 802.1X keeps its port shut until the authentication server accepts it, and
 * an address is of no use behind a shut port. What is not recorded refuses nobody.
 */
final class WirelessAccess
{
    /** The settings of all devices that it judges by. */
    public const READS = ['networkName', 'wirelessSecurity', 'eapMethod', 'authServer', 'methods', 'clientAddresses'];

    /** @var array<string, list<Device>>|null network name → controllers that offer it */
    private ?array $offers = null;
    /** @var array<string, Refusal|null> device → why it is kept out */
    private array $known = [];
    /** @var array<string, Walk> controller → the way to its authentication server */
    private array $asked = [];

    public function __construct(private readonly NetworkModel $model)
    {
    }

    /** Why a device is kept out of the wireless network; null where it is let in, is wired, or too little is known. */
    public function refusal(string $device): ?Refusal
    {
        if (!\array_key_exists($device, $this->known)) {
            $supplicant = $this->model->device($device);
            $this->known[$device] = null !== $supplicant && self::isSupplicant($supplicant) ? $this->judge($supplicant) : null;
        }

        return $this->known[$device];
    }

    /** A device that is let into a wireless network, rather than one that lets others in. */
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
        $name = $this->told($device, 'networkName');
        $offers = $this->offers();
        if ('' === $name || [] === $offers) {
            return null;
        }
        if (!isset($offers[$name])) {
            $facts = $this->read($device, 'networkName');
            foreach ($offers as $controllers) {
                $facts->take($this->read($controllers[0], 'networkName'));
            }

            return new Refusal(new Message('{tag} looks for the network {name}, and no controller offers it: there is {offered}.', [
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
        $offered = $this->told($controller, 'wirelessSecurity');
        $wanted = $this->told($device, 'wirelessSecurity');
        if ('' !== $offered && '' !== $wanted && $offered !== $wanted) {
            $facts = $this->read($device, 'wirelessSecurity');
            $facts->take($this->read($controller, 'wirelessSecurity'));

            return new Refusal(
                new Message('{tag} is set to {wanted}, {controller} to {offered}.', $at + ['wanted' => $wanted, 'offered' => $offered]),
                $facts,
            );
        }
        $server = $this->model->device($this->told($controller, 'authServer'));
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
        $methods = ValueType::List->parts($this->told($server, 'methods'));
        $method = $this->told($device, 'eapMethod');
        if ([] === $methods || '' === $method || \in_array($method, $methods, true)) {
            return null;
        }
        $facts = $this->read($device, 'eapMethod');
        $facts->take($this->read($server, 'methods'));
        $at += ['method' => $method, 'methods' => implode(', ', $methods)];

        return new Refusal(new Message('{tag} asks to get in by {method}, and {server} accepts {methods} only.', $at), $facts);
    }

    /**
     * A server drops what comes from an address that it does not know as a client (RFC 2865 §3).
     *
     * @param array<string, string> $at
     */
    private function unknownClient(Device $server, Device $controller, array $at): ?Refusal
    {
        $clients = ValueType::List->parts($this->told($server, 'clientAddresses'));
        $address = $this->model->hostsOf($controller->key)[0]->address ?? null;
        if ([] === $clients || null === $address || \in_array((string) $address, $clients, true)) {
            return null;
        }
        $facts = $this->read($server, 'clientAddresses');
        $this->model->hostsOf($controller->key)[0]->note($facts, 'address');
        $at += ['address' => (string) $address, 'clients' => implode(', ', $clients)];

        return new Refusal(
            new Message('{controller} asks {server} from {address}, which is none of its clients ({clients}): {tag} gets no answer.', $at),
            $facts,
        );
    }

    /** @param array<string, string> $at */
    private function unreachable(Device $server, Device $controller, array $at): ?Refusal
    {
        $port = $server->serviceNamed('radius')?->port;
        // A server that is itself let in by the controller would be asked in a circle.
        if (null === $port || self::isSupplicant($server)) {
            return null;
        }
        $walk = $this->asked[$controller->key] ??= Walker::between($this->model, $controller->key, $server->key, $port);

        return $walk->holds() ? null : new Refusal(
            new Message('{controller} gets no answer from {server}: {why}', $at + ['why' => $walk->broken()->text ?? '']),
            $walk->facts,
        );
    }

    /** @return array<string, list<Device>> network name → controllers that offer it */
    private function offers(): array
    {
        if (null === $this->offers) {
            $this->offers = [];
            foreach ($this->model->plan->devices as $device) {
                $name = self::isController($device) ? $this->told($device, 'networkName') : '';
                if ('' !== $name) {
                    $this->offers[$name][] = $device;
                }
            }
        }

        return $this->offers;
    }

    /** What a device is told, or '' where that is not known or where its kind has no such setting. */
    private function told(Device $device, string $name): string
    {
        return null === $device->kind->setting($name) ? '' : (string) $device->setting($name)->effective($this->model->face);
    }

    private function read(Device $device, string $name): Facts
    {
        $facts = new Facts();
        $facts->note($device->record().':'.$name, $this->told($device, $name));

        return $facts;
    }
}
