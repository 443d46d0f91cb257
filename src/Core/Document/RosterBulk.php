<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** One value for many devices: the room, the segment, or a setting; those whose kind has no such setting are passed over. */
final readonly class RosterBulk
{
    /** @param list<array{tag: string, before: string, after: string, edit: Edit}> $changes of those that have another value now */
    private function __construct(public array $changes, private string $field)
    {
    }

    /**
     * @param array<Device> $devices
     * @param string        $field   room, segment, or the local name of a setting
     * @param string        $text    a segment by its name or key; "-" for a setting that is left blank on purpose
     *
     * @throws Malformed where the value is none for it
     */
    public static function of(Plan $plan, array $devices, string $field, string $text): self
    {
        $text = trim($text);
        $changes = [];
        $segment = 'segment' === $field ? self::segment($plan, $text) : null;
        foreach ($devices as $device) {
            if ('room' === $field) {
                $before = $plan->row('devices', $device->key)['room'] ?? null;
                $edit = Edit::put('devices', $device->key, 'room', $before, '' === $text ? null : mb_substr($text, 0, 250));
            } elseif ('segment' === $field) {
                $nic = $device->nic();
                $edit = null === $nic ? null : Edit::put('nics', $nic->key, 'segment', $nic->segment, $segment);
            } else {
                $slot = $plan->settings()->slot($device, $field);
                $value = match ($text) {
                    '' => null,
                    '-' => '',
                    default => null === $slot ? null : $plan->settings()->read($slot->setting, $text),
                };
                if (null === $slot || null !== $slot->setting->secret || $value === ($slot->value->planned ?? null)) {
                    continue;
                }
                $before = $slot->value->inherited ? null : $slot->value->planned;
                $edit = Edit::setting($slot->ref, Face::Planned, $before, $value);
            }
            if (null !== $edit && $edit->before !== $edit->after) {
                $changes[] = [
                    'tag' => $device->tag,
                    'before' => \is_scalar($edit->before) ? (string) $edit->before : '',
                    'after' => \is_scalar($edit->after) ? (string) $edit->after : '–',
                    'edit' => $edit,
                ];
            }
        }

        return new self($changes, $field);
    }

    public function change(): Change
    {
        return new Change(
            new Message('{field} of {n} devices changed at once', ['field' => $this->field, 'n' => \count($this->changes)]),
            array_column($this->changes, 'edit'),
        );
    }

    private static function segment(Plan $plan, string $text): ?string
    {
        if ('' === $text) {
            return null;
        }

        return $plan->segmentNamed($text)->key ?? $plan->segments[$text]->key
            ?? throw Malformed::because('No segment is called "{text}".', ['text' => $text]);
    }
}
