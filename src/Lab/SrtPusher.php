<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Revolt\EventLoop;
use Vorhut\Core\Media\PushTarget;
use Vorhut\Core\Media\StreamUrl;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Wire\Srt\Handshake;
use Vorhut\Core\Wire\Srt\KeyMaterial;
use Vorhut\Socket\Background;

/** What pushes a stream by SRT as a caller: it calls until it is taken, and then says every second that it is there. */
final class SrtPusher implements Behaviour
{
    private const EVERY = 1.0;

    private GatedDatagrams $socket;
    private string $timer;
    private readonly int $id;
    private ?Handshake $listener = null;
    /** The far end's socket while it takes the stream. */
    private ?int $taken = null;

    /** @param \Closure(Ipv4): string $passphrase by address of the caller */
    public function __construct(
        SimulatedNetwork $network,
        private readonly StandIn $standIn,
        private readonly Ipv4 $address,
        private readonly \Closure $passphrase,
    ) {
        $this->id = random_int(1, 0x3FFF_FFFF);
        $this->socket = new GatedDatagrams($network, $standIn->state->device, $address, 0);
        $this->timer = EventLoop::unreference(EventLoop::repeat(self::EVERY, $this->say(...)));
        Background::run('srt', function (): void {
            while (null !== $received = $this->socket->receive()) {
                $this->hear($received[2]);
            }
        });
    }

    public function end(): void
    {
        EventLoop::cancel($this->timer);
        $target = $this->target();
        if (null !== $this->taken && null !== $target) {
            $this->socket->send($target[0], $target[1], Handshake::shutdown($this->taken));
        }
        $this->socket->close();
    }

    private function say(): void
    {
        $target = $this->target();
        if (null === $target) {
            $this->taken = $this->listener = null;

            return;
        }
        [$to, $port, $latency] = $target;
        if (null !== $this->taken) {
            $this->socket->send($to, $port, Handshake::keepAlive($this->taken));

            return;
        }
        $said = null === $this->listener
            ? Handshake::induction($this->id, $this->address, 1)
            : $this->listener->conclusion(
                $this->id,
                $this->address,
                1,
                [Handshake::HSREQ => Handshake::terms($latency)] + $this->keys($to),
            );
        // An unanswered handshake starts again: a cookie is valid only for a while.
        $this->listener = null;
        $this->socket->send($to, $port, (string) $said);
    }

    /** @return array<int, string> */
    private function keys(Ipv4 $to): array
    {
        return PushTarget::SEALED === $this->standIn->state->get('pushesWith')
            ? [Handshake::KMREQ => KeyMaterial::wrap(($this->passphrase)($to), random_bytes(16), random_bytes(16))]
            : [];
    }

    private function hear(string $bytes): void
    {
        if (Handshake::isShutdown($bytes)) {
            $this->taken = $this->listener = null;
        }
        $said = Handshake::tryFromString($bytes);
        if (null === $said || $said->to !== $this->id) {
            return;
        }
        if ($said->isListener()) {
            $this->listener = $said;
            $this->say();
        } elseif ($said->isConclusion()) {
            $this->taken = $said->socket;
        }
    }

    /** @return array{Ipv4, int, int}|null where it pushes to by SRT, and with which latency in ms */
    private function target(): ?array
    {
        $state = $this->standIn->state;
        if ('SRT' !== $state->get('pushProtocol')) {
            return null;
        }
        try {
            $url = StreamUrl::fromString($state->get('pushUrl'));
        } catch (Malformed) {
            return null;
        }
        $to = Ipv4::tryFromString($url->host);

        return null === $to || null === $url->port || 'caller' !== $url->mode()
            ? null
            : [$to, $url->port, min(0xFFFF, $url->latency() ?? max(120, (int) $state->get('latency')))];
    }
}
