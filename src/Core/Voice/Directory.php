<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;

/** The directory of a system that is called by address: all others of the job, n · (n - 1) entries in total. */
final readonly class Directory
{
    /** @param list<array{name: string, room: string, address: string, uri: string}> $entries by name */
    private function __construct(public Device $of, public array $entries)
    {
    }

    public static function of(Plan $plan, Device $device, ?NetworkModel $model = null): self
    {
        $entries = [];
        $model ??= NetworkModel::of($plan, Face::Set);
        foreach ($plan->devices as $other) {
            $address = $other->nic()?->addressAsSet();
            if ($other->key === $device->key || !$other->kind->has(Role::DirectCallee) || null === $address) {
                continue;
            }
            // Behind NAT it is dialled at another address than its own.
            $dialled = DirectCall::of($model, $device->key, $other)->dialled;
            $address = (string) ($dialled ?? $address);
            $entries[] = ['name' => $other->tag, 'room' => $other->room, 'address' => $address, 'uri' => 'sip:'.$address];
        }
        usort($entries, static fn (array $a, array $b): int => strnatcasecmp($a['name'], $b['name']));

        return new self($device, $entries);
    }

    /** @return list<self> of every system that is called by its address */
    public static function all(Plan $plan): array
    {
        $model = NetworkModel::of($plan, Face::Set);

        return array_values(array_map(
            static fn (Device $device): self => self::of($plan, $device, $model),
            array_filter($plan->devices, static fn (Device $device): bool => $device->kind->has(Role::DirectCallee)),
        ));
    }

    /** vCard 4.0 (RFC 6350): lines end with CR LF and are folded at 75 octets, never within a letter. */
    public function vCard(): string
    {
        $cards = '';
        foreach ($this->entries as $entry) {
            $lines = [
                'BEGIN:VCARD',
                'VERSION:4.0',
                'KIND:device',
                'FN:'.self::escape(trim($entry['name'].' '.$entry['room'])),
                'IMPP;PREF=1:'.$entry['uri'],
                'NOTE:'.self::escape($entry['address']),
                'END:VCARD',
            ];
            $cards .= implode('', array_map(self::fold(...), $lines));
        }

        return $cards;
    }

    /** LDIF (RFC 2849) of devices (RFC 4519 §3.4) with their address as a labelled URI (RFC 2079). */
    public function ldif(): string
    {
        $records = ["version: 1\n"];
        foreach ($this->entries as $entry) {
            $name = trim($entry['name'].' '.$entry['room']);
            $lines = [
                self::attribute('dn', 'cn='.self::escapeName($name)),
                'objectClass: top',
                'objectClass: device',
                'objectClass: labeledURIObject',
                self::attribute('cn', $name),
                ...('' === $entry['room'] ? [] : [self::attribute('l', $entry['room'])]),
                self::attribute('description', $entry['address']),
                self::attribute('labeledURI', $entry['uri']),
            ];
            $records[] = implode('', array_map(static fn (string $line): string => self::wrap($line)."\n", $lines));
        }

        return implode("\n", $records);
    }

    /** Any string that is not safe (RFC 2849, note 8) is written as base64. */
    private static function attribute(string $name, string $value): string
    {
        return 1 === preg_match('/^(?![ :<])[\x01-\x09\x0B\x0C\x0E-\x7F]*(?<! )$/D', $value)
            ? $name.': '.$value
            : $name.':: '.base64_encode($value);
    }

    /** A value within a name (RFC 4514 §2.4). */
    private static function escapeName(string $value): string
    {
        $escaped = (string) preg_replace('/[,+"\\\\<>;=]/', '\\\\$0', $value);

        return (string) preg_replace('/^([# ])|( )$/', '\\\\$1$2', $escaped);
    }

    private static function wrap(string $line): string
    {
        return \strlen($line) <= 76 ? $line : substr($line, 0, 76).implode('', array_map(
            static fn (string $part): string => "\n ".$part,
            str_split(substr($line, 76), 75),
        ));
    }

    /** RFC 6350 §3.4: backslash, comma, semicolon and line break. */
    private static function escape(string $text): string
    {
        return strtr($text, ['\\' => '\\\\', ',' => '\\,', ';' => '\\;', "\r\n" => '\\n', "\n" => '\\n']);
    }

    /** RFC 6350 §3.2. */
    private static function fold(string $line): string
    {
        $folded = '';
        $most = 75;
        while (\strlen($line) > $most) {
            $part = mb_strcut($line, 0, $most);
            $folded .= $part."\r\n ";
            $line = substr($line, \strlen($part));
            $most = 74;
        }

        return $folded.$line."\r\n";
    }
}
