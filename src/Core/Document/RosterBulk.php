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
            $edit = match ($field) {
                'room' => self::room($plan, $device, $text),
                'segment' => self::move($device, $segment),
                default => self::setting($plan, $device, $field, $text),
            };
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

    private static function room(Plan $plan, Device $device, string $text): Edit
    {
        $before = $plan->row('devices', $device->key)['room'] ?? null;

        return Edit::put('devices', $device->key, 'room', $before, '' === $text ? null : mb_substr($text, 0, 250));
    }

    private static function move(Device $device, ?string $segment): ?Edit
    {
        $nic = $device->nic();

        return null === $nic ? null : Edit::put('nics', $nic->key, 'segment', $nic->segment, $segment);
    }

    /**
     * @return Edit|null null where the device has no such setting, or holds the value
     *
     * @throws Malformed
     */
    private static function setting(Plan $plan, Device $device, string $field, string $text): ?Edit
    {
        $slot = $plan->settings()->slot($device, $field);
        if (null === $slot || null !== $slot->setting->secret) {
            return null;
        }
        $value = match ($text) {
            '' => null,
            '-' => '',
            default => $plan->settings()->read($slot->setting, $text),
        };
        $before = $slot->value->inherited ? null : $slot->value->planned;

        return $value === $slot->value->planned ? null : Edit::setting($slot->ref, Face::Planned, $before, $value);
    }

    public function change(): Change
    {
        return new Change(
            new Message('{field} of [n device|devices] changed at once', ['field' => $this->field, 'n' => \count($this->changes)]),
            array_column($this->changes, 'edit'),
        );
    }

    private static function segment(Plan $plan, string $text): ?string
    {
        if ('' === $text) {
            return null;
        }

        return SegmentName::find($plan, $text)->key
            ?? throw Malformed::because('No segment is called "{text}".', ['text' => $text]);
    }
}
