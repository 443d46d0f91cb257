<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\CancelledException;
use Amp\Socket\ClientTlsContext;
use Amp\Socket\TlsException;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Outpost\Device\CertificatePin;
use Vorhut\Outpost\Device\DeviceDoor;

/** Whether a service answers: over TCP by a connection, at a web page by a request, over TLS by a handshake, over UDP by SIP. */
final readonly class ReachProbe implements Probe
{
    private const ANSWER_SECONDS = 2.0;
    /** Ports at which TLS begins at once: HTTPS, SIP over TLS (RFC 3261 §19.1.2). */
    private const SECURED = [443, 5061];

    public function kind(): TestKind
    {
        return TestKind::Reach;
    }

    public function run(ProbeContext $context, ProofTest $test): Evidence
    {
        $device = $context->plan->devices[$test->to] ?? null;
        $address = $context->target($device);
        if (null === $device || null === $address) {
            return Evidence::notAsked(new Message('it has no address in a network of this job'));
        }
        $place = $context->place;
        $port = $test->port ?? Port::tcp(80);
        $from = \sprintf('%s > %s:%s', $place->address, $address, $port);
        if (Transport::Udp === $port->transport) {
            // Over UDP only a protocol with replies shows that a service is there; here it is SIP.
            $caller = new SipCaller($context->access, $place, 'outpost', '', $port->number);
            try {
                return $caller->alive($address);
            } finally {
                $caller->close();
            }
        }
        try {
            $isAdmin = 'admin' === $device->service($port)?->name;
            if ($isAdmin && (self::SECURED[0] !== $port->number || $device->kind->isSelfSigned())) {
                $trust = $device->kind->isSelfSigned() ? new CertificatePin($device->setting(DeviceDoor::CERTIFICATE)->seen) : null;
                $response = $context->http->ask($place, $address, $port->number, 'GET', '/', null, '', self::ANSWER_SECONDS, $trust);

                return new Evidence(
                    Outcome::Answers,
                    new Message('HTTP {status}, "{title}"', ['status' => $response->status, 'title' => $response->title()]),
                    [
                        $from,
                        'HTTP '.$response->status,
                        'title: '.$response->title(),
                        ...(null === $trust?->seen ? [] : ['certificate: '.$trust->seen]),
                    ],
                );
            }
            if (\in_array($port->number, self::SECURED, true)) {
                return self::handshake($context, $address, $port, $from);
            }
            $context->access->connect($place->address, $address, $port->number, self::ANSWER_SECONDS)->close();

            return new Evidence(Outcome::Answers, new Message('the connection was taken'), [$from, 'connected']);
        } catch (NoAnswer $e) {
            return new Evidence($e->outcome, $e->message(), [$from, $e->getMessage()]);
        } catch (ParseError $e) {
            return new Evidence(Outcome::Answers, new Message('the answer is not a web page'), [$from, $e->getMessage()]);
        }
    }

    /**
     * With TLS, a connection proves little: the handshake is made, and the certificate checked against the authorities of this machine (RFC
     * 5280 §6). With an address no name can be checked.
     *
     * @throws NoAnswer
     */
    private static function handshake(ProbeContext $context, Ipv4 $address, Port $port, string $from): Evidence
    {
        $socket = $context->access->connect(
            $context->place->address,
            $address,
            $port->number,
            self::ANSWER_SECONDS,
            (new ClientTlsContext())->withoutPeerNameVerification(),
        );
        try {
            $socket->setupTls(new TimeoutCancellation(self::ANSWER_SECONDS));
        } catch (TlsException $e) {
            if (str_contains($e->getMessage(), 'certificate verify failed')) {
                throw NoAnswer::badCertificate('it is not signed by an authority that this machine trusts');
            }

            return new Evidence(Outcome::Answers, new Message('something answers that speaks no TLS'), [$from, $e->getMessage()]);
        } catch (CancelledException) {
            throw NoAnswer::silence(self::ANSWER_SECONDS);
        } finally {
            $socket->close();
        }

        return new Evidence(Outcome::Answers, new Message('the handshake was made, its certificate is trusted'), [$from, 'TLS']);
    }
}
