<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** The emergency location of a number names another room than the one its phone is in: the phone was moved and the location was not. */
final class EmergencyLocationElsewhere implements Rule
{
    /** Shorter names occur within other words. */
    private const SHORTEST = 4;

    public function find(RuleContext $context): iterable
    {
        $rooms = self::rooms($context->plan);
        foreach ($context->plan->extensions as $extension) {
            $phone = $context->plan->devices[$extension->phone ?? ''] ?? null;
            if (null === $phone || '' === $phone->room || '' === $extension->location) {
                continue;
            }
            $other = self::roomIn($rooms, $extension->location, $phone->room);
            if (null === $other) {
                continue;
            }
            $at = ['number' => $extension->number, 'tag' => $phone->tag, 'room' => $phone->room, 'other' => $other];
            yield new Finding(
                'emergency-location-elsewhere',
                Severity::Blocks,
                Stage::Services,
                ['extensions/'.$extension->key, $phone->record()],
                new Message('{tag} is in {room}, but the emergency location of {number} is {other}.', $at),
                new Message('Help is sent to the wrong place. Local codes define what the location must contain.'),
                new Message('Correct the emergency location of {number}, or the room of {tag}.', $at),
            );
        }
    }

    /** @return list<string> the rooms of the job, the longest name first */
    private static function rooms(Plan $plan): array
    {
        $rooms = [];
        foreach ($plan->devices as $device) {
            if (mb_strlen($device->room) >= self::SHORTEST) {
                $rooms[$device->room] = mb_strlen($device->room);
            }
        }
        arsort($rooms);

        return array_map(strval(...), array_keys($rooms));
    }

    /**
     * @param list<string> $rooms
     *
     * @return string|null the room that a location names; null for the own one, or none
     */
    private static function roomIn(array $rooms, string $location, string $own): ?string
    {
        if (false !== mb_stripos($location, $own)) {
            return null;
        }
        foreach ($rooms as $room) {
            // A part of the own room ("Hall" of "Hall, north") is not a different one.
            $isNamed = 1 === preg_match('/(?<![\p{L}\p{N}])'.preg_quote($room, '/').'(?![\p{L}\p{N}])/iu', $location);
            if ($isNamed && false === mb_stripos($own, $room)) {
                return $room;
            }
        }

        return null;
    }
}
