<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** A terminal is in another room than the phone of its number, whose location the emergency centre gets. */
final class TerminalElsewhere implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        foreach ($plan->extensions as $extension) {
            $room = $plan->devices[$extension->phone ?? '']->room ?? '';
            if ('' !== $room && '' !== $extension->location) {
                foreach ($plan->terminalsOf($extension->key) as $terminal) {
                    $device = $plan->devices[$terminal->device] ?? null;
                    if (null === $device || \in_array($device->room, ['', $room], true)) {
                        continue;
                    }
                    $at = [
                        'tag' => $device->tag,
                        'room' => $device->room,
                        'number' => $extension->number,
                        'location' => $extension->location,
                    ];
                    yield new Finding(
                        'terminal-elsewhere',
                        Severity::Risk,
                        Stage::Services,
                        ['extensions/'.$extension->key, $terminal->record(), $device->record()],
                        new Message('{tag} is in {room}, but an emergency call from it reports {location}.', $at),
                        new Message('The location belongs to the number, so help is sent to its first phone.'),
                        new Message('Give {tag} a number and a location of its own, and put both numbers in a ring group.', $at),
                    );
                }
            }
        }
    }
}
