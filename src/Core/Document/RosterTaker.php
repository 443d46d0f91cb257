<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\DeviceDefaults;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Text\Message;

/** Turns rows of a pasted roster into new devices, one after the other, each seeing what the ones before it took. */
final class RosterTaker
{
    private const LONGEST_TAG = 40;

    /** @var array<string, true> in small letters */
    private array $tags = [];
    /** @var array<string, string> MAC → tag */
    private array $macs = [];
    /** @var array<string, true> devices that a row has changed */
    private array $updated = [];
    /** @var array<string, Kind> as it was written → kind */
    private array $kinds = [];
    /** @var array<string, true> */
    private array $keys = [];
    /** @var list<Edit> */
    private array $edits = [];
    private int $position = 0;
    private int $taken = 0;
    private int $changed = 0;

    public function __construct(private readonly Plan $plan)
    {
        foreach ($plan->devices as $device) {
            $this->tags[mb_strtolower($device->tag)] = true;
            $this->position = 9999 === $device->position ? $this->position : max($this->position, $device->position);
            foreach ($device->nics as $nic) {
                if (null !== $nic->mac) {
                    $this->macs[(string) $nic->mac] = $device->tag;
                }
            }
        }
    }

    /**
     * @param array<string, string> $cells field or setting → text
     *
     * @return array{string, Message|null} new, changed or same; and what changes
     *
     * @throws Malformed why the row cannot be taken; then nothing of it is
     */
    public function take(array $cells): array
    {
        $tag = $cells['tag'] ?? '';
        if ('' === $tag) {
            throw new Malformed('The tag is missing.');
        }
        if (mb_strlen($tag) > self::LONGEST_TAG) {
            throw new Malformed('A tag has at most 40 characters.');
        }
        $known = $this->plan->deviceTagged($tag);
        if (null !== $known && !isset($this->updated[$known->key])) {
            return $this->update($known, $cells);
        }
        if (isset($this->tags[mb_strtolower($tag)])) {
            throw Malformed::because('{tag} is in the roster already.', ['tag' => $tag]);
        }
        $kind = $this->kinds[$cells['kind'] ?? ''] ??= $this->plan->catalogue->kindNamed($cells['kind'] ?? '')
            ?? throw Malformed::because('No kind is called "{kind}".', ['kind' => $cells['kind'] ?? '']);
        $segment = $this->segment($cells);
        $mac = '' === ($cells['mac'] ?? '') ? null : Mac::fromString($cells['mac']);
        if (null !== $mac && isset($this->macs[(string) $mac])) {
            throw Malformed::because('{mac} is the MAC of {tag} already.', ['mac' => $mac, 'tag' => $this->macs[(string) $mac]]);
        }
        $key = $this->plan->freeKey('devices', $tag);
        for ($n = 2; isset($this->keys[$key]); ++$n) {
            $key = $this->plan->freeKey('devices', $tag.'-'.$n);
        }
        $device = [
            'key' => $key,
            'tag' => $tag,
            'kind' => $kind->code,
            'room' => self::orNull($cells['room'] ?? ''),
            'serial' => self::orNull($cells['serial'] ?? ''),
            'note' => '' === ($cells[RosterColumns::NOTE] ?? '') ? null : $cells[RosterColumns::NOTE],
            'position' => $this->position + 10,
        ];
        $settings = $this->settings($kind, $key, array_diff_key($cells, array_flip(RosterColumns::NO_SETTINGS)));
        $this->position += 10;
        ++$this->taken;
        $this->keys[$key] = true;
        $this->tags[mb_strtolower($tag)] = true;
        if (null !== $mac) {
            $this->macs[(string) $mac] = $tag;
        }
        $this->edits[] = Edit::add('devices', $device);
        $first = ($kind->activePorts()[0] ?? null)?->name;
        foreach (DeviceDefaults::nics($this->plan, $device, null === $mac ? null : (string) $mac, $segment) as $nic) {
            $isPooled = 'dhcp' === ($cells['mode'] ?? '') && 'static' === $nic['mode'] && $nic['name'] === $first;
            $this->edits[] = Edit::add('nics', $isPooled ? ['mode' => 'dhcp'] + $nic : $nic);
        }
        array_push($this->edits, ...$settings);

        return ['new', null];
    }

    /**
     * @param array<string, string> $cells
     *
     * @return array{string, Message|null}
     */
    private function update(Device $device, array $cells): array
    {
        $mac = '' === ($cells['mac'] ?? '') ? null : Mac::fromString($cells['mac']);
        $owner = null === $mac ? null : $this->macs[(string) $mac] ?? null;
        if (null !== $owner && $owner !== $device->tag) {
            throw Malformed::because('{mac} is the MAC of {tag} already.', ['mac' => $mac, 'tag' => $owner]);
        }
        $update = RosterUpdate::of($this->plan, $device, $cells, $mac, $this->segment($cells));
        $this->updated[$device->key] = true;
        if (null !== $mac) {
            $this->macs[(string) $mac] = $device->tag;
        }
        array_push($this->edits, ...$update->edits());
        $this->changed += [] === $update->edits() ? 0 : 1;

        return [[] === $update->edits() ? 'same' : 'changed', $update->message()];
    }

    /** @return list<Edit> */
    public function edits(): array
    {
        return $this->edits;
    }

    public function count(): int
    {
        return $this->taken;
    }

    /** How many devices of the roster change. */
    public function changedCount(): int
    {
        return $this->changed;
    }

    /**
     * @param array<string, string> $cells name of a setting → text
     *
     * @return list<Edit>
     */
    private function settings(Kind $kind, string $key, array $cells): array
    {
        $edits = [];
        foreach ($cells as $local => $text) {
            if ('' === $text) {
                continue;
            }
            [$first, $rest] = explode('.', $local, 2) + [1 => ''];
            [$port, $slot] = null !== $kind->port($first) ? [$first, $rest] : [null, $local];
            $setting = $kind->setting(explode('.', $slot, 2)[0]);
            if (
                null === $setting
                || !\in_array($slot, $setting->slots(), true)
                || (null !== $port && SettingScope::Port !== $setting->scope)
            ) {
                throw Malformed::because('A {kind} has no setting "{name}".', ['kind' => $kind->name, 'name' => $local]);
            }
            if (SettingScope::Port === $setting->scope) {
                $port ??= ($kind->activePorts()[0] ?? null)?->name;
                $record = 'nics/'.$key.'.'.$port;
            } else {
                $record = 'devices/'.$key;
            }
            $value = '-' === $text ? '' : $this->plan->settings()->read($setting, $text);
            $edits[] = Edit::setting(SettingRef::of($record, $slot), Face::Planned, null, $value);
        }

        return $edits;
    }

    /**
     * @param array<string, string> $cells
     *
     * @throws Malformed for an unknown segment, and for an address with another mask than that of its segment
     */
    private function segment(array $cells): ?string
    {
        $network = $cells['network'] ?? '';
        $key = $this->segmentNamed($cells['segment'] ?? '');
        if ('' === $network) {
            return $key;
        }
        foreach ($this->plan->segments as $segment) {
            if ($segment->key === $key && (string) $segment->network !== $network) {
                throw Malformed::because('{address} is in {network}, but {segment} is {other}.', [
                    'address' => $cells['address'],
                    'network' => $network,
                    'segment' => $segment->name,
                    'other' => (string) $segment->network,
                ]);
            }
            if (null === $key && (string) $segment->network === $network) {
                return $segment->key;
            }
        }

        return $key;
    }

    private function segmentNamed(string $text): ?string
    {
        if ('' === $text) {
            return null;
        }
        foreach ($this->plan->segments as $segment) {
            $names = [$segment->key, (string) $segment->network, null === $segment->vlan ? '' : (string) $segment->vlan];
            if (\in_array($text, $names, true) || 0 === strcasecmp($segment->name, $text)) {
                return $segment->key;
            }
        }
        throw Malformed::because('No segment is called "{text}".', ['text' => $text]);
    }

    private static function orNull(string $text): ?string
    {
        return '' === $text ? null : mb_substr($text, 0, 250);
    }
}
