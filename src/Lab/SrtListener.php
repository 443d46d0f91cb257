<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Srt\Handshake;
use Vorhut\Core\Wire\Srt\KeyMaterial;
use Vorhut\Socket\Background;

/** An SRT listener (draft-sharabayko-srt-01 §4.3.1): accepts callers with its passphrase, or any caller if it has none. */
final class SrtListener implements Behaviour
{
    /** So many streams at once. */
    private const ROOM = 64;
    /** One that is not heard so long is gone: seconds. */
    private const GONE = 10.0;
    private const LATENCY = 120;

    private GatedDatagrams $socket;
    private readonly string $salt;
    /** @var array<string, array{socket: int, at: float}> address, port and socket of who pushes → our own of it */
    private array $taken = [];

    /**
     * @param \Closure(): ?string   $passphrase the passphrase that callers need; null for none
     * @param \Closure(string): void $say
     */
    public function __construct(
        private readonly SimulatedNetwork $network,
        private readonly StandIn $standIn,
        Ipv4 $address,
        int $port,
        private readonly \Closure $passphrase,
        private readonly \Closure $say,
    ) {
        $this->salt = random_bytes(16);
        $this->socket = new GatedDatagrams($network, $standIn->state->device, $address, $port);
        Background::run('srt', function (): void {
            while (null !== $received = $this->socket->receive()) {
                $this->take($received[0], $received[1], $received[2]);
            }
        });
    }

    public function end(): void
    {
        $this->socket->close();
    }

    private function take(Ipv4 $peer, int $port, string $bytes): void
    {
        $now = microtime(true);
        $said = Handshake::tryFromString($bytes);
        if (null === $said) {
            $this->receive($peer, $port, $bytes, $now);

            return;
        }
        $cookie = $this->cookie($peer, $port);
        if ($said->isInduction()) {
            $this->socket->send($peer, $port, (string) $said->induct($cookie, $peer));

            return;
        }
        // A caller without the cookie used a false source address.
        if (!$said->isConclusion() || $said->cookie !== $cookie) {
            return;
        }
        $this->socket->send($peer, $port, (string) $this->conclude($said, $peer, $port, $now));
    }

    private function conclude(Handshake $said, Ipv4 $peer, int $port, float $now): Handshake
    {
        $this->taken = array_filter($this->taken, static fn (array $one): bool => $now - $one['at'] < self::GONE);
        $key = $peer.':'.$port.'#'.$said->socket;
        $passphrase = ($this->passphrase)();
        $keys = $said->extensions[Handshake::KMREQ] ?? null;
        if ((null === $passphrase) !== (null === $keys)) {
            return $said->reject(Handshake::UNSECURE, $peer);
        }
        if (null !== $keys && null === KeyMaterial::unwrap($keys, (string) $passphrase)) {
            return $said->reject(Handshake::BAD_SECRET, $peer);
        }
        if (!isset($this->taken[$key]) && \count($this->taken) >= self::ROOM) {
            return $said->reject(1003, $peer);
        }
        if (!isset($this->taken[$key])) {
            $site = $this->network->siteOf($peer);
            $name = null === $site ? (string) $peer : ($this->network->nameOf($site) ?? (string) $site);
            $this->taken[$key] = ['socket' => random_int(1, 0x3FFF_FFFF), 'at' => $now];
            ($this->say)(\sprintf('%s takes a stream of %s by SRT.', $this->standIn->state->device, $name));
        }
        $socket = $this->taken[$key]['socket'];
        $this->taken[$key] = ['socket' => $socket, 'at' => $now];
        $its = Handshake::latency($said->extensions[Handshake::HSREQ] ?? '') ?? self::LATENCY;
        $own = (int) $this->standIn->state->get('latency');

        // The greater of the two latencies holds for both (§4.4).
        return $said->accept($socket, $peer, [
            Handshake::HSRSP => Handshake::terms(min(0xFFFF, max($its, $own, self::LATENCY))),
        ] + (null === $keys ? [] : [Handshake::KMRSP => $keys]));
    }

    /** Whatever comes from one who pushes says that he is still there; the end of it says that he is not. */
    private function receive(Ipv4 $peer, int $port, string $bytes, float $now): void
    {
        if (\strlen($bytes) < 16) {
            return;
        }
        /** @var array{1: int} $to */
        $to = unpack('N', $bytes, 12);
        foreach ($this->taken as $key => $one) {
            if ($one['socket'] === $to[1] && str_starts_with($key, $peer.':'.$port.'#')) {
                if (Handshake::isShutdown($bytes)) {
                    unset($this->taken[$key]);
                } else {
                    $this->taken[$key]['at'] = $now;
                }
            }
        }
    }

    private function cookie(Ipv4 $peer, int $port): int
    {
        /** @var array{1: int} $cookie */
        $cookie = unpack('N', hash_hmac('sha256', $peer.':'.$port, $this->salt, true));

        return $cookie[1] | 1;
    }
}
