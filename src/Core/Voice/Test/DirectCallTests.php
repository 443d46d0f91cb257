<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Test;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\Prediction;
use Vorhut\Core\Proof\PredictionCache;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Proof\TestSource;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\DirectCall;
use Vorhut\Core\Voice\Registration;

/** Calls between codecs, by address and without a PBX. */
final readonly class DirectCallTests implements TestSource
{
    public static function kinds(): array
    {
        return [TestKind::Call];
    }

    public static function of(PredictionCache $predictions, Plan $plan): array
    {
        return array_map(
            static fn (array $call): ProofTest => self::call($predictions, $plan, $call[0], $call[1]),
            self::calls($plan),
        );
    }

    /**
     * Each codec is called once, from the segment of another, over every ordered pair of their segments; or from its own if there is only
     * one.
     *
     * @return list<array{string, Device}>
     */
    private static function calls(Plan $plan): array
    {
        $bySegment = [];
        foreach ($plan->devices as $device) {
            $segment = $device->nic()?->segment;
            if ($device->kind->has(Role::DirectCallee) && null !== $segment && null !== $device->nic()->setting('address')->planned) {
                $bySegment[$segment][] = $device;
            }
        }
        $calls = [];
        foreach (FewestPairs::of($bySegment) as [$asks, $asked]) {
            $calls[$asks->nic()?->segment.'>'.$asked->key] = [(string) $asks->nic()?->segment, $asked];
        }
        $only = 1 === \count($bySegment) ? array_values($bySegment)[0] : [];

        return 1 === \count($only) ? [[(string) $only[0]->nic()?->segment, $only[0]]] : array_values($calls);
    }

    private static function call(PredictionCache $predictions, Plan $plan, string $segment, Device $codec): ProofTest
    {
        $at = ['tag' => $codec->tag, 'segment' => $plan->segmentName($segment)];
        $port = Port::udp(Registration::SIP_PORT);

        return new ProofTest(
            "direct:$segment>{$codec->key}",
            TestKind::Call,
            OutpostKey::on($segment),
            $codec->key,
            new Message('{tag} is called directly from {segment}', $at),
            Outcome::DeviceAnswers,
            new Message('Codec {tag} answers without a PBX.', $at),
            $predictions,
            static function () use ($predictions, $segment, $codec): Prediction {
                $call = DirectCall::of($predictions->model(), OutpostKey::on($segment), $codec);

                return new Prediction(
                    match (true) {
                        null === $call->dialled => Outcome::NotAnswered,
                        null !== $call->noMedia => Outcome::OneWaySound,
                        default => Outcome::DeviceAnswers,
                    },
                    $call->noMedia ?? $call->walk->brokenHop()->text ?? new Message('The call and its media go both ways.'),
                    $call->facts,
                    $call->walk,
                );
            },
            $port,
        );
    }
}
