<?php

declare(strict_types=1);

namespace Vorhut\Core\Lighting;

use Vorhut\Core\Net\Group;
use Vorhut\Core\Network\Discovery\Delivery;
use Vorhut\Core\Network\Discovery\MulticastGroup;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** Which senders of a universe a receiver hears; the receiver itself is not counted. */
final readonly class Hearing
{
    /**
     * @param list<array{Device, int}> $heard with their priority, the greatest first
     * @param Message|null             $why   why the one that counts most of the others is not; null where all are heard
     */
    private function __construct(public array $heard, public ?Message $why)
    {
    }

    public static function of(Plan $plan, UniversePatch $universe, Device $receiver): self
    {
        $heard = [];
        $why = null;
        foreach ($universe->senders as [$sender, $priority]) {
            if ($sender === $receiver) {
                continue;
            }
            $group = MulticastGroup::of('', Group::fromString((string) $universe->universe->group()), $sender);
            $delivery = Delivery::of($plan, $group, $receiver);
            if ('not' === $delivery->verdict) {
                $why ??= $delivery->why;
            } else {
                $heard[] = [$sender, $priority];
            }
        }

        return new self($heard, $why);
    }
}
