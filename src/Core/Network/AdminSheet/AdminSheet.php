<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\AdminSheet;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Network\Reachability\RequiredFirewallRules;
use Vorhut\Core\Network\Reachability\RulesTable;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Dhcp\Option;

/**
 * The sheet for the network administrator: questions about missing facts, and none about known ones; settings to paste; and traffic to
 * allow.
 */
final readonly class AdminSheet
{
    /**
     * @param list<AdminQuestion>                                                              $questions
     * @param list<array{segment: Segment, device: string, mac: string, address: string}> $reservations
     * @param list<array{segment: Segment, options: list<Option>}>                        $options
     * @param list<array{segment: Segment, what: string, dscp: string, port: string}>    $marking
     * @param list<array<string, string>>                                              $rules        as RulesTable has them
     */
    private function __construct(
        public array $questions,
        public array $reservations,
        public array $options,
        public array $marking,
        public array $rules,
    ) {
    }

    /** @param string|null $files address of the file server of this job, for options 66 and 43 */
    public static function of(Plan $plan, ?string $files = null): self
    {
        return new self(
            [...self::ofTheJob($plan), ...self::ofSegments($plan)],
            self::reservations($plan),
            self::options($plan, $files),
            self::marking($plan),
            RulesTable::rows($plan, RequiredFirewallRules::of($plan, true)),
        );
    }

    public function question(string $code): ?AdminQuestion
    {
        foreach ($this->questions as $one) {
            if ($one->code() === $code) {
                return $one;
            }
        }

        return null;
    }

    /** @return list<AdminQuestion> */
    private static function ofTheJob(Plan $plan): array
    {
        $asked = [];
        foreach ([
            'dns' => [new Message('Which DNS server may the devices ask?'), '10.64.10.53'],
            'ntp' => [new Message('Which time server may the devices ask?'), '10.64.10.1'],
            'domain' => [new Message('Which domain do their names end in?'), 'av.example'],
        ] as $field => [$text, $example]) {
            if ('' === $plan->job->text($field)) {
                $asked[] = new AdminQuestion('job', '', $field, $plan->job->text('name'), $text, $example);
            }
        }

        return $asked;
    }

    /** @return list<AdminQuestion> */
    private static function ofSegments(Plan $plan): array
    {
        $asked = [];
        $waits = $grouped = [];
        foreach ($plan->nics as $nic) {
            if ($nic->reserved || $nic->pooled) {
                $waits[$nic->segment ?? ''] = ($waits[$nic->segment ?? ''] ?? false) || $nic->pooled;
            }
        }
        foreach ($plan->records('groups') as $row) {
            $sender = $plan->devices[$row->text('sender')] ?? null;
            $grouped[$sender?->nic()->segment ?? ''] = true;
        }
        foreach ($plan->segments as $segment) {
            $questions = [
                ...self::ofRouting($plan, $segment),
                ...self::ofDhcp($plan, $segment, $waits[$segment->key] ?? null),
                ...(isset($grouped[$segment->key]) ? self::ofGroups($segment) : []),
            ];
            foreach ($questions as [$field, $text, $example]) {
                $asked[] = new AdminQuestion('segments', $segment->key, $field, $segment->name.' '.$segment->network, $text, $example);
            }
        }

        return $asked;
    }

    /** @return iterable<array{string, Message, string}> field, question, example */
    private static function ofRouting(Plan $plan, Segment $segment): iterable
    {
        if (null === $segment->gateway && $segment->routed && !$segment->isSelfAssigned()) {
            $text = new Message('Which address does the router have here? Write - if it has none, and why.');
            yield ['gateway', $text, (string) $segment->network->firstHost()];
        }
        if (!$segment->isVlanKnown) {
            yield ['vlan', new Message('Which VLAN is it? Write - if it is untagged.'), '20'];
        }
        if (null === $segment->dns && $segment->hasDns && '' === $plan->job->text('dns') && !$segment->isSelfAssigned()) {
            yield ['dns', new Message('Which DNS server do devices here use? Write - if there is none.'), '10.64.10.53'];
        }
    }

    /**
     * @param bool|null $pooled whether a device here takes any leased address; null if none uses DHCP
     *
     * @return iterable<array{string, Message, string}>
     */
    private static function ofDhcp(Plan $plan, Segment $segment, ?bool $pooled): iterable
    {
        if (null === $pooled || [] !== $segment->pools) {
            return;
        }
        if (null === ($plan->row('segments', $segment->key)['dhcp'] ?? null)) {
            yield ['dhcp', new Message('Is DHCP served here, by a server or a relay? Write served or none.'), 'served'];
        }
        if ($pooled) {
            $text = new Message('Which range of addresses does DHCP lease?');
            yield ['pools', $text, $segment->network->firstHost().'-9'];
        }
    }

    /** @return iterable<array{string, Message, string}> */
    private static function ofGroups(Segment $segment): iterable
    {
        if (null === $segment->querier) {
            yield ['querier', new Message('Is there an IGMP querier? Answer yes or no.'), 'yes'];
        }
        if (null === $segment->snooping) {
            yield ['snooping', new Message('Is IGMP snooping on at the switches? Answer yes or no.'), 'yes'];
        }
    }

    /** @return list<array{segment: Segment, device: string, mac: string, address: string}> */
    private static function reservations(Plan $plan): array
    {
        $reservations = [];
        foreach ($plan->devices as $device) {
            foreach ($device->activeNics() as $nic) {
                $segment = $plan->segments[$nic->segment ?? ''] ?? null;
                $address = $nic->plannedAddress();
                if ($nic->reserved && null !== $segment && null !== $address && null !== $nic->mac && !$address->isLinkLocal()) {
                    $reservations[] = [
                        'segment' => $segment,
                        'device' => $device->tag,
                        'mac' => (string) $nic->mac,
                        'address' => (string) $address,
                    ];
                }
            }
        }

        return $reservations;
    }

    /** @return list<array{segment: Segment, options: list<Option>}> */
    private static function options(Plan $plan, ?string $files): array
    {
        $all = [];
        foreach ($plan->segments as $segment) {
            $nics = array_filter($plan->nicsOn($segment->key), static fn ($nic): bool => $nic->reserved || $nic->pooled);
            if ([] === $nics && [] === $segment->pools) {
                continue;
            }
            $options = [];
            foreach ([
                3 => (string) $segment->gateway,
                6 => (string) $segment->dnsServer($plan->job),
                15 => $plan->job->text('domain'),
                42 => (string) Ipv4::tryFromString($plan->job->text('ntp')),
                66 => $segment->voice ? (string) $files : '',
                120 => $segment->voice ? self::registrars($plan) : '',
            ] as $code => $text) {
                try {
                    if ('' !== $text) {
                        $options[] = Option::fromText($code, $text);
                    }
                } catch (Malformed) {
                    // A value that the option cannot have is a question or a finding elsewhere; a sheet to paste from leaves it out.
                    continue;
                }
            }
            $all[] = ['segment' => $segment, 'options' => $options];
        }

        return $all;
    }

    /**
     * How traffic from a segment is marked (RFC 3246, RFC 4594), and how the switch port is configured: a phone learns its VLAN by LLDP-MED
     * (TIA-1057), its second port stays untagged.
     *
     * @return list<array{segment: Segment, what: string, dscp: string, port: string}>
     */
    private static function marking(Plan $plan): array
    {
        $marking = [];
        foreach ($plan->segments as $segment) {
            $calls = $pictures = $two = false;
            foreach ($plan->nicsOn($segment->key) as $nic) {
                $kind = ($plan->devices[$nic->device] ?? null)?->kind;
                $calls = $calls || null !== $kind?->serviceNamed('media');
                $pictures = $pictures || null !== $kind?->serviceNamed('call') || null !== $kind?->serviceNamed('rtsp');
                $two = $two || (true === $kind?->has(Role::FileClient) && \count($kind->ports) > 1);
            }
            $port = match (true) {
                $two => 'voice VLAN by LLDP-MED, tagged; untagged for the device behind the phone; DSCP trusted',
                $calls, $pictures => 'untagged; trusts the mark, or marks anew',
                default => '',
            };
            foreach ([
                [$calls, 'sound of calls', 'EF 46'],
                [$calls, 'signalling of calls', 'CS3 24'],
                [$pictures, 'pictures of calls and cameras', 'AF41 34'],
            ] as [$has, $what, $dscp]) {
                if ($has) {
                    $marking[] = ['segment' => $segment, 'what' => $what, 'dscp' => $dscp, 'port' => $port];
                }
            }
        }

        return $marking;
    }

    private static function registrars(Plan $plan): string
    {
        $addresses = [];
        foreach ($plan->accounts as $account) {
            $address = ($plan->devices[$account->registrar] ?? null)?->nic()?->plannedAddress();
            if (null !== $address) {
                $addresses[(string) $address] = true;
            }
        }

        return implode(' ', array_keys($addresses));
    }

    /** @return list<array<string, string>> the questions as a table, to be sent back with the last column filled */
    public function rows(): array
    {
        return array_map(static fn (AdminQuestion $one): array => [
            'code' => $one->code(),
            'about' => $one->for,
            'question' => (string) $one->text,
            'example' => $one->example,
            'answer' => '',
        ], $this->questions);
    }
}
