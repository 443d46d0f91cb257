<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;

/** What a row of a pasted roster changes at a device that the roster has already. Empty cells change nothing. */
final class RosterUpdate
{
    /** Characters of a room or a serial number, as for a new device. */
    private const LONGEST = 250;

    /** @var list<Edit> */
    private array $edits = [];
    /** @var list<Message> */
    private array $changes = [];

    private function __construct(private readonly Plan $plan, private readonly Device $device)
    {
    }

    /**
     * @param array<string, string> $cells   field or setting → text
     * @param string|null           $segment its key; null where the row names none
     *
     * @throws Malformed why the row is refused
     */
    public static function of(Plan $plan, Device $device, array $cells, ?Mac $mac, ?string $segment): self
    {
        $update = new self($plan, $device);
        $kind = $plan->catalogue->kindNamed($cells['kind'] ?? '');
        if (null !== $kind && $kind->code !== $device->kind->code) {
            throw Malformed::because('{tag} is a {kind} in the roster.', [
                'tag' => $device->tag,
                'kind' => new Message($device->kind->name),
            ]);
        }
        $row = new Row($plan->row('devices', $device->key) ?? []);
        $update->put('room', new Message('room'), $device->room, mb_substr($cells['room'] ?? '', 0, self::LONGEST));
        $update->put('serial', new Message('serial'), $device->serial, mb_substr($cells['serial'] ?? '', 0, self::LONGEST));
        $update->put(RosterColumns::NOTE, new Message('note'), $row->text('note'), $cells[RosterColumns::NOTE] ?? '');
        foreach (RosterCells::labelAddress($cells[RosterColumns::LABEL_ADDRESS] ?? '') as $field => $text) {
            $label = new Message('labelAddress' === $field ? 'address on the label' : 'mask on the label');
            $update->put($field, $label, $row->text($field), $text);
        }
        $update->port($mac, $segment, 'dhcp' === ($cells['mode'] ?? ''));
        $update->settings(array_diff_key($cells, array_flip(RosterColumns::NO_SETTINGS)));

        return $update;
    }

    /** @return list<Edit> */
    public function edits(): array
    {
        return $this->edits;
    }

    /** Before and after, for the preview; null if the row changes nothing. */
    public function message(): ?Message
    {
        return [] === $this->changes ? null : Message::join($this->changes);
    }

    private function put(string $field, Message $label, string $before, string $after): void
    {
        if ('' !== $after && $before !== $after) {
            $this->edits[] = Edit::put('devices', $this->device->key, $field, '' === $before ? null : $before, $after);
            $this->note($label, $before, $after);
        }
    }

    private function port(?Mac $mac, ?string $segment, bool $pooled): void
    {
        $nic = $this->device->nic();
        if (null === $nic) {
            return;
        }
        if (null !== $mac && true !== $nic->mac?->equals($mac)) {
            $this->edits[] = Edit::put('nics', $nic->key, 'mac', null === $nic->mac ? null : (string) $nic->mac, (string) $mac);
            $this->note(new Message('MAC'), (string) $nic->mac, (string) $mac);
        }
        if (null !== $segment && $nic->segment !== $segment) {
            $this->edits[] = Edit::put('nics', $nic->key, 'segment', $nic->segment, $segment);
            $this->note(new Message('segment'), $this->plan->segments[$nic->segment ?? '']->name ?? '', $this->plan->segmentName($segment));
        }
        if ($pooled && !$nic->pooled && !$nic->reserved) {
            $this->edits[] = Edit::put('nics', $nic->key, 'mode', 'static', 'dhcp');
            $this->note(new Message('address assignment'), 'static', 'DHCP');
        }
    }

    /** @param array<string, string> $cells */
    private function settings(array $cells): void
    {
        foreach (array_filter($cells, static fn (string $text): bool => '' !== $text) as $local => $text) {
            $slot = $this->plan->settings()->slot($this->device, $local) ?? throw Malformed::because('A {kind} has no setting "{name}".', [
                'kind' => $this->device->kind->name,
                'name' => $local,
            ]);
            $value = '-' === $text ? '' : $this->plan->settings()->read($slot->setting, $text);
            if ($slot->value->planned !== $value) {
                $this->edits[] = Edit::setting($slot->ref, Face::Planned, $slot->value->own(Face::Planned), $value);
                $this->note(new Message($slot->setting->label), $slot->value->planned ?? '', $value);
            }
        }
    }

    private function note(Message $label, string $before, string $after): void
    {
        $this->changes[] = new Message('{label}: {before} → {after}.', [
            'label' => $label,
            'before' => '' === $before ? '–' : $before,
            'after' => '' === $after ? '–' : $after,
        ]);
    }
}
