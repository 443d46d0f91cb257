<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Media\PushTarget;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Transport;

/** A server for each service of a kind: its admin page, RADIUS, SRT, RTSP, or a TCP port that greets. */
final class ServiceBehaviours implements BehaviourSource
{
    public function of(Simulation $simulation, StandIn $standIn, Ipv4 $address): iterable
    {
        foreach ($standIn->services() as $service) {
            $make = $this->server($simulation, $standIn, $address, $service);
            if (null !== $make) {
                yield $make;
            }
        }
    }

    /** @return (\Closure(): Behaviour)|null */
    private function server(Simulation $simulation, StandIn $standIn, Ipv4 $address, Service $service): ?\Closure
    {
        $admin = $standIn->kind->admin;
        $host = $simulation->network()->loopback->of($address);
        $port = $service->port->number;

        return match (true) {
            'admin' === $service->name && null !== $admin => static fn (): Behaviour => AdminPage::at($standIn, $admin, $host, $port),
            'radius' === $service->name => static fn (): Behaviour => self::radius($simulation, $standIn, $address, $port),
            PushTarget::SERVICE === $service->name => static fn (): Behaviour => self::srt($simulation, $standIn, $address, $port),
            'rtsp' === $service->name => static fn (): Behaviour => RtspServer::at($standIn, $address, $host, $port),
            Transport::Tcp === $service->port->transport => static fn (): Behaviour => TcpServer::greeting(
                $host,
                $port,
                $standIn->kind->name.' '.$service->name,
            ),
            default => null,
        };
    }

    private static function radius(Simulation $simulation, StandIn $standIn, Ipv4 $address, int $port): RadiusServer
    {
        return new RadiusServer(
            $simulation->network(),
            $standIn,
            $address,
            $port,
            static fn (Ipv4 $client): ?string => $simulation->secrets()->sharedWith(
                $standIn,
                $simulation->network()->nameOf($client) ?? '',
            ),
            static fn (): array => $simulation->secrets()->usersOf($standIn),
            $simulation->say(...),
        );
    }

    private static function srt(Simulation $simulation, StandIn $standIn, Ipv4 $address, int $port): SrtListener
    {
        return new SrtListener(
            $simulation->network(),
            $standIn,
            $address,
            $port,
            static fn (): ?string => PushTarget::SEALED === $standIn->state->get('takesWith')
                ? $simulation->secrets()->passphraseOf($standIn->state->device)
                : null,
            $simulation->say(...),
        );
    }
}
