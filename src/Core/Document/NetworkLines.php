<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Net\ShortHost;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Text\Message;

/**
 * Networks as they are noted in a mail: one on a line, with name, network, and what else is known, in any order. Devices on the lines
 * directly below a network are in it (DeviceLine).
 *
 * `Voice 10.64.20.0/24, gateway .1, VLAN 20, DNS 10.64.10.5, DHCP .100-.179`. A dot and a number are the last octet in that network.
 *
 * @phpstan-import-type RowData from Edit
 */
final readonly class NetworkLines
{
    private const NETWORK = '~(?<![\d.])(\d{1,3}(?:\.\d{1,3}){3})\s*(/\s*\d{1,2}\b|\s255(?:\.\d{1,3}){3})~';
    private const WORDS = [
        'gateway' => '(?:default\s+)?gateway|gw|router',
        'dns' => 'dns(?:\s+servers?)?|name\s+server',
        'vlan' => 'vlan(?:\s+id)?',
        'pools' => 'dhcp(?:\s+pools?|\s+range)?|pools?',
    ];

    /**
     * @param list<Edit> $edits a segment for each line
     * @param string     $rest  the other lines, a roster; a DeviceLine has the segment that it is below
     */
    private function __construct(public array $edits, public string $rest)
    {
    }

    /**
     * @throws Malformed with the line that is not understood
     */
    public static function read(Plan $plan, string $text): self
    {
        $lines = explode("\n", str_replace(["\r\n", "\r"], "\n", $text));
        $columns = RosterColumns::of($plan);
        $known = $plan;
        $edits = $rest = [];
        $segment = '';
        foreach ($lines as $i => $line) {
            if ('' === trim($line)) {
                $segment = '';
                continue;
            }
            $row = self::row($line);
            if (null !== $row) {
                $edits[] = Edit::add('segments', self::keyed($plan, $row, $edits));
                $segment = \is_string($row['name']) ? $row['name'] : '';
                $known = $plan->with(new Change(new Message(''), $edits));
            } elseif (DeviceLine::isOne($plan, $line)) {
                $rest[] = '' === $segment ? $line : DeviceLine::withSegment($known, $columns, $line, $segment);
            } else {
                // From here on it is a table: there a network is a cell.
                $rest[] = trim(implode("\n", \array_slice($lines, $i)), "\n");
                break;
            }
        }

        return new self($edits, implode("\n", $rest));
    }

    /**
     * @return RowData|null null if the line does not name a network
     *
     * @throws Malformed
     */
    private static function row(string $line): ?array
    {
        if (1 !== preg_match(self::NETWORK, $line, $found)) {
            return null;
        }
        $network = Network::tryFromString($found[1].preg_replace('/\s+/', '/' === trim($found[2])[0] ? '' : ' ', $found[2]));
        if (null === $network) {
            return null; // a host with its mask: a line of the roster
        }
        $rest = str_replace($found[0], ' ; ', $line);
        $row = ['name' => '', 'network' => FieldType::SiteNetwork->read((string) $network)];
        if (1 === preg_match('~\b(?:no router|isolated|not routed)\b~i', $rest, $told)) {
            $row['gateway'] = FieldType::NONE;
            $rest = str_replace($told[0], ' ; ', $rest);
        }
        foreach (self::WORDS as $field => $words) {
            if (1 === preg_match('~(?:^|[\s,;:(])(?:'.$words.')\b[\s:=]*([^,;:\t)]*)~i', $rest, $told, \PREG_OFFSET_CAPTURE)) {
                [$whole, $at] = $told[0];
                $row[$field] = self::value($field, trim($told[1][0]), $network, $line);
                $rest = substr($rest, 0, $at).' ; '.substr($rest, $at + \strlen($whole));
            }
        }
        $names = preg_split('~[,;\t]+~', $rest, -1, \PREG_SPLIT_NO_EMPTY) ?: [];
        $names = array_map(static fn (string $part): string => trim($part, " \t.:()-–"), $names);
        $names = array_values(array_filter($names, static fn (string $part): bool => '' !== $part));
        $row['name'] = mb_substr($names[0] ?? (string) $network, 0, 60);
        $note = implode(', ', \array_slice($names, 1));

        return '' === $note ? $row : $row + ['note' => mb_substr($note, 0, 200)];
    }

    /**
     * @return string|int|bool|list<mixed>
     *
     * @throws Malformed
     */
    private static function value(string $field, string $text, Network $network, string $line): string|int|bool|array
    {
        try {
            return match ($field) {
                'vlan' => FieldType::Vlan->read($text),
                'pools' => [(string) Range::fromString((string) preg_replace_callback(
                    '~(?<=^|-)\.(\d{1,3})(?=$|-)~',
                    static fn (array $part): string => (string) ShortHost::in($network, $part[0]),
                    (string) preg_replace('~\s*[-–]\s*~u', '-', $text),
                ))],
                default => FieldType::AddressOrNone->read(str_starts_with($text, '.') ? (string) ShortHost::in($network, $text) : $text),
            };
        } catch (Malformed $e) {
            throw Malformed::because('"{line}": {why}', ['line' => mb_substr(trim($line), 0, 80), 'why' => $e->message()]);
        }
    }

    /**
     * @param RowData    $row
     * @param list<Edit> $before
     *
     * @return RowData
     */
    private static function keyed(Plan $plan, array $row, array $before): array
    {
        $taken = array_map(static fn (Edit $edit): string => $edit->key, $before);
        $name = \is_string($row['name']) ? $row['name'] : '';
        $key = $plan->freeKey('segments', $name);
        for ($n = 2; \in_array($key, $taken, true); ++$n) {
            $key = $plan->freeKey('segments', $name.'-'.$n);
        }

        return ['key' => $key, 'pattern' => Segment::nextPattern(\count($plan->segments) + \count($before))] + $row;
    }
}
