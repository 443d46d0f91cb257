<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Media\NamedHosts;
use Vorhut\Core\Media\PushTarget;
use Vorhut\Core\Media\StreamUrl;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Stream;
use Vorhut\Core\Text\Message;

/** What streams need: those that are pushed, fetched, or sent to one receiver. Filters do not look at multicast. */
final readonly class MediaFlows implements FlowSource
{
    /** Where a stream without a port of its own goes (RFC 3551 §8). */
    private const RTP = 5004;

    private NamedHosts $hosts;

    public function __construct(private FlowList $flows)
    {
        $this->hosts = NamedHosts::of($flows->plan, Face::Planned);
    }

    public function collect(): void
    {
        foreach ($this->flows->plan->devices as $device) {
            $this->addPush($device);
        }
        foreach ($this->flows->plan->streams as $stream) {
            $this->addStream($stream);
        }
    }

    /** A pushed stream, to a device of the job or to an address outside. */
    private function addPush(Device $device): void
    {
        $url = StreamUrl::pushedBy($device, Face::Planned);
        $number = null === $url ? null : $url->port ?? StreamUrl::PORTS[$url->scheme] ?? null;
        if (null === $url || null === $number || '' === $url->host) {
            return;
        }
        $port = 'srt' === $url->scheme ? Port::udp($number) : Port::tcp($number);
        $at = ['tag' => $device->tag, 'host' => $url->host];
        $taker = $this->hosts->find($url->host, $device);
        $address = Ipv4::tryFromString($url->host);
        $service = $taker?->service($port);
        if (null !== $taker && null !== $service) {
            $this->flows->add($device->key, $taker, $service, new Message('{tag} pushes its stream to {host}.', $at));
        } elseif (null === $taker) {
            // Where a name leads is not known to the job.
            $this->flows->out(
                $device,
                $address ?? FlowList::elsewhere(),
                $port,
                new Message('{tag} pushes its stream to {host}.', $at),
                isAnywhere: null === $address,
            );
        }
    }

    /** Unicast streams: the receiver requests RTSP, the sender sends every other kind. */
    private function addStream(Stream $stream): void
    {
        $sender = $this->flows->plan->devices[$stream->sender] ?? null;
        if (null === $sender) {
            return;
        }
        // Where it goes is not planned; without a port nothing can be asked for.
        $hasPort = null !== $stream->port || 'RTMP' === $stream->transport;
        if ($stream->outside && $hasPort && '' === ($sender->setting('pushUrl')->planned ?? '')) {
            $why = new Message('{stream} of {sender} leaves the site.', ['stream' => $stream->name, 'sender' => $sender->tag]);
            $this->flows->out($sender, FlowList::elsewhere(), self::portOf($stream), $why, isAnywhere: true);
        }
        if (!$stream->multicast) {
            foreach ($stream->receivers as $key) {
                $receiver = $this->flows->plan->devices[$key] ?? null;
                if (null !== $receiver) {
                    $this->addStreamTo($stream, $sender, $receiver);
                }
            }
        }
    }

    private function addStreamTo(Stream $stream, Device $sender, Device $receiver): void
    {
        $why = new Message('{receiver} receives {stream} of {sender}.', [
            'receiver' => $receiver->tag,
            'stream' => $stream->name,
            'sender' => $sender->tag,
        ]);
        $rtsp = 'RTSP' === $stream->transport ? $sender->serviceNamed('rtsp') : null;
        if (null !== $rtsp) {
            $this->flows->add($receiver->key, $sender, $rtsp, $why);
        }
        $here = $sender->nic()?->segment;
        $there = $receiver->nic()?->segment;
        if ('RTSP' === $stream->transport || null === $here || null === $there || $here === $there) {
            return;
        }
        $port = self::portOf($stream, $receiver);
        $this->flows->addFlow(new Flow($sender->key, $receiver->key, $port, $port->number, $why, isServed: false));
    }

    /** The port that a stream goes to: its own, else the one at which the receiver takes such streams. */
    private static function portOf(Stream $stream, ?Device $receiver = null): Port
    {
        if ('RTMP' === $stream->transport) {
            return Port::tcp($stream->port ?? (int) StreamUrl::PORTS['rtmp']);
        }
        $taken = 'SRT' === $stream->transport ? $receiver?->serviceNamed(PushTarget::SERVICE) : null;

        return Port::udp($stream->port ?? $taken->port->number ?? self::RTP);
    }
}
