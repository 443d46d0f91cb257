<?php

declare(strict_types=1);

namespace Vorhut\Core\Audio\Rule;

use Vorhut\Core\Audio\SoundNetwork;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** An audio network has no clock leader, or two; a device sends more channels than it has. */
final class SoundOutOfStep implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach (SoundNetwork::all($context->plan) as $network) {
            if (!$network->isLed()) {
                yield $this->clock($context->plan, $network);
            }
            foreach ($network->overfull() as $device) {
                $at = [
                    'tag' => $device->tag,
                    'n' => $network->channels[$device->key]['sends'],
                    'has' => $network->channels[$device->key]['has'] ?? 0,
                ];
                yield new Finding(
                    'more-channels-than-the-card',
                    Severity::Blocks,
                    Stage::Services,
                    ['devices/'.$device->key],
                    new Message('The streams of {tag} carry [n channel|channels], but it has only {has}.', $at),
                    new Message('The channels beyond that are silent, although the mixer shows them.'),
                    new Message('Send fewer channels from {tag}, or fit a card with more channels.', $at),
                );
            }
        }
    }

    private function clock(Plan $plan, SoundNetwork $network): Finding
    {
        $at = [
            'segment' => $plan->segments[$network->segment]->name ?? $network->segment,
            'leaders' => self::tags($network->leaders),
            'devices' => self::tags(\array_slice($network->devices, 0, 6)),
        ];

        return new Finding(
            'clock-without-one-leader',
            Severity::Blocks,
            Stage::Services,
            ['segments/'.$network->segment, ...array_map(
                static fn (Device $one): string => 'devices/'.$one->key,
                [] === $network->leaders ? $network->devices : $network->leaders,
            )],
            [] === $network->leaders
                ? new Message('{segment} has no clock leader: {devices} are all followers.', $at)
                : new Message('{segment} has more than one clock leader: {leaders}.', $at),
            new Message('The clocks drift apart, and the sound clicks every few seconds.'),
            new Message('Set exactly one device as clock leader, and the others to follow or to automatic.'),
        );
    }

    /** @param list<Device> $of */
    private static function tags(array $of): string
    {
        return implode(', ', array_map(static fn (Device $one): string => $one->tag, $of));
    }
}
