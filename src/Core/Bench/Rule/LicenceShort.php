<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Bench\LicenceNeed;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** The plan wants more of something than the licences of the device allow. */
final class LicenceShort implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach (LicenceNeed::all($context->plan) as $need) {
            if (0 === $need->missing()) {
                continue;
            }
            $at = [
                'tag' => $need->device->tag,
                'what' => new Message($need->term->name),
                'n' => $need->wanted,
                'there' => $need->there,
                'missing' => $need->missing(),
                'days' => $need->term->lead,
                'day' => $need->ordered ?? $need->orderBy ?? '',
            ];
            yield new Finding(
                'licence-short',
                null === $need->ordered ? Severity::Risk : Severity::Note,
                Stage::Devices,
                ['devices/'.$need->device->key],
                new Message('{tag} needs {n} × {what}; it has {there}.', $at),
                new Message('The feature stays off until it is licensed.'),
                match (true) {
                    null !== $need->ordered => new Message('Ordered on {day}. Enter the date of arrival when it comes.', $at),
                    null !== $need->orderBy => new Message('Order {missing} more by {day}: delivery takes [days day|days].', $at),
                    default => new Message('Order {missing} more: delivery takes [days day|days].', $at),
                },
                null,
                $need->term->code,
            );
        }
    }
}
