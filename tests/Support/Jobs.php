<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Vorhut\Core\Kind\Kinds;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Kinds\KindFiles;

/**
 * Small jobs for tests, written in a few words.
 *
 * @phpstan-import-type RowData from Edit
 */
final class Jobs
{
    /** @var RowData */
    public array $job = ['name' => 'Test'];
    /** @var array<string, list<RowData>> */
    private array $sections = [];

    public static function kinds(): Kinds
    {
        /** @var Kinds|null $kinds */
        static $kinds = null;

        return $kinds ??= (new KindFiles(\dirname(__DIR__, 2).'/kinds'))->kinds();
    }

    /** @param RowData $more */
    public function segment(string $key, string $network, ?string $gateway = null, array $more = []): self
    {
        return $this->row('segments', ['key' => $key, 'name' => strtoupper($key), 'network' => $network, 'gateway' => $gateway] + $more);
    }

    /** @param array<string, string> $ports segment → address/prefix */
    public function router(string $key, array $ports, bool $allow = true, bool $stateful = true): self
    {
        $this->row('devices', ['key' => $key, 'tag' => strtoupper($key), 'kind' => 'router', 'filterDefault' => $allow ? 'allow' : 'deny', 'stateful' => $stateful]);
        foreach ($ports as $segment => $text) {
            [$address, $mask] = explode('/', $text);
            $this->row('routerPorts', ['key' => $key.'-'.$segment, 'router' => $key, 'segment' => $segment, 'address' => $address, 'mask' => '/'.$mask]);
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
        $this->row('devices', ['key' => $key, 'tag' => strtoupper($key), 'kind' => $kind, 'position' => \count($this->sections['devices'] ?? []) + 1] + $more);
        $this->row('nics', ['key' => $key.'.lan', 'device' => $key, 'name' => 'lan', 'mac' => $more['mac'] ?? null, 'segment' => $segment, 'mode' => self::kinds()->find($kind)->mode ?? 'static']);
        $faces = [];
        foreach ($values as $name => $value) {
            [$field, $face] = explode('.', $name, 2) + [1 => 'planned'];
            $owner = \in_array($field, ['address', 'mask', 'gateway', 'dns'], true) ? 'nics/'.$key.'.lan' : 'devices/'.$key;
            $faces[$owner.'#'.$field] ??= ['key' => $owner.'#'.$field, 'owner' => $owner, 'field' => $field];
            $faces[$owner.'#'.$field][$face] = $value;
        }
        foreach ($faces as $row) {
            $this->row('values', $row);
        }

        return $this;
    }

    public function phone(string $key, string $segment, string $address, string $number, string $pbx = 'pbx'): self
    {
        $this->device($key, 'desk-phone-poe', $segment, ['address' => $address]);
        $this->row('extensions', ['key' => 'x'.$number, 'number' => $number, 'name' => 'Desk '.$number, 'pbx' => $pbx, 'terminal' => 'sip', 'phone' => $key, 'location' => 'Ground floor']);

        return $this->row('accounts', ['key' => 'a'.$number, 'extension' => 'x'.$number, 'registrar' => $pbx, 'user' => $number]);
    }

    /** @param RowData $row */
    public function row(string $section, array $row): self
    {
        $this->sections[$section][] = $row;

        return $this;
    }

    public function plan(): Plan
    {
        return Plan::of($this->job, $this->sections, self::kinds());
    }
}
