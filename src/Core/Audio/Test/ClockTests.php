<?php

declare(strict_types=1);

namespace Vorhut\Core\Audio\Test;

use Vorhut\Core\Audio\SoundNetwork;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\Prediction;
use Vorhut\Core\Proof\PredictionCache;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Proof\TestSource;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Ptp\Announce;

/** The clock of each audio network: a listener there reports the leader. */
final readonly class ClockTests implements TestSource
{
    public static function kinds(): array
    {
        return [TestKind::Clock];
    }

    public static function of(PredictionCache $predictions, Plan $plan): array
    {
        $tests = [];
        foreach (SoundNetwork::all($plan) as $network) {
            // A single device needs no clock leader.
            if (\count($network->devices) < 2) {
                continue;
            }
            $meant = $network->leader ?? $network->leaders[0] ?? $network->devices[0];
            $tests[] = new ProofTest(
                'clock:'.$network->segment,
                TestKind::Clock,
                OutpostKey::on($network->segment),
                $meant->key,
                new Message($network->isLeaderKnown()
                    ? 'One clock is heard on {segment}, that of {tag}'
                    : 'One clock is heard on {segment}', [
                        'segment' => $plan->segments[$network->segment]->name,
                        'tag' => $meant->tag,
                    ]),
                Outcome::Heard,
                new Message('A lamp shows that a device is synchronised, but not with which leader, and there may be two.'),
                $predictions,
                static fn (): Prediction => self::predict($network),
                Port::udp(Announce::PORT),
                called: $network->segment,
            );
        }

        return $tests;
    }

    private static function predict(SoundNetwork $network): Prediction
    {
        $facts = new Facts();
        foreach ($network->devices as $device) {
            $facts->note($device->record().'#clockRole', SoundNetwork::role($device));
            $facts->note('nics/'.($device->nic()->key ?? '').':mac', $device->nic()?->mac?->digits);
        }
        $at = ['tag' => $network->leader->tag ?? '', 'tags' => implode(', ', array_map(
            static fn (Device $one): string => $one->tag,
            $network->leaders,
        ))];

        return match (true) {
            \count($network->leaders) > 1 => new Prediction(Outcome::OtherHeard, new Message('{tags} all lead.', $at), $facts),
            null === $network->leader => new Prediction(Outcome::Silent, new Message('All of them only follow.'), $facts),
            null === $network->leader->nic()?->setting('address')->effective(Face::Set) && $network->isLeaderKnown() => new Prediction(
                Outcome::Silent,
                new Message('{tag}, which is to lead, has no address yet.', $at),
                $facts,
            ),
            default => new Prediction(
                Outcome::Heard,
                $network->isLeaderKnown()
                    ? new Message('{tag} leads, and all others follow.', $at)
                    : new Message('One of them leads: the one with the least number of its card, and not all of these are known.'),
                $facts,
            ),
        };
    }
}
