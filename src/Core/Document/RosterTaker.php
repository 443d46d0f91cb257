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
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Plan\TagProposal;
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
    /** @var array<string, string> code of a kind → the last tag that was proposed for it */
    private array $proposed = [];
    private int $taken = 0;
    private int $changed = 0;
    private RosterNumbers $numbers;
    /** Where there is only one, a device without an address is in it. */
    private readonly ?Segment $onlySegment;

    public function __construct(private readonly Plan $plan)
    {
        $this->numbers = new RosterNumbers($plan);
        $this->onlySegment = 1 === \count($plan->segments) ? array_values($plan->segments)[0] : null;
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

    /** A copy takes further rows for itself. */
    public function __clone()
    {
        $this->numbers = clone $this->numbers;
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
        // A row of a table has a tag; a noted device may be without.
        $tag = $cells['tag'] ?? $this->proposedTag($this->kind($cells['kind'] ?? ''));
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
        $kind = $this->kind($cells['kind'] ?? '');
        $place = RosterPlace::of($this->plan, $cells, $this->onlySegment);
        $cells['address'] = $place->address;
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
            ...RosterCells::labelAddress($cells[RosterColumns::LABEL_ADDRESS] ?? ''),
        ];
        $settings = $this->settings($kind, $key, array_diff_key($cells, array_flip(RosterColumns::NO_SETTINGS)));
        if ('' !== ($cells[RosterColumns::EXTENSION] ?? '')) {
            $this->numbers->give($cells[RosterColumns::EXTENSION], $key);
        }
        $this->position += 10;
        $this->keys[$key] = true;
        $this->tags[mb_strtolower($tag)] = true;
        ++$this->taken;
        if (null !== $mac) {
            $this->macs[(string) $mac] = $tag;
        }
        $this->edits[] = Edit::add('devices', $device);
        $first = ($kind->activePorts()[0] ?? null)?->name;
        foreach (DeviceDefaults::nics($this->plan, $device, null === $mac ? null : (string) $mac, $place->segment) as $nic) {
            $isPooled = 'dhcp' === ($cells['mode'] ?? '') && 'static' === $nic['mode'] && $nic['name'] === $first;
            $this->edits[] = Edit::add('nics', $isPooled ? ['mode' => 'dhcp'] + $nic : $nic);
        }
        array_push($this->edits, ...$settings);

        return ['new', null];
    }

    /** @throws Malformed */
    private function kind(string $text): Kind
    {
        return $this->kinds[$text] ??= $this->plan->catalogue->kindNamed($text)
            ?? throw Malformed::because('No kind is called "{kind}".', ['kind' => $text]);
    }

    private function proposedTag(Kind $kind): string
    {
        do {
            $this->proposed[$kind->code] = TagProposal::next($this->plan, $kind, $this->proposed[$kind->code] ?? null);
        } while (isset($this->tags[mb_strtolower($this->proposed[$kind->code])]));

        return $this->proposed[$kind->code];
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
        $place = RosterPlace::of($this->plan, $cells, null);
        $update = RosterUpdate::of($this->plan, $device, ['address' => $place->address] + $cells, $mac, $place->segment);
        $this->updated[$device->key] = true;
        if (null !== $mac) {
            $this->macs[(string) $mac] = $device->tag;
        }
        array_push($this->edits, ...$update->edits());
        $isChanged = $this->giveNumber($device, $cells[RosterColumns::EXTENSION] ?? '') || [] !== $update->edits();
        $this->changed += $isChanged ? 1 : 0;

        return [$isChanged ? 'changed' : 'same', $update->message()];
    }

    /**
     * @return bool whether it is a further extension of the device
     *
     * @throws Malformed
     */
    private function giveNumber(Device $device, string $number): bool
    {
        $numbers = array_map(static fn (Extension $one): string => $one->number, $this->plan->extensionsOf($device->key));
        if ('' === $number || \in_array($number, $numbers, true)) {
            return false;
        }
        $this->numbers->give($number, $device->key);

        return true;
    }

    /** @return list<Edit> */
    public function edits(): array
    {
        return [...$this->edits, ...$this->numbers->edits($this->edits)];
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

    private static function orNull(string $text): ?string
    {
        return '' === $text ? null : mb_substr($text, 0, 250);
    }
}
