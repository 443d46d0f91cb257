<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Discovery;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Text\Message;

/** Whether a device is found from a place in one way, why, and where it is not, what would find it. */
final readonly class Findable implements \JsonSerializable
{
    private const NAMES = 53;

    /** @param bool|null $found null where the job does not tell */
    private function __construct(public Method $method, public ?bool $found, public Message $why)
    {
    }

    /**
     * By every way that its kind answers to, and by its address, and its name.
     *
     * @param string $place segment that is looked from
     *
     * @return list<self>
     */
    public static function all(NetworkModel $model, string $place, Device $device): array
    {
        $found = [];
        foreach (Method::all() as $code => $method) {
            if (\in_array($method->reach, [Method::UNICAST, Method::NAME], true) || \in_array($code, $device->kind->discovery, true)) {
                $found[] = self::by($model, $place, $device, $method);
            }
        }

        return $found;
    }

    public static function by(NetworkModel $model, string $place, Device $device, Method $method): self
    {
        $there = $device->nic()?->segment;
        $at = [
            'tag' => $device->tag,
            'place' => $model->segmentName($place),
            'segment' => $model->segmentName((string) $there),
            'to' => $method->to,
            'source' => $method->source,
        ];
        $refusal = $model->refusal($device->key);
        [$found, $why] = match ($method->reach) {
            Method::UNICAST => self::byMulticast($model, $place, $device),
            Method::NAME => self::byName($model, $place, $device, $at),
            default => match (true) {
                null === $there => [false, new Message('{tag} is plugged into no segment.', $at)],
                null !== $refusal => [false, $refusal->text],
                $there === $place => self::beside($model, $place, $device, $method, $at),
                Method::GROUP === $method->reach && $method->isRouted => self::byUnicast($model, $place, $there, $device, $method, $at),
                default => [false, new Message('Never crosses a router ({source}).', $at)],
            },
        };

        return new self($method, $found, $why);
    }

    /**
     * @param array<string, string> $at
     *
     * @return array{bool, Message}
     */
    private static function beside(NetworkModel $model, string $place, Device $device, Method $method, array $at): array
    {
        $held = $model->hostsOf($device->key)[0]->address ?? null;

        if (null === $held && Method::LINK !== $method->reach) {
            return [false, new Message('{tag} has no address.', $at)];
        }
        $lost = Method::GROUP === $method->reach ? self::lostAnswer($model, $place, $device) : null;
        if (null !== $lost && $method->answersByUnicast) {
            return [false, new Message(
                '{tag} hears the question and answers by unicast, which does not arrive: {why}',
                $at + ['why' => $lost],
            )];
        }
        if (null !== $lost) {
            // RFC 6762 §5.4 and §6.7: a program may ask for an answer by unicast, and one that asks from another port gets no other.
            return [true, new Message(
                'Asker and {tag} share {segment}. A program that takes answers by unicast does not hear it: {why}',
                $at + ['why' => $lost],
            )];
        }

        return [true, new Message('Asker and {tag} share {segment}.', $at)];
    }

    /** Why an answer that a device sends to the address of an asker does not arrive; null where it does. */
    private static function lostAnswer(NetworkModel $model, string $place, Device $device): ?Message
    {
        if (null === $model->host(OutpostKey::on($place))) {
            return null;
        }

        $port = Port::udp(Walker::ASKING_PORT);

        return Walker::oneWay($model, $device->key, OutpostKey::on($place), $port)->brokenHop()?->text;
    }

    /**
     * @param array<string, string> $at
     *
     * @return array{bool, Message}
     */
    private static function byUnicast(NetworkModel $model, string $place, string $there, Device $device, Method $method, array $at): array
    {
        $hops = Delivery::hops($model->plan, $place, $there);
        $lost = null === $hops || !$method->answersByUnicast ? null : self::lostAnswer($model, $place, $device);

        return match (true) {
            null === $hops => [false, new Message('No router routes groups from {place} to {segment}.', $at)],
            $method->ttl <= $hops => [false, new Message('Sent with a TTL of {ttl}, and [hops router is|routers are] on the way.', [
                'ttl' => $method->ttl,
                'hops' => $hops,
            ])],
            null !== $lost => [false, new Message(
                '{tag} hears the question and answers by unicast, which does not arrive: {why}',
                $at + ['why' => $lost],
            )],
            default => [true, new Message('Groups are routed from {place} to {segment}.', $at)],
        };
    }

    /** @return array{bool, Message} */
    private static function byMulticast(NetworkModel $model, string $place, Device $device): array
    {
        $service = $device->serviceNamed('admin') ?? $device->services()[0] ?? null;
        $walk = Walker::between($model, OutpostKey::on($place), $device->key, $service?->port);

        return [$walk->holds(), $walk->brokenHop()->text ?? new Message('Its address answers.')];
    }

    /**
     * @param array<string, string> $at
     *
     * @return array{bool|null, Message}
     */
    private static function byName(NetworkModel $model, string $place, Device $device, array $at): array
    {
        $name = $device->setting('hostName')->effective(Face::Set) ?? '';
        $segment = $model->segment($place);
        $job = $model->plan->job;
        $server = null === $segment ? Ipv4::tryFromString($job->text('dns')) : $segment->dnsServer($job);
        if ('' === $name || null === $server) {
            return [false, '' === $name
                ? new Message('{tag} has no name in the plan.', $at)
                : new Message('On {place} no DNS server is known.', $at)];
        }
        $at += ['name' => $name, 'server' => (string) $server];
        foreach ($model->allHolders($server) as $host) {
            $broken = null === $host->device || null === $model->host(OutpostKey::on($place))
                ? null
                : Walker::between($model, OutpostKey::on($place), $host->device, Port::udp(self::NAMES))->brokenHop();
            if (null !== $broken) {
                return [false, new Message('The DNS server {server} is not reached: {why}', $at + ['why' => $broken->text])];
            }
        }

        return [null, new Message('If {server} knows {name}: the administrator says.', $at)];
    }

    /** @return array<string, string|bool|null> */
    public function jsonSerialize(): array
    {
        return ['method' => $this->method->code, 'found' => $this->found, 'why' => (string) $this->why, 'source' => $this->method->source];
    }
}
