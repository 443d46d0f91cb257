<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Discovery;

use Vorhut\Core\Net\Group;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;

/** A multicast group of the job, with its senders and listeners. */
final readonly class MulticastGroup
{
    /** By default a multicast packet ends at the first router (RFC 1112 §6.1). */
    private const TTL = 1;

    /** @param list<Device> $receivers */
    private function __construct(
        public string $key,
        public string $name,
        public Group $group,
        public ?Device $sender,
        public int $ttl,
        public array $receivers,
    ) {
    }

    /** What one sends for all of its sort, without anybody having planned a group for it: a universe of light. */
    public static function of(string $name, Group $group, Device $sender, ?int $ttl = null): self
    {
        return new self('', $name, $group, $sender, $ttl ?? self::TTL, []);
    }

    /** @return list<self> by address */
    public static function all(Plan $plan): array
    {
        $joined = [];
        foreach ($plan->records('joins') as $row) {
            $device = $plan->devices[$row->text('device')] ?? null;
            if (null !== $device) {
                $joined[$row->text('group')][$device->key] = $device;
            }
        }
        $groups = array_map(static fn (Row $row): self => new self(
            $row->text('key'),
            $row->text('name'),
            Group::fromString($row->text('address')),
            $plan->devices[$row->text('sender')] ?? null,
            $row->int('ttl', self::TTL),
            array_values($joined[$row->text('key')] ?? []),
        ), $plan->records('groups'));
        $place = static fn (self $one): array => [$one->group->address->number, $one->key];
        usort($groups, static fn (self $a, self $b): int => $place($a) <=> $place($b));

        return $groups;
    }
}
