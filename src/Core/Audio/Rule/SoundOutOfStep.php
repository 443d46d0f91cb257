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
                    new Message('The streams of {tag} carry [n channel|channels], and it has {has}.', $at),
                    new Message('The last ones are silent, and the mixer shows them as if they were there.'),
                    new Message('Send fewer, or fit a card with more channels.'),
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
                ? new Message('{segment} has no clock leader: {devices} only follow.', $at)
                : new Message('{leaders} all lead the clock of {segment}.', $at),
            new Message('Sound drifts apart: it clicks every few seconds, more often as it warms.'),
            new Message('Let exactly one lead; the others follow, or choose by themselves.'),
        );
    }

    /** @param list<Device> $of */
    private static function tags(array $of): string
    {
        return implode(', ', array_map(static fn (Device $one): string => $one->tag, $of));
    }
}
