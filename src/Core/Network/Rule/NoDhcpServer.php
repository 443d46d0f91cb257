<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** Devices in a segment wait for a lease without a DHCP server, or with a pool that is too small. */
final class NoDhcpServer implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $waiting = $pooled = [];
        foreach ($context->nics() as [$device, $nic]) {
            if ($nic->reserved || $nic->pooled) {
                $waiting[$nic->segment ?? ''][] = $device->tag;
                $pooled[$nic->segment ?? ''] = ($pooled[$nic->segment ?? ''] ?? 0) + ($nic->pooled ? 1 : 0);
            }
        }
        foreach ($waiting as $key => $tags) {
            $segment = $context->plan->segments[$key] ?? null;
            if (null === $segment) {
                continue;
            }
            $room = 0;
            foreach ($segment->pools as $pool) {
                $room += $pool->count();
            }
            $at = [
                'segment' => $segment->name,
                'tags' => implode(', ', \array_slice($tags, 0, 5)).(\count($tags) > 5 ? ' …' : ''),
                'n' => $pooled[$key],
                'room' => $room,
            ];
            if (!$segment->dhcp) {
                yield new Finding(
                    'dhcp-not-served',
                    Severity::Blocks,
                    Stage::Networks,
                    ['segments/'.$key],
                    new Message('{segment} has no DHCP server, but {tags} need an address from one.', $at),
                    new Message('They assign themselves an address in 169.254.0.0/16 and cannot be reached from other segments.'),
                    new Message('Ask for a DHCP server or a relay on {segment}, or plan static addresses.', $at),
                );
            } elseif ($pooled[$key] > $room) {
                yield new Finding(
                    'pool-too-small',
                    Severity::Blocks,
                    Stage::Networks,
                    ['segments/'.$key],
                    new Message('[n device|devices] on {segment} need an address from its DHCP pools, which have only {room}.', $at),
                    new Message('The last device to start gets no address, and that can be a different one each day.'),
                    new Message('Extend the DHCP pools of {segment}, or plan static addresses.', $at),
                );
            }
        }
    }
}
