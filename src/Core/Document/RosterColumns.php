<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** What a column of a pasted roster may mean: a field of the kit list, or any setting of any kind, by its name or its label. */
final readonly class RosterColumns
{
    public const FIELDS = ['tag', 'kind', 'room', 'segment', 'mac', 'serial'];
    /** Known by its heading only. */
    public const NOTE = 'note';
    /** The number of a phone. */
    public const EXTENSION = 'extension';
    /** The factory address that is printed on the label. */
    public const LABEL_ADDRESS = 'labelAddress';
    /** All that is not the name of a setting; `mode` and `network` come with an address (RosterCells). */
    public const NO_SETTINGS = [...self::FIELDS, self::NOTE, self::EXTENSION, self::LABEL_ADDRESS, 'mode', 'network'];
    /** Usual headings of lists, in small letters. */
    private const HEADINGS = [
        'tag' => ['tag', 'name', 'device', 'device name', 'device tag', 'id', 'asset tag', 'label', 'ref', 'reference'],
        'kind' => ['kind', 'type', 'device type', 'kind of device', 'category', 'model', 'product', 'equipment'],
        'room' => ['room', 'location', 'area', 'place', 'position', 'room name', 'site location'],
        'segment' => ['segment', 'vlan', 'vlan id', 'vlan name', 'network', 'subnet', 'network name'],
        'mac' => ['mac', 'mac address', 'ethernet address', 'hardware address', 'hw address', 'physical address', 'mac-address'],
        'serial' => ['serial', 's/n', 'sn', 'serial number', 'serial no', 'serial no.', 'serial-number'],
        self::NOTE => ['note', 'notes', 'comment', 'comments', 'remark', 'remarks', 'description'],
        self::EXTENSION => ['ext', 'ext.', 'extension', 'extension number', 'internal number', 'phone extension'],
        self::LABEL_ADDRESS => ['label address', 'labeladdress', 'address on the label', 'factory address', 'default ip'],
        'address' => ['address', 'ip', 'ip address', 'ipv4', 'ipv4 address', 'ip-address', 'static ip', 'ip addr'],
        'mask' => ['mask', 'subnet mask', 'netmask', 'network mask'],
        'gateway' => ['gateway', 'default gateway', 'gw', 'router'],
        'dns' => ['dns', 'dns server', 'dns servers', 'name server'],
        'hostName' => ['hostname', 'host name', 'host', 'dns name'],
        'firmware' => ['firmware', 'firmware version', 'fw', 'software version'],
    ];

    /** Fields that are called otherwise where a person reads them; each is a heading too. */
    private const LABELS = ['mac' => 'MAC', self::LABEL_ADDRESS => 'address on the label'];

    /** @param array<string, string> $meanings heading in small letters → field, or name of a setting */
    private function __construct(private array $meanings)
    {
    }

    public static function of(Plan $plan): self
    {
        $meanings = [];
        foreach (self::HEADINGS as $meaning => $headings) {
            $meanings += array_fill_keys($headings, $meaning);
        }
        foreach ($plan->catalogue->kinds() as $kind) {
            foreach ($kind->settings as $setting) {
                if (null !== $setting->secret || SettingScope::Account === $setting->scope) {
                    continue;
                }
                foreach ($setting->slots() as $slot) {
                    $meanings[mb_strtolower($slot)] ??= $slot;
                    $number = substr($slot, \strlen($setting->name));
                    $meanings[mb_strtolower($setting->label).str_replace('.', ' ', $number)] ??= $slot;
                    if (SettingScope::Port === $setting->scope) {
                        foreach ($kind->ports as $port) {
                            if (!$port->passive) {
                                $meanings[mb_strtolower($port->name.'.'.$slot)] = $port->name.'.'.$slot;
                            }
                        }
                    }
                }
            }
        }

        return new self($meanings);
    }

    public static function label(string $meaning): Message
    {
        return new Message(self::LABELS[$meaning] ?? $meaning);
    }

    public function meaning(string $heading): ?string
    {
        return $this->meanings[mb_strtolower(trim($heading))] ?? null;
    }

    /** @return list<string> everything a column may mean, for one to choose from */
    public function all(): array
    {
        $all = array_values(array_unique($this->meanings));
        sort($all);

        return $all;
    }
}
