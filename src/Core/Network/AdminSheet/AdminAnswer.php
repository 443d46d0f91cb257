<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\AdminSheet;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\NearMiss;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Plan\SegmentCheck;
use Vorhut\Core\Text\Message;

/** An answer of the administrator, compared with known facts: impossible values are refused at once, unusual ones get a warning. */
final readonly class AdminAnswer
{
    private const DNS = 53;
    private const NTP = 123;

    /** @param list<Message> $odd what makes one look twice */
    private function __construct(public Edit $edit, public array $odd)
    {
    }

    /** @throws Malformed if the value cannot answer the question */
    public static function read(Plan $plan, AdminQuestion $asked, string $text): self
    {
        $field = Schema::field($asked->section, $asked->field) ?? throw new Malformed('This is not asked for.');
        $row = 'job' === $asked->section ? $plan->jobRow() : $plan->row($asked->section, $asked->key) ?? [];
        $value = $field->read($text);
        if (null === $value || '' === $value || [] === $value) {
            throw new Malformed('An answer is missing.');
        }
        $edit = Edit::put($asked->section, $asked->key, $asked->field, $row[$asked->field] ?? null, $value);
        $after = $plan->with(new Change(new Message(''), [$edit]));
        $segment = 'segments' === $asked->section ? $after->segments[$asked->key] ?? null : null;
        $why = null === $segment ? null : SegmentCheck::whyNot($segment, $after->catalogue, $asked->field);
        if (null !== $why) {
            throw Malformed::because('{why}', ['why' => $why]);
        }

        return new self($edit, match ($asked->field) {
            'gateway' => self::gateway($after, $asked->key, Ipv4::tryFromString(\is_string($value) ? $value : '')),
            'dns' => self::server($after, $asked, Ipv4::tryFromString(\is_string($value) ? $value : ''), self::DNS),
            'ntp' => self::server($after, $asked, Ipv4::tryFromString(\is_string($value) ? $value : ''), self::NTP),
            'vlan' => self::vlan($after, $asked->key, \is_int($value) ? $value : 0),
            default => [],
        });
    }

    /** @return list<Message> */
    private static function gateway(Plan $after, string $key, ?Ipv4 $gateway): array
    {
        if (null === $gateway) {
            return [];
        }
        $odd = [];
        $ports = $after->routerPortsOn($key);
        $here = array_map(static fn ($port): string => (string) $port->address, $ports);
        if ([] !== $ports && !\in_array((string) $gateway, $here, true)) {
            $odd[] = new Message('The plan has the router of this segment at {there}.', ['there' => implode(', ', $here)]);
            foreach ($here as $there) {
                $slip = NearMiss::of($there, (string) $gateway);
                if (null !== $slip) {
                    $odd[] = new Message('{given} and {there}: {slip}', [
                        'given' => (string) $gateway,
                        'there' => $there,
                        'slip' => new Message($slip->label()),
                    ]);
                }
            }
        }
        foreach (NetworkModel::of($after, Face::Set)->holders($key, $gateway) as $host) {
            if (!$host->forwards) {
                $odd[] = new Message('{tag} has this address.', ['tag' => $host->label]);
            }
        }

        return $odd;
    }

    /** @return list<Message> */
    private static function server(Plan $after, AdminQuestion $asked, ?Ipv4 $address, int $port): array
    {
        if (null === $address) {
            return [];
        }
        $odd = [];
        foreach ([$after->job->text('dns'), $after->job->text('ntp'), ...array_map(
            static fn ($segment): string => (string) $segment->dns,
            array_values($after->segments),
        )] as $other) {
            if ((string) $address !== $other && NearMiss::Swapped === NearMiss::of($other, (string) $address)) {
                $odd[$other] = new Message('{given} and {there}: {slip}', [
                    'given' => (string) $address,
                    'there' => $other,
                    'slip' => new Message(NearMiss::Swapped->label()),
                ]);
            }
        }
        $model = NetworkModel::of($after, Face::Set);
        $holder = null;
        foreach ($model->allHolders($address) as $host) {
            $holder ??= $host->device;
        }
        $segments = 'segments' === $asked->section ? [$asked->key] : array_map(strval(...), array_keys($after->segments));
        if (null === $holder) {
            $home = $after->segmentAround($address);
            if (null !== $home) {
                $odd[] = new Message('No device of this job holds {address} on {segment}.', [
                    'address' => (string) $address,
                    'segment' => $home->name,
                ]);
            }

            return array_values($odd);
        }
        foreach ($segments as $key) {
            $from = OutpostKey::on($key);
            if (null === $model->host($from)) {
                continue;
            }
            $broken = Walker::between($model, $from, $holder, Port::udp($port))->brokenHop();
            if (null !== $broken) {
                $odd[] = new Message('From {segment} it is not reached: {why}', [
                    'segment' => $after->segments[$key]->name,
                    'why' => $broken->text,
                ]);
            }
        }

        return array_values($odd);
    }

    /** @return list<Message> */
    private static function vlan(Plan $after, string $key, int $vlan): array
    {
        foreach ($after->segments as $other) {
            if ($other->key !== $key && $other->vlan === $vlan) {
                return [new Message('{segment} has VLAN {vlan} already.', ['segment' => $other->name, 'vlan' => $vlan])];
            }
        }

        return [];
    }
}
