<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Kind\Kinds;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;

/**
 * The snapshot: one job at one moment, immutable, indexed once. All computation reads this and nothing else.
 *
 * It keeps the plain rows it was made of beside the typed objects, so that a change can be tried on it (`with()`) and so that
 * what is exported is what was read.
 *
 * @phpstan-import-type RowData from Edit
 *
 * @phpstan-type Rows array<string, array<string, RowData>>
 */
final class Plan
{
    /** @var array<string, Segment> */
    public readonly array $segments;
    /** @var array<string, Device> in roster order */
    public readonly array $devices;
    /** @var array<string, Nic> */
    public readonly array $nics;
    /** @var array<string, RouterPort> */
    public readonly array $routerPorts;
    /** @var array<string, StaticRoute> */
    public readonly array $routes;
    /** @var list<FilterRule> by position */
    public readonly array $filters;
    /** @var array<string, Extension> by key, in the order of numbers */
    public readonly array $extensions;
    /** @var array<string, Account> */
    public readonly array $accounts;
    /** @var array<string, Credential> */
    public readonly array $credentials;
    /** @var array<string, array<string, Mark>> device → step → mark */
    public readonly array $marks;
    /** @var array<string, Line> */
    public readonly array $lines;
    /** @var array<string, list<Observation>> test line → observations, oldest first */
    public readonly array $observations;
    public readonly Row $job;

    /**
     * @param RowData $jobRow
     * @param Rows    $rows
     */
    private function __construct(private readonly array $jobRow, private readonly array $rows, public readonly Kinds $kinds)
    {
        $this->job = new Row($jobRow);
        $this->segments = $this->each('segments', Segment::fromRow(...));
        $values = [];
        foreach ($this->each('values', static fn (Row $row): Row => $row) as $key => $row) {
            [$owner, $field] = explode('#', $key, 2) + [1 => ''];
            $values[$owner][$field] = new Faced(
                $row->textOrNull('planned'),
                $row->textOrNull('set'),
                $row->textOrNull('seen'),
                $row->textOrNull('setBy'),
                $row->textOrNull('setAt'),
                $row->textOrNull('seenBy'),
                $row->textOrNull('seenAt'),
            );
        }
        $kindOf = array_map(static fn (array $row): string => (new Row($row))->text('kind'), $rows['devices'] ?? []);
        $this->nics = $this->each('nics', fn (Row $row): Nic => $this->nic($row, $values['nics/'.$row->text('key')] ?? [], $kindOf[$row->text('device')] ?? ''));
        $nicsOf = [];
        foreach ($this->nics as $nic) {
            $nicsOf[$nic->device][] = $nic;
        }
        $devices = $this->each('devices', fn (Row $row): Device => new Device(
            $row->text('key'),
            $row->text('tag'),
            $this->kinds->find($row->text('kind')) ?? throw new Malformed(\sprintf('%s is of a kind "%s" that the library does not hold.', $row->text('tag'), $row->text('kind'))),
            $row->text('room'),
            $row->text('serial'),
            $row->textOrNull('controlledFrom'),
            'deny' !== $row->text('filterDefault'),
            $row->bool('stateful', true),
            $row->int('analoguePorts'),
            $nicsOf[$row->text('key')] ?? [],
            $values['devices/'.$row->text('key')] ?? [],
            $row->int('position', 9999),
        ));
        uasort($devices, static fn (Device $a, Device $b): int => [$a->position, $a->key] <=> [$b->position, $b->key]);
        $this->devices = $devices;
        $this->routerPorts = $this->each('routerPorts', RouterPort::fromRow(...));
        $this->routes = $this->each('routes', StaticRoute::fromRow(...));
        $filters = array_values($this->each('filters', FilterRule::fromRow(...)));
        usort($filters, static fn (FilterRule $a, FilterRule $b): int => [$a->position, $a->key] <=> [$b->position, $b->key]);
        $this->filters = $filters;
        $extensions = $this->each('extensions', Extension::fromRow(...));
        uasort($extensions, static fn (Extension $a, Extension $b): int => [$a->number, $a->key] <=> [$b->number, $b->key]);
        $this->extensions = $extensions;
        $this->accounts = $this->each('accounts', Account::fromRow(...));
        $this->credentials = $this->each('credentials', Credential::fromRow(...));
        $marks = [];
        foreach ($this->each('marks', Mark::fromRow(...)) as $mark) {
            $marks[$mark->device][$mark->step] = $mark;
        }
        $this->marks = $marks;
        $this->lines = $this->each('lines', Line::fromRow(...));
        $all = array_values($this->each('observations', Observation::fromRow(...)));
        usort($all, static fn (Observation $a, Observation $b): int => [$a->at, $a->key] <=> [$b->at, $b->key]);
        $observations = [];
        foreach ($all as $observation) {
            $observations[$observation->line][] = $observation;
        }
        $this->observations = $observations;
    }

    /**
     * @param RowData                      $job
     * @param array<string, list<RowData>> $sections
     *
     * @throws Malformed where a record is not what its section holds
     */
    public static function of(array $job, array $sections, Kinds $kinds): self
    {
        $rows = [];
        foreach ($sections as $section => $records) {
            foreach ($records as $record) {
                $rows[$section][Row::keyOf($record)] = $record;
            }
        }

        return new self($job, $rows, $kinds);
    }

    /** The snapshot as it would be after the change; this one stays as it is. */
    public function with(Change $change): self
    {
        $job = $this->jobRow;
        $rows = $this->rows;
        foreach ($change->edits as $edit) {
            if (EditKind::Add === $edit->kind) {
                $rows[$edit->section][$edit->key] = $edit->row ?? [];
            } elseif (EditKind::Remove === $edit->kind) {
                unset($rows[$edit->section][$edit->key]);
            } elseif ('job' === $edit->section) {
                $job[$edit->field] = $edit->after;
            } else {
                // A three-faced value comes into being with its first face.
                $rows[$edit->section][$edit->key] ??= ['key' => $edit->key];
                $rows[$edit->section][$edit->key][$edit->field] = $edit->after;
            }
        }

        return new self($job, $rows, $this->kinds);
    }

    /** @return RowData */
    public function jobRow(): array
    {
        return $this->jobRow;
    }

    /** @return list<RowData> the plain records of a section, in the order of their keys */
    public function rows(string $section): array
    {
        $rows = $this->rows[$section] ?? [];
        ksort($rows, \SORT_STRING);

        return array_values($rows);
    }

    /** @return RowData|null */
    public function row(string $section, string $key): ?array
    {
        return $this->rows[$section][$key] ?? null;
    }

    public function deviceTagged(string $tag): ?Device
    {
        foreach ($this->devices as $device) {
            if (0 === strcasecmp($device->tag, $tag) || $device->key === $tag) {
                return $device;
            }
        }

        return null;
    }

    public function extensionNumbered(string $number): ?Extension
    {
        foreach ($this->extensions as $extension) {
            if ($extension->number === $number) {
                return $extension;
            }
        }

        return null;
    }

    public function accountOf(string $extensionKey): ?Account
    {
        foreach ($this->accounts as $account) {
            if ($account->extension === $extensionKey) {
                return $account;
            }
        }

        return null;
    }

    /** @return list<Extension> */
    public function extensionsOf(string $deviceKey): array
    {
        return array_values(array_filter($this->extensions, static fn (Extension $extension): bool => $extension->phone === $deviceKey));
    }

    public function segmentOf(Device $device): ?Segment
    {
        return $this->segments[$device->nic()->segment ?? ''] ?? null;
    }

    /** The segment that an address belongs to by the plan. */
    public function segmentAround(Ipv4 $address): ?Segment
    {
        foreach ($this->segments as $segment) {
            if ($segment->network->contains($address)) {
                return $segment;
            }
        }

        return null;
    }

    public function credential(string $owner, string $purpose): ?Credential
    {
        foreach ($this->credentials as $credential) {
            if ($credential->owner === $owner && $credential->purpose === $purpose) {
                return $credential;
            }
        }

        return null;
    }

    /** What people call a record: the tag of its device, the name of its segment, its number; the key where it has no name. */
    public function nameOf(string $section, string $key): string
    {
        if ('values' === $section) {
            [$section, $key] = explode('/', explode('#', $key)[0], 2) + [1 => ''];
        }

        return match ($section) {
            'devices' => $this->devices[$key]->tag ?? $key,
            'nics' => $this->devices[$this->nics[$key]->device ?? '']->tag ?? $key,
            'segments' => $this->segments[$key]->name ?? $key,
            'extensions' => $this->extensions[$key]->number ?? $key,
            'accounts' => $this->extensions[$this->accounts[$key]->extension ?? '']->number ?? $key,
            default => $key,
        };
    }

    /** A key for a new record that no other has: the wish made fit, with a number where it is taken. */
    public function freeKey(string $section, string $wish): string
    {
        $base = trim(preg_replace('/[^a-z0-9.-]+/', '-', strtolower($wish)) ?? '', '-.');
        $base = '' === $base ? 'x' : mb_substr($base, 0, 48);
        $key = $base;
        for ($n = 2; isset($this->rows[$section][$key]); ++$n) {
            $key = $base.'-'.$n;
        }

        return $key;
    }

    /** @param array<string, Faced> $values */
    private function nic(Row $row, array $values, string $kindCode): Nic
    {
        $segment = $this->segments[$row->text('segment')] ?? null;
        $passive = false;
        foreach ($this->kinds->find($kindCode)->nics ?? [] as $port) {
            $passive = $passive || ($port['name'] === $row->text('name') && $port['passive']);
        }
        $value = static fn (string $field): Faced => $values[$field] ?? new Faced();
        $given = null !== $value('address')->planned;

        return new Nic(
            $row->text('key'),
            $row->text('device'),
            $row->text('name'),
            Mac::tryFromString($row->text('mac')),
            $row->textOrNull('segment'),
            'reserved' === $row->text('mode'),
            $row->bool('locked'),
            $passive,
            $value('address'),
            // Where the plan of a nic is silent, its segment speaks: the mask of the network, the segment's gateway and DNS.
            $given ? $value('mask')->withDefault(null === $segment ? null : (string) $segment->network->mask) : $value('mask'),
            $given ? $value('gateway')->withDefault(null === $segment ? null : (string) ($segment->gateway ?? '')) : $value('gateway'),
            $given ? $value('dns')->withDefault(null === $segment?->dns ? $this->job->textOrNull('dns') : (string) $segment->dns) : $value('dns'),
        );
    }

    /**
     * @template T
     *
     * @param callable(Row): T $make
     *
     * @return array<string, T>
     */
    private function each(string $section, callable $make): array
    {
        $objects = [];
        foreach ($this->rows[$section] ?? [] as $key => $row) {
            $objects[(string) $key] = $make(new Row($row));
        }

        return $objects;
    }
}
