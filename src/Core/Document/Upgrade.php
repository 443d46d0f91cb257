<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

/** Reads older versions of the format, permanently. Broken parts are passed on unchanged: the checks of the present version report them. */
final class Upgrade
{
    private const KEY = '/^[a-z0-9][a-z0-9._-]{0,127}$/D';
    private const SIP = ['udp', 'tcp', 'tls'];
    /** Pointers of version 1: section → field → section that it points to. */
    private const POINTERS = [
        'devices' => ['controlledFrom' => 'segments'],
        'nics' => ['device' => 'devices', 'segment' => 'segments'],
        'routerPorts' => ['router' => 'devices', 'segment' => 'segments'],
        'routes' => ['router' => 'devices'],
        'filters' => ['router' => 'devices', 'from' => 'segments', 'to' => 'segments'],
        'extensions' => ['pbx' => 'devices', 'phone' => 'devices'],
        'accounts' => ['extension' => 'extensions', 'registrar' => 'devices'],
        'marks' => ['device' => 'devices'],
        'tests' => ['from' => 'segments', 'to' => 'devices'],
        'fetches' => ['device' => 'devices'],
    ];

    /**
     * Version 1 to 2: lines became tests, values settings with one address, a weave a pattern, a ground a basis; analogue ports are a
     * setting; keys hold what pointers could name.
     *
     * @param array<mixed> $data
     *
     * @return array<mixed>
     */
    public static function fromVersion1(array $data): array
    {
        $data['version'] = 2;
        foreach (['lines' => 'tests', 'values' => 'settings'] as $old => $new) {
            if (isset($data[$old])) {
                $data[$new] = $data[$old];
                unset($data[$old]);
            }
        }
        foreach (self::records($data, 'devices') as $i => $device) {
            $ports = $device['analoguePorts'] ?? null;
            if (null !== $ports) {
                unset($device['analoguePorts']);
                $data['devices'] = self::put($data['devices'] ?? [], $i, $device);
                $text = \is_scalar($ports) ? (string) $ports : '';
                if ('0' !== $text && '' !== $text) {
                    $data['settings'] = [
                        ...self::records($data, 'settings'),
                        ['key' => 'devices/'.self::text($device, 'key').'#analoguePorts', 'planned' => $text],
                    ];
                }
            }
        }
        foreach (['segments', 'settings', 'observations'] as $section) {
            foreach (self::records($data, $section) as $i => $record) {
                $data[$section] = self::put($data[$section] ?? [], $i, self::row($section, $record));
            }
        }
        foreach (['fetches', 'observations'] as $section) {
            $data[$section] = self::numberEvidence(self::records($data, $section));
        }
        if (\is_array($data['journal'] ?? null)) {
            $data['journal'] = array_map(self::entry(...), array_values($data['journal']));
        }

        return self::keys($data);
    }

    /**
     * Evidence in the order in which it arrived: version 1 knew no other than that of its dates.
     *
     * @param array<array<mixed>> $records
     *
     * @return array<array<mixed>>
     */
    private static function numberEvidence(array $records): array
    {
        $order = array_keys($records);
        usort($order, static fn (int|string $a, int|string $b): int => [self::text($records[$a], 'at'), self::text($records[$a], 'key')]
            <=> [self::text($records[$b], 'at'), self::text($records[$b], 'key')]);
        foreach ($order as $n => $i) {
            $records[$i]['arrived'] = $n + 1;
        }

        return $records;
    }

    /**
     * An edit of a journal entry as version 2 writes it.
     *
     * @param array<mixed> $edit
     *
     * @return array<mixed>
     */
    public static function edit(array $edit): array
    {
        $section = self::text($edit, 'section');
        $section = ['lines' => 'tests', 'values' => 'settings'][$section] ?? $section;
        $edit['section'] = $section;
        $field = self::text($edit, 'field');
        if ('devices' === $section && 'analoguePorts' === $field) {
            $port = static fn (mixed $value): ?string => \is_scalar($value) ? (string) $value : null;

            return [
                'do' => 'put',
                'section' => 'settings',
                'key' => 'devices/'.self::text($edit, 'key').'#analoguePorts',
                'field' => 'planned',
                'before' => $port($edit['before'] ?? null),
                'after' => $port($edit['after'] ?? null),
            ];
        }
        if ('segments' === $section && 'weave' === $field) {
            $edit['field'] = 'pattern';
        }
        if (\is_array($edit['row'] ?? null)) {
            $edit['row'] = self::row($section, $edit['row']);
            if ('devices' === $section) {
                unset($edit['row']['analoguePorts']);
            }
        }

        return $edit;
    }

    /**
     * A setting as version 2 writes it.
     *
     * @param array<mixed> $record
     *
     * @return array<mixed>
     */
    public static function setting(array $record): array
    {
        return self::row('settings', $record);
    }

    /**
     * @param array<mixed> $record
     *
     * @return array<mixed>
     */
    private static function row(string $section, array $record): array
    {
        $renamed = ['segments' => ['weave' => 'pattern'], 'observations' => ['line' => 'test', 'ground' => 'basis']][$section] ?? [];
        foreach ($renamed as $old => $new) {
            if (\array_key_exists($old, $record)) {
                $record[$new] = $record[$old];
                unset($record[$old]);
            }
        }
        if ('settings' === $section) {
            unset($record['owner'], $record['field']);
            if (str_ends_with(self::text($record, 'key'), '#transport')) {
                foreach (['planned', 'set', 'seen'] as $face) {
                    if (\is_string($record[$face] ?? null)) {
                        $words = preg_split('/[\s,;]+/', strtolower($record[$face])) ?: [];
                        $known = implode(', ', array_intersect($words, self::SIP));
                        $record[$face] = '' === $known ? null : $known;
                    }
                }
            }
        }

        return $record;
    }

    /** @return array<mixed>|mixed */
    private static function entry(mixed $entry): mixed
    {
        if (\is_array($entry) && \is_array($entry['edits'] ?? null)) {
            $entry['edits'] = array_map(
                static fn (mixed $edit): mixed => \is_array($edit) ? self::edit($edit) : $edit,
                array_values($entry['edits']),
            );
        }

        return $entry;
    }

    /**
     * @param array<array-key, array<mixed>> $records of one section
     *
     * @return array<string, string> a key that no pointer could name → one that is free
     */
    private static function fitKeys(array $records): array
    {
        $fit = $taken = [];
        foreach ($records as $record) {
            $taken[self::text($record, 'key')] = true;
        }
        foreach (array_keys($taken) as $key) {
            $key = (string) $key;
            if ('' === $key || 1 === preg_match(self::KEY, $key)) {
                continue;
            }
            $base = trim(preg_replace('/[^a-z0-9.-]+/', '-', strtolower($key)) ?? '', '-.');
            $base = substr('' === $base ? 'x' : $base, 0, 100);
            $new = $base;
            for ($n = 2; isset($taken[$new]); ++$n) {
                $new = $base.'-'.$n;
            }
            $taken[$new] = true;
            $fit[$key] = $new;
        }

        return $fit;
    }

    /**
     * Version 1 let a record have a key that no pointer could name. Such keys are made fit; pointers and settings follow.
     *
     * @param array<mixed> $data
     *
     * @return array<mixed>
     */
    private static function keys(array $data): array
    {
        $fit = [];
        foreach (array_diff(array_keys($data), ['settings', 'journal', 'job', 'sealed']) as $section) {
            $fit[$section] = self::fitKeys(self::records($data, (string) $section));
            foreach (self::records($data, (string) $section) as $i => $record) {
                $new = $fit[$section][self::text($record, 'key')] ?? null;
                if (null !== $new) {
                    $data[$section] = self::put($data[$section], $i, ['key' => $new] + $record);
                }
            }
        }
        $fit = array_filter($fit, static fn (array $keys): bool => [] !== $keys);
        if ([] === $fit) {
            return $data;
        }
        foreach (self::POINTERS as $section => $fields) {
            foreach (self::records($data, $section) as $i => $record) {
                foreach ($fields as $field => $to) {
                    $pointer = self::text($record, $field);
                    $record[$field] = $fit[$to][$pointer] ?? $record[$field] ?? null;
                }
                $data[$section] = self::put($data[$section], $i, array_filter($record, static fn (mixed $one): bool => null !== $one));
            }
        }
        if (\is_array($data['job'] ?? null)) {
            $laptop = self::text($data['job'], 'laptop');
            $data['job'] = ['laptop' => $fit['devices'][$laptop] ?? $laptop] + $data['job'];
            $data['job'] = array_filter($data['job'], static fn (mixed $one): bool => '' !== $one);
        }
        foreach (['settings' => 'key', 'credentials' => 'owner'] as $section => $field) {
            foreach (self::records($data, $section) as $i => $record) {
                if (
                    1 === preg_match('~^([A-Za-z]+)/(.*?)(#[^#]*)?$~D', self::text($record, $field), $parts)
                    && isset($fit[$parts[1]][$parts[2]])
                ) {
                    $record[$field] = $parts[1].'/'.$fit[$parts[1]][$parts[2]].($parts[3] ?? '');
                    $data[$section] = self::put($data[$section], $i, $record);
                }
            }
        }

        return $data;
    }

    /**
     * @param array<mixed> $data
     *
     * @return array<int, array<mixed>> only what can be a record
     */
    private static function records(array $data, string $section): array
    {
        return array_filter(\is_array($data[$section] ?? null) ? array_values($data[$section]) : [], is_array(...));
    }

    /**
     * @param array<mixed> $record
     *
     * @return array<mixed>
     */
    private static function put(mixed $records, int $i, array $record): array
    {
        $records = \is_array($records) ? array_values($records) : [];
        $records[$i] = $record;

        return $records;
    }

    /** @param array<mixed> $record */
    private static function text(array $record, string $field): string
    {
        return \is_scalar($record[$field] ?? null) ? (string) $record[$field] : '';
    }
}
