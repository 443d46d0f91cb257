<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\Role;

/**
 * What other records of the plan say about a device: its ports, its other settings, its modules, its streams, NAT, and the devices with
 * another role. Read from the rows, as the devices themselves are not made yet.
 *
 * @phpstan-import-type RowData from Edit
 * @phpstan-import-type Rows from Plan
 */
final class DeviceSources
{
    /** @var array<string, list<Row>>|null device → its ports */
    private ?array $ports = null;
    /** @var array<string, list<Row>>|null device → the streams that it sends */
    private ?array $sent = null;
    /** @var array<string, list<string>>|null device → the senders whose streams it receives */
    private ?array $received = null;
    /** @var array<string, array<array-key, string>> role → device → its address */
    private array $ofRole = [];
    private readonly NearbyDevice $nearby;

    /**
     * @param Rows                                  $rows
     * @param array<string, array<string, RowData>> $values record → slot → stored values
     */
    public function __construct(private readonly array $rows, private readonly array $values, private readonly Catalogue $catalogue)
    {
        $this->nearby = new NearbyDevice($rows);
    }

    /**
     * @param string $of `port`, `port:NAME`, `own`, `modules`, `stream`, `nat`, `role:ROLE`, `room:KINDS`, `subnet:KINDS`, `site:KINDS` or
     *                   `via:SETTING`
     *
     * @return string|null null where it is not known, or not unique
     */
    public function value(string $device, string $of, string $field): ?string
    {
        [$what, $which] = explode(':', $of, 2) + [1 => ''];

        return match ($what) {
            'port' => $this->ofPort($device, $which, $field),
            'own' => $this->planned('devices/'.$device, $field),
            'modules' => $this->countOfModules($device, $field),
            'stream' => $this->ofStream($device, $field),
            'nat' => $this->outsideAddress($device),
            'role' => $this->ofOthers($device, $which, 'address' === $field),
            'room' => $this->nearby->inRoom($device, explode('+', $which)),
            'subnet' => $this->nearby->inSubnet($device, explode('+', $which)),
            'site' => $this->nearby->onSite($device, explode('+', $which)),
            'via' => $this->ofPartner($device, $which, $field),
            default => null,
        };
    }

    /** A setting of the device that another setting names. */
    private function ofPartner(string $device, string $setting, string $field): ?string
    {
        $partner = $this->planned('devices/'.$device, $setting);
        foreach ($this->kind($device)->settings[$setting]->inherits ?? [] as [$of, $name]) {
            $partner ??= $this->value($device, $of, $name);
        }

        return null === $partner ? null : $this->planned('devices/'.$partner, $field);
    }

    private function planned(string $record, string $slot): ?string
    {
        $value = (new Row($this->values[$record][$slot] ?? []))->textOrNull('planned');

        return '' === $value ? null : $value;
    }

    private function kind(string $device): ?Kind
    {
        return $this->catalogue->kind((new Row($this->rows['devices'][$device] ?? []))->text('kind'));
    }

    /** @return list<Row> */
    private function portsOf(string $device): array
    {
        if (null === $this->ports) {
            $this->ports = [];
            foreach ($this->rows['nics'] ?? [] as $nic) {
                $row = new Row($nic);
                $this->ports[$row->text('device')][] = $row;
            }
        }

        return $this->ports[$device] ?? [];
    }

    /** The first port with this value, or the one of this name. `network` is that of its segment. */
    private function ofPort(string $device, string $name, string $field): ?string
    {
        foreach ($this->portsOf($device) as $port) {
            if ('' !== $name && $name !== $port->text('name')) {
                continue;
            }
            $value = 'network' === $field
                ? (new Row($this->rows['segments'][$port->text('segment')] ?? []))->textOrNull('network')
                : $this->planned('nics/'.$port->text('key'), $field);
            if (null !== $value) {
                return $value;
            }
        }

        return null;
    }

    /** How many sockets of a sort the planned modules give; null while no module is planned that gives any. */
    private function countOfModules(string $device, string $setting): ?string
    {
        $kind = $this->kind($device);
        $slots = $kind?->modules;
        $what = $slots?->counts[$setting] ?? null;
        if (null === $kind || null === $slots || null === $what) {
            return null;
        }
        $modules = [];
        foreach ($kind->settings[$slots->setting]->slots() as $slot) {
            $modules[] = $this->planned('devices/'.$device, $slot) ?? '';
        }
        $gives = array_filter($modules, static fn (string $one): bool => [] !== ($slots->gives[$one] ?? []));

        return [] === $gives ? null : (string) $slots->count($what, $modules);
    }

    /** `sender` of what it receives; `codec`, `size`, `frameRate` and `kbit` of what it sends, where all its streams agree. */
    private function ofStream(string $device, string $field): ?string
    {
        $this->indexStreams();
        $values = 'sender' === $field
            ? $this->received[$device] ?? []
            : array_filter(array_map(static fn (Row $stream): ?string => match ($field) {
                'size' => 0 < $stream->int('width') && 0 < $stream->int('height') ? $stream->int('width').'x'.$stream->int('height') : null,
                default => $stream->textOrNull($field),
            }, $this->sent[$device] ?? []), is_string(...));
        $values = array_values(array_unique($values));

        return 1 === \count($values) ? $values[0] : null;
    }

    private function indexStreams(): void
    {
        if (null !== $this->sent) {
            return;
        }
        $this->sent = $this->received = $sender = [];
        foreach ($this->rows['streams'] ?? [] as $key => $stream) {
            $row = new Row($stream);
            $this->sent[$row->text('sender')][] = $row;
            $sender[$key] = $row->text('sender');
        }
        foreach ($this->rows['deliveries'] ?? [] as $delivery) {
            $row = new Row($delivery);
            $this->received[$row->text('device')][] = $sender[$row->text('stream')] ?? '';
        }
    }

    /** The outside address that NAT gives one of its addresses, for it alone or by its ports. */
    private function outsideAddress(string $device): ?string
    {
        $own = array_filter(array_map(
            fn (Row $port): ?string => $this->planned('nics/'.$port->text('key'), 'address'),
            $this->portsOf($device),
        ), is_string(...));
        $outside = [];
        foreach ([] === $own ? [] : $this->rows['translations'] ?? [] as $translation) {
            $row = new Row($translation);
            if (TranslationKind::Source->value !== $row->text('what') && \in_array($row->text('inside'), $own, true)) {
                $outside[] = $row->textOrNull('address') ?? $this->addressOfRouter($row->text('router'), $row->text('outside'));
            }
        }
        $outside = array_values(array_unique(array_filter($outside, is_string(...))));

        return 1 === \count($outside) ? $outside[0] : null;
    }

    private function addressOfRouter(string $router, string $segment): ?string
    {
        foreach ($this->rows['routerPorts'] ?? [] as $port) {
            $row = new Row($port);
            if ($row->text('router') === $router && $row->text('segment') === $segment) {
                return $row->textOrNull('address');
            }
        }

        return null;
    }

    /** Of the other devices with a role: one address where one is meant (`address`), or all of them (`addresses`). */
    private function ofOthers(string $device, string $role, bool $isOne): ?string
    {
        $addresses = array_values(array_diff_key($this->addressesOf($role), [$device => '']));
        sort($addresses, \SORT_NATURAL);

        return [] === $addresses || ($isOne && \count($addresses) > 1) ? null : implode(', ', $addresses);
    }

    /** @return array<array-key, string> device → its planned address */
    private function addressesOf(string $role): array
    {
        if (!isset($this->ofRole[$role])) {
            $this->ofRole[$role] = [];
            foreach ($this->rows['devices'] ?? [] as $key => $device) {
                $roles = $this->catalogue->kind((new Row($device))->text('kind'))->roles ?? [];
                $address = \in_array(Role::tryFrom($role), $roles, true) ? $this->ofPort((string) $key, '', 'address') : null;
                if (null !== $address) {
                    $this->ofRole[$role][$key] = $address;
                }
            }
        }

        return $this->ofRole[$role];
    }
}
