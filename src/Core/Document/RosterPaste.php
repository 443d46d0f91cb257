<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Plan\Newcomer;
use Vorhut\Core\Plan\Plan;

/**
 * A table as it comes from a spreadsheet (tabs) or a CSV file (commas, semicolons): every row is read by itself, the good ones can be taken while the
 * bad ones wait with their reason. Columns: tag, kind, room, segment, MAC, serial; a first row that names them may order them otherwise.
 */
final readonly class RosterPaste
{
    private const COLUMNS = ['tag', 'kind', 'room', 'segment', 'mac', 'serial'];

    /**
     * @param list<array{n: int, text: string, cells: array<string, string>, fate: string, why: string}> $rows fate: new, known or refused
     * @param list<Edit> $edits
     */
    private function __construct(public array $rows, private array $edits, private int $taken)
    {
    }

    public static function of(Plan $plan, string $text): self
    {
        $columns = self::COLUMNS;
        $rows = [];
        $edits = [];
        $taken = 0;
        $tags = [];
        $macs = [];
        $keys = [];
        $position = array_reduce($plan->devices, static fn (int $most, $device): int => 9999 === $device->position ? $most : max($most, $device->position), 0);
        foreach ($plan->devices as $device) {
            $tags[strtolower($device->tag)] = true;
            foreach ($device->nics as $nic) {
                null === $nic->mac || $macs[(string) $nic->mac] = $device->tag;
            }
        }
        foreach (preg_split('/\r\n|\r|\n/', $text) ?: [] as $i => $line) {
            if ('' === trim($line)) {
                continue;
            }
            $separator = str_contains($line, "\t") ? "\t" : (str_contains($line, ';') ? ';' : ',');
            $cells = array_map(static fn (?string $cell): string => trim($cell ?? ''), str_getcsv($line, $separator, '"', ''));
            if ([] === $rows && \in_array('tag', array_map(strtolower(...), $cells), true)) {
                $columns = array_map(strtolower(...), $cells);
                continue;
            }
            $named = [];
            foreach ($columns as $c => $column) {
                $named[$column] = $cells[$c] ?? '';
            }
            $row = ['n' => $i + 1, 'text' => $line, 'cells' => $named, 'fate' => 'new', 'why' => ''];
            try {
                $tag = $named['tag'] ?? '';
                if ('' === $tag) {
                    throw new Malformed('The tag is missing.');
                }
                if (mb_strlen($tag) > 40) {
                    throw new Malformed('A tag has at most 40 characters.');
                }
                if (isset($tags[strtolower($tag)])) {
                    throw new Malformed(\sprintf('%s is in the roster already.', $tag));
                }
                $kind = $plan->kinds->named($named['kind'] ?? '') ?? throw new Malformed(\sprintf('No kind is called "%s".', $named['kind'] ?? ''));
                $segment = self::segment($plan, $named['segment'] ?? '');
                $mac = '' === ($named['mac'] ?? '') ? null : Mac::fromString($named['mac']);
                if (null !== $mac && isset($macs[(string) $mac])) {
                    throw new Malformed(\sprintf('%s is the MAC of %s already.', $mac, $macs[(string) $mac]));
                }
                $position += 10;
                $key = $plan->freeKey('devices', $tag);
                for ($n = 2; isset($keys[$key]); ++$n) {
                    $key = $plan->freeKey('devices', $tag.'-'.$n);
                }
                $keys[$key] = true;
                $device = ['key' => $key, 'tag' => $tag, 'kind' => $kind->code, 'room' => self::orNull($named['room'] ?? ''), 'serial' => self::orNull($named['serial'] ?? ''), 'position' => $position];
                $edits[] = Edit::add('devices', $device);
                foreach (Newcomer::nics($plan, $device, null === $mac ? null : (string) $mac, $segment) as $nic) {
                    $edits[] = Edit::add('nics', $nic);
                }
                $tags[strtolower($tag)] = true;
                null === $mac || $macs[(string) $mac] = $tag;
                ++$taken;
            } catch (Malformed $e) {
                $row['fate'] = 'refused';
                $row['why'] = $e->getMessage();
            }
            $rows[] = $row;
        }

        return new self($rows, $edits, $taken);
    }

    public function change(): Change
    {
        return new Change(new Message('{n} devices pasted.', ['n' => $this->taken]), $this->edits);
    }

    /** The rows that were not taken, as they were typed. */
    public function refusedText(): string
    {
        return implode("\n", array_map(static fn (array $row): string => $row['text'], array_filter($this->rows, static fn (array $row): bool => 'refused' === $row['fate'])));
    }

    private static function segment(Plan $plan, string $text): ?string
    {
        if ('' === $text) {
            return null;
        }
        foreach ($plan->segments as $segment) {
            if ($segment->key === $text || 0 === strcasecmp($segment->name, $text) || (string) $segment->network === $text || (null !== $segment->vlan && (string) $segment->vlan === $text)) {
                return $segment->key;
            }
        }
        throw new Malformed(\sprintf('No segment is called "%s".', $text));
    }

    private static function orNull(string $text): ?string
    {
        return '' === $text ? null : mb_substr($text, 0, 250);
    }
}
