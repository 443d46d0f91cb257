<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\KindPort;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network6;

/**
 * Makes typed objects of the plain rows of a job.
 *
 * @phpstan-import-type RowData from Edit
 * @phpstan-import-type Rows from Plan
 */
final readonly class PlanRows
{
    /**
     * @param Rows                                  $rows
     * @param array<string, array<string, RowData>> $values record → slot → stored values
     */
    public function __construct(
        private array $rows,
        private array $values,
        private Catalogue $catalogue,
        private Inheritance $inheritance,
    ) {
    }

    /**
     * @param array<array-key, RowData> $settings
     *
     * @return array<string, array<string, RowData>> record → slot → stored values
     */
    public static function valuesOf(array $settings): array
    {
        $values = [];
        foreach ($settings as $key => $row) {
            $key = (string) $key;
            $at = strpos($key, '#') ?: \strlen($key);
            $values[substr($key, 0, $at)][substr($key, $at + 1)] = $row;
        }

        return $values;
    }

    /**
     * @param array<string, Segment> $segments
     *
     * @return array<string, Nic>
     */
    public function nics(array $segments): array
    {
        $kindOf = array_map(
            fn (array $row): ?Kind => $this->catalogue->kind((new Row($row))->text('kind')),
            $this->rows['devices'] ?? [],
        );

        return $this->each('nics', fn (Row $row): Nic => $this->nic(
            $row,
            $kindOf[$row->text('device')] ?? null,
            $segments[$row->text('segment')] ?? null,
        ));
    }

    /**
     * @param array<string, Nic> $nics
     *
     * @return array<string, Device> in roster order
     */
    public function devices(array $nics): array
    {
        $nicsOf = [];
        foreach ($nics as $nic) {
            $nicsOf[$nic->device][] = $nic;
        }
        $devices = $this->each('devices', fn (Row $row): Device => $this->device($row, $nicsOf[$row->text('key')] ?? []));
        uasort($devices, static fn (Device $a, Device $b): int => [$a->position, $a->key] <=> [$b->position, $b->key]);

        return $devices;
    }

    /**
     * @param array<string, Extension> $extensions
     *
     * @return array<string, Extension> in the order of numbers
     */
    public function byNumber(array $extensions): array
    {
        uasort($extensions, static fn (Extension $a, Extension $b): int => [$a->number, $a->key] <=> [$b->number, $b->key]);

        return $extensions;
    }

    /** @return array<string, Stream> */
    public function streams(): array
    {
        $receivers = [];
        foreach ($this->rows['deliveries'] ?? [] as $row) {
            $receivers[(new Row($row))->text('stream')][] = (new Row($row))->text('device');
        }

        return $this->each('streams', static fn (Row $row): Stream => Stream::fromRow($row, $receivers[$row->text('key')] ?? []));
    }

    /** @return array<string, list<RowData>> device → its marks */
    public function marks(): array
    {
        $marks = [];
        foreach ($this->rows['marks'] ?? [] as $row) {
            $marks[(new Row($row))->text('device')][] = $row;
        }

        return $marks;
    }

    /** @return array<string, list<Observation>> test → observations, in the order in which they came */
    public function observations(): array
    {
        $all = array_values($this->each('observations', Observation::fromRow(...)));
        usort($all, Observation::compare(...));
        $observations = [];
        foreach ($all as $observation) {
            $observations[$observation->test][] = $observation;
        }

        return $observations;
    }

    /**
     * @param array<string, Device>    $devices
     * @param array<string, Extension> $extensions
     *
     * @return array<string, Account>
     */
    public function accounts(array $devices, array $extensions): array
    {
        return $this->each('accounts', function (Row $row) use ($devices, $extensions): Account {
            $phone = $devices[$extensions[$row->text('extension')]->phone ?? ''] ?? null;

            return $this->account($row, $phone?->kind);
        });
    }

    private function account(Row $row, ?Kind $kind): Account
    {
        return Account::fromRow($row, new Settings(
            $this->values['accounts/'.$row->text('key')] ?? [],
            $kind?->settingsOf(SettingScope::Account) ?? [],
            fn (Setting $setting): ?string => $this->inheritance->ofSegment($setting, null),
        ));
    }

    private function nic(Row $row, ?Kind $kind, ?Segment $segment): Nic
    {
        $port = $kind?->port($row->text('name'));
        $values = $this->values['nics/'.$row->text('key')] ?? [];
        // A port without an address has no use for a mask or a gateway, and inherits none.
        $addressed = isset($values['address']['planned']);
        [$address6, $network6] = '' === $row->text('address6') ? [null, null] : Network6::interface($row->text('address6'));

        return new Nic(
            $row->text('key'),
            $row->text('device'),
            $row->text('name'),
            Mac::tryFromString($row->text('mac')),
            $row->textOrNull('segment'),
            'reserved' === $row->text('mode'),
            'dhcp' === $row->text('mode'),
            $row->bool('locked'),
            true === $port?->passive,
            array_map(static function (string $held): array {
                [$address, $prefix] = explode('/', $held, 2) + [1 => ''];

                return [Ipv4::fromString($address), Mask::fromString('/'.$prefix)];
            }, $row->texts('also')),
            $address6,
            $network6,
            Ipv6::tryFromString($row->text('gateway6')) ?? (null === $address6 ? null : $segment?->gateway6),
            new Settings(
                $values,
                $kind?->settingsOf(SettingScope::Port) ?? [],
                fn (Setting $setting): ?string => $addressed && ('gateway' !== $setting->name || false !== $port?->gateway)
                    ? $this->inheritance->ofSegment($setting, $segment)
                    : null,
            ),
        );
    }

    /** @param list<Nic> $nics */
    private function device(Row $row, array $nics): Device
    {
        $kind = $this->catalogue->kind($row->text('kind')) ?? throw Malformed::because(
            '{tag} is of a kind "{kind}" that the library does not hold.',
            ['tag' => $row->text('tag'), 'kind' => $row->text('kind')],
        );
        if (\count($nics) > 1) {
            $order = array_flip(array_map(static fn (KindPort $port): string => $port->name, $kind->ports));
            usort($nics, static fn (Nic $a, Nic $b): int => [$order[$a->name] ?? 99, $a->key] <=> [$order[$b->name] ?? 99, $b->key]);
        }

        return new Device(
            $row->text('key'),
            $row->text('tag'),
            $kind,
            $row->text('room'),
            $row->text('serial'),
            $row->textOrNull('controlledFrom'),
            'deny' !== $row->text('filterDefault'),
            $row->bool('stateful', true),
            'deny' !== $row->text('filterSameInterface'),
            $kind->factoryState($row->text('arrives'))->at(
                Ipv4::tryFromString($row->text('labelAddress')),
                Mask::tryFromString($row->text('labelMask')),
            ),
            $row->textOrNull('labelUser'),
            $row->textOrNull('labelHostName'),
            $nics,
            new Settings(
                $this->values['devices/'.$row->text('key')] ?? [],
                $kind->deviceSlots,
                fn (Setting $setting): ?string => $this->inheritance->ofDevice($row->text('key'), $setting),
            ),
            $row->int('position', 9999),
        );
    }

    /**
     * @template T of object
     *
     * @param callable(Row): T                  $make
     * @param callable(T): array{int, string} $by
     *
     * @return list<T> in the order of what $by gives
     */
    public function sorted(string $section, callable $make, callable $by): array
    {
        $all = array_values($this->each($section, $make));
        usort($all, static fn (object $a, object $b): int => $by($a) <=> $by($b));

        return $all;
    }

    /**
     * @template T
     *
     * @param callable(Row): T $make
     *
     * @return array<string, T>
     */
    public function each(string $section, callable $make): array
    {
        $objects = [];
        foreach ($this->rows[$section] ?? [] as $key => $row) {
            $objects[(string) $key] = $make(new Row($row));
        }

        return $objects;
    }
}
