<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Library\CatalogueFiles;

/**
 * Small jobs for tests, written in a few words.
 *
 * @phpstan-import-type RowData from Edit
 */
final class Jobs
{
    /** @var RowData */
    public array $job = ['name' => 'Test', 'country' => 'NO'];
    /** @var array<string, list<RowData>> */
    private array $sections = [];

    public static function catalogue(): Catalogue
    {
        /** @var Catalogue|null $catalogue */
        static $catalogue = null;

        return $catalogue ??= (new CatalogueFiles(\dirname(__DIR__, 2)))->catalogue();
    }

    /** @return array<string, array<mixed>> code → decoded data file, whole */
    public static function files(string $sort): array
    {
        return (new CatalogueFiles(\dirname(__DIR__, 2)))->files($sort);
    }

    /** A demo job as it lies in the repository; `v1/port` and the like are documents of an older version. */
    public static function demo(string $name): string
    {
        return (string) file_get_contents(\dirname(__DIR__, 2).'/demo/'.$name.'.json');
    }

    /** @param RowData $more */
    public function segment(string $key, string $network, ?string $gateway = null, array $more = []): self
    {
        return $this->row('segments', ['key' => $key, 'name' => strtoupper($key), 'network' => $network, 'gateway' => $gateway] + $more);
    }

    /** @param array<string, string> $ports segment → address/prefix */
    public function router(string $key, array $ports, bool $allow = true, ?bool $stateful = null): self
    {
        $this->row('devices', [
            'key' => $key,
            'tag' => strtoupper($key),
            'kind' => 'router',
            'filterDefault' => $allow ? 'allow' : 'deny',
        ] + (null === $stateful ? [] : ['stateful' => $stateful]));
        foreach ($ports as $segment => $text) {
            [$address, $mask] = explode('/', $text);
            $this->row('routerPorts', [
                'key' => $key.'-'.$segment,
                'router' => $key,
                'segment' => $segment,
                'address' => $address,
                'mask' => '/'.$mask,
            ]);
        }

        return $this;
    }

    /**
     * A device with one nic; the values are planned ones unless written as field.set or field.seen.
     *
     * @param array<string, string> $values
     * @param RowData               $more
     */
    public function device(string $key, string $kind, ?string $segment, array $values = [], array $more = []): self
    {
        $this->row(
            'devices',
            ['key' => $key, 'tag' => strtoupper($key), 'kind' => $kind, 'position' => \count($this->sections['devices'] ?? []) + 1] + $more,
        );
        $known = self::catalogue()->kind($kind) ?? throw new \LogicException('There is no kind "'.$kind.'".');
        foreach ($known->activePorts() as $i => $port) {
            $this->row('nics', [
                'key' => $key.'.'.$port->name,
                'device' => $key,
                'name' => $port->name,
                'mac' => 0 === $i ? $more['mac'] ?? null : null,
                'segment' => 0 === $i ? $segment : null,
                'mode' => $port->mode,
            ]);
        }
        $first = ($known->activePorts()[0] ?? null)?->name;
        foreach ($this->faces($key, $first, $known, $values) as $row) {
            $this->row('settings', $row);
        }

        return $this;
    }

    /**
     * A further port of a device that is there: plugged in, with values.
     *
     * @param array<string, string> $values
     */
    public function port(string $device, string $port, string $segment, array $values): self
    {
        foreach ($this->sections['nics'] ?? [] as $i => $nic) {
            if ($nic['key'] === $device.'.'.$port) {
                $this->sections['nics'][$i]['segment'] = $segment;
            }
        }
        foreach ($values as $name => $value) {
            $this->row('settings', ['key' => "nics/$device.$port#$name", 'planned' => $value]);
        }

        return $this;
    }

    /**
     * @param array<string, string> $values
     *
     * @return array<string, RowData> by the address of the setting
     */
    private function faces(string $key, ?string $port, Kind $kind, array $values): array
    {
        $faces = [];
        foreach ($values as $name => $value) {
            [$slot, $face] = 1 === preg_match('/^(.+)\.(planned|set|seen)$/D', $name, $parts) ? [$parts[1], $parts[2]] : [$name, 'planned'];
            $onPort = SettingScope::Port === $kind->setting($slot)?->scope;
            $ref = ($onPort ? 'nics/'.$key.'.'.$port : 'devices/'.$key).'#'.$slot;
            $faces[$ref] ??= ['key' => $ref];
            $faces[$ref][$face] = $value;
        }

        return $faces;
    }

    public function phone(string $key, string $segment, string $address, string $number, string $pbx = 'pbx'): self
    {
        return $this->device($key, 'desk-phone-poe', $segment, ['address' => $address])
            ->number($number, $key, null, ['name' => 'Desk '.$number, 'location' => 'Ground floor'], $pbx);
    }

    /**
     * An extension that rings a phone, x2101, and its account at the registrar, a2101.
     *
     * @param string|null $mac  as it was entered there; null when nobody did
     * @param RowData     $more of the extension
     */
    public function number(string $number, string $phone, ?string $mac = null, array $more = [], string $pbx = 'pbx'): self
    {
        return $this
            ->row('extensions', ['key' => 'x'.$number, 'number' => $number, 'pbx' => $pbx, 'terminal' => 'sip', 'phone' => $phone] + $more)
            ->row('accounts', [
                'key' => 'a'.$number,
                'extension' => 'x'.$number,
                'registrar' => $pbx,
                'user' => $number,
                'macEntered' => $mac,
            ]);
    }

    /** Steps that somebody did. */
    public function done(string $device, string ...$steps): self
    {
        foreach ($steps as $step) {
            $this->row('marks', ['key' => "$device.$step", 'device' => $device, 'step' => $step, 'state' => 'done', 'by' => 'Jo']);
        }

        return $this;
    }

    /** Another address of a device's first port. */
    public function also(string $device, string ...$held): self
    {
        foreach ($this->sections['nics'] ?? [] as $nic) {
            if ($nic['device'] === $device && \is_string($nic['key'])) {
                return $this->change('nics', $nic['key'], 'also', array_values($held));
            }
        }

        throw new \LogicException('There is no device "'.$device.'".');
    }

    /**
     * Another value in a record that is there.
     *
     * @param bool|float|int|string|list<mixed>|null $value
     */
    public function change(string $section, string $key, string $field, bool|float|int|string|array|null $value): self
    {
        foreach ($this->sections[$section] ?? [] as $i => $row) {
            if ($row['key'] === $key) {
                $this->sections[$section][$i][$field] = $value;
            }
        }

        return $this;
    }

    /** @param string|int|bool|list<mixed> $value */
    public function fact(string $field, string|int|bool|array $value): self
    {
        $this->job[$field] = $value;

        return $this;
    }

    /** @param RowData $row */
    public function row(string $section, array $row): self
    {
        $this->sections[$section][] = $row;

        return $this;
    }

    public function plan(): Plan
    {
        return Plan::of($this->job, $this->sections, self::catalogue());
    }
}
