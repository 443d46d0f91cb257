<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Document\NewDevices;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;

/** Adds one device to the roster, or a series of equal ones, with their planned addresses. */
final readonly class AddDevices
{
    public function __construct(private ChangeWriter $changes)
    {
    }

    /**
     * @param array{kind: string, tag: string, room: string, segment: string, label: string, count: string} $typed kind: its code, name or
     *                                                                                                     another word for it
     *
     * @throws FieldErrors
     * @throws Conflict
     * @throws Refused
     */
    public function add(Job $job, Plan $plan, array $typed, User|string $by): NewDevices
    {
        $kind = $plan->catalogue->kindNamed($typed['kind']);
        $errors = [];
        if (null === $kind) {
            $errors['kind'] = '' === trim($typed['kind'])
                ? new Message('Choose the kind of the device.')
                : new Message('No kind is called "{kind}".', ['kind' => mb_substr($typed['kind'], 0, 80)]);
        }
        $count = '' === $typed['count'] ? 1 : (ctype_digit($typed['count']) ? (int) $typed['count'] : 0);
        if ($count < 1 || $count > NewDevices::MOST) {
            $errors['count'] = new Message('Add 1 to {most} devices at a time.', ['most' => NewDevices::MOST]);
        }
        if ([] !== $errors) {
            throw new FieldErrors($errors);
        }
        $new = self::devices($plan, $kind, $count, $typed);
        $this->changes->write($job, $new->change, $by);

        return $new;
    }

    /**
     * @param array{tag: string, room: string, segment: string, label: string, ...} $typed
     *
     * @throws FieldErrors
     */
    private static function devices(Plan $plan, Kind $kind, int $count, array $typed): NewDevices
    {
        $field = 'tag';
        try {
            $tags = NewDevices::tags($plan, $kind, $typed['tag'], $count);
            $field = 'label';

            return NewDevices::of($plan, $kind, $tags, $typed['room'], $typed['segment'], $typed['label']);
        } catch (Malformed $e) {
            throw new FieldErrors([$field => $e->message()]);
        }
    }
}
