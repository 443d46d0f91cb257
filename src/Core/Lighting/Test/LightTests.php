<?php

declare(strict_types=1);

namespace Vorhut\Core\Lighting\Test;

use Vorhut\Core\Lighting\Hearing;
use Vorhut\Core\Lighting\Patch;
use Vorhut\Core\Lighting\Universe;
use Vorhut\Core\Lighting\UniversePatch;
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

/** Lighting: in every segment where a universe is output a listener reports whose levels arrive, and with which priority. */
final readonly class LightTests implements TestSource
{
    public static function kinds(): array
    {
        return [TestKind::Light];
    }

    public static function of(PredictionCache $predictions, Plan $plan): array
    {
        $tests = [];
        foreach (Patch::of($plan)->universes as $number => $universe) {
            $first = $universe->senders[0] ?? null;
            if (null === $first) {
                continue;
            }
            foreach (self::segments($plan, $universe) as $segment => $receiver) {
                $at = [
                    'universe' => $number,
                    'segment' => $plan->segments[$segment]->name,
                    'tag' => $first[0]->tag,
                    'priority' => $first[1],
                ];
                $tests[] = new ProofTest(
                    "light:$number:$segment",
                    TestKind::Light,
                    OutpostKey::on($segment),
                    $first[0]->key,
                    new Message('Universe {universe} is heard on {segment} from {tag}, with priority {priority}', $at),
                    Outcome::Heard,
                    new Message('A lamp at a node shows that it receives, but neither the sender nor which one it follows.'),
                    $predictions,
                    static fn (): Prediction => self::predict($plan, $universe, $receiver),
                    Port::udp(Universe::PORT),
                    called: (string) $number,
                );
            }
        }

        return $tests;
    }

    /** @return array<string, Device> segment → a device that outputs the universe there and does not have the winning priority */
    private static function segments(Plan $plan, UniversePatch $universe): array
    {
        $segments = [];
        foreach ($universe->receivers as [$device]) {
            $segment = $device->nic()?->segment;
            if (null !== $segment && isset($plan->segments[$segment]) && $device !== ($universe->senders[0][0] ?? null)) {
                $segments[$segment] ??= $device;
            }
        }

        return $segments;
    }

    private static function predict(Plan $plan, UniversePatch $universe, Device $receiver): Prediction
    {
        $facts = new Facts();
        foreach ($universe->senders as [$sender, $priority]) {
            $facts->note($sender->record().':priority', (string) $priority);
            $facts->note($sender->record().':universe', (string) $universe->universe->number);
            $facts->note('nics/'.($sender->nic()->key ?? '').':segment', $sender->nic()?->segment);
        }
        $hearing = Hearing::of($plan, $universe, $receiver);
        // A device without an address cannot send.
        $heard = array_values(array_filter(
            $hearing->heard,
            static fn (array $one): bool => null !== $one[0]->nic()?->setting('address')->effective(Face::Set),
        ));
        $facts->note('nics/'.($receiver->nic()->key ?? '').':segment', $receiver->nic()?->segment);
        $first = $heard[0] ?? null;
        if (null === $first) {
            return new Prediction(Outcome::Silent, $hearing->why ?? new Message('No sender of it has an address.'), $facts);
        }
        $same = array_values(array_filter($heard, static fn (array $one): bool => $one[1] === $first[1]));
        $at = [
            'tags' => implode(', ', array_map(static fn (array $one): string => $one[0]->tag, $same)),
            'tag' => $first[0]->tag,
            'priority' => $first[1],
        ];

        return match (true) {
            \count($same) > 1 => new Prediction(
                Outcome::OtherHeard,
                new Message('{tags} send it with the same priority {priority}: each node may follow a different one.', $at),
                $facts,
            ),
            $first[0] !== $universe->senders[0][0] => new Prediction(
                Outcome::OtherHeard,
                new Message('{tag} is heard there, and the one that counts more is not.', $at),
                $facts,
            ),
            default => new Prediction(Outcome::Heard, new Message('{tag} counts most there, with priority {priority}.', $at), $facts),
        };
    }
}
