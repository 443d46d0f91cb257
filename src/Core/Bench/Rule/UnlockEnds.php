<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Catalogue\LicenceTerm;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** A device whose settings are unlocked for some days only, and lock again after that. */
final class UnlockEnds implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            foreach ($device->kind->licences as $term) {
                if (null === $term->unless || null === $term->wantedBy) {
                    continue;
                }
                $value = $device->setting($term->wantedBy);
                if ($term->unless === $value->effective(Face::Seen)) {
                    yield self::finding($device, $term, self::end($term, $value->setAt ?? $value->seenAt));
                }
            }
        }
    }

    private static function finding(Device $device, LicenceTerm $term, ?string $until): Finding
    {
        $at = [
            'tag' => $device->tag,
            'n' => $term->lasts,
            'until' => $until ?? '',
            'what' => new Message($term->name),
            'days' => $term->lead,
        ];

        return new Finding(
            'unlock-ends',
            Severity::Risk,
            Stage::Devices,
            [$device->record()],
            null === $until
                ? new Message('{tag} is unlocked for only [n day|days].', $at)
                : new Message('{tag} is unlocked until {until}.', $at),
            new Message('After that, its settings are locked and cannot be changed on site.'),
            new Message('Order the {what} now (delivery takes [days day|days]), and unlock the device with it.', $at),
            null,
            $term->code,
        );
    }

    /** The day on which an unlock ends that was entered at a time. */
    private static function end(LicenceTerm $term, ?string $since): ?string
    {
        $begin = null === $since ? false : \DateTimeImmutable::createFromFormat('!Y-m-d', substr($since, 0, 10));

        return false === $begin ? null : $begin->modify('+'.$term->lasts.' days')->format('Y-m-d');
    }
}
