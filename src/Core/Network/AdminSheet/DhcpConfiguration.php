<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\AdminSheet;

use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;

/**
 * Scopes, reservations and options in the format of dnsmasq: a file that an administrator can start from, or read as a list. Only segments
 * with a DHCP client or a pool.
 */
final class DhcpConfiguration
{
    private const LEASE = '12h';

    public static function of(Plan $plan, AdminSheet $sheet): string
    {
        $name = self::plain($plan->job->text('name'));
        $lines = ['# '.$name, '# Checked by: dnsmasq --test --conf-file=FILE', 'port=0', 'dhcp-authoritative'];
        foreach ($plan->segments as $segment) {
            $own = self::scope($plan, $sheet, $segment);
            if ([] !== $own) {
                $lines = [...$lines, '', '# '.self::plain($segment->name).' '.$segment->network, ...$own];
            }
        }

        return implode("\n", $lines)."\n";
    }

    /** @return list<string> */
    private static function scope(Plan $plan, AdminSheet $sheet, Segment $segment): array
    {
        $tag = preg_replace('/[^a-z0-9]+/', '-', $segment->key) ?? 'scope';
        $mask = $segment->network->mask->toDotted();
        $waits = array_filter($plan->nicsOn($segment->key), static fn ($nic): bool => $nic->reserved || $nic->pooled);
        if ($segment->isSelfAssigned() || ([] === $waits && [] === $segment->pools)) {
            return [];
        }
        $lines = [];
        foreach ($segment->pools as $pool) {
            $lines[] = "dhcp-range=set:$tag,$pool->first,$pool->last,$mask,".self::LEASE;
        }
        if ([] === $segment->pools) {
            $lines[] = "dhcp-range=set:$tag,{$segment->network->address},static,$mask,".self::LEASE;
        }
        if (null === $segment->gateway) {
            // Without this line the server names itself as the router (RFC 2132 §3.5).
            $lines[] = "dhcp-option=tag:$tag,3";
        }
        foreach ($sheet->options as $one) {
            if ($one['segment']->key === $segment->key) {
                foreach ($one['options'] as $option) {
                    $lines[] = "dhcp-option=tag:$tag,$option->code,".match ($option->code) {
                        120 => implode(':', explode(' ', $option->hex())),
                        default => self::plain(str_replace(', ', ',', $option->text())),
                    };
                }
            }
        }
        foreach ($waits as $nic) {
            $address = $nic->plannedAddress();
            $device = $plan->devices[$nic->device] ?? null;
            if ($nic->reserved && $nic->mac instanceof Mac && null !== $address && null !== $device) {
                $name = $device->nic() === $nic ? $device->setting('hostName')->effective(Face::Planned) ?? '' : '';
                $lines[] = 'dhcp-host='.$nic->mac->format(':').','.$address.('' === $name ? '' : ','.$name);
            }
        }

        return $lines;
    }

    /** Text that a person wrote stays on one line and cannot end a value. */
    private static function plain(string $text): string
    {
        return trim(preg_replace('/[\x00-\x1F\x7F"#]+/', ' ', $text) ?? '');
    }
}
