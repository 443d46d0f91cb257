<?php

declare(strict_types=1);

namespace Vorhut\Core\Media\Test;

use Vorhut\Core\Media\PushTarget;
use Vorhut\Core\Network\Walk\Walker;
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

/** SRT streams that are pushed to a device of the job: from the sender's segment, the far end is tested for accepting one. */
final readonly class PushTests implements TestSource
{
    public static function kinds(): array
    {
        return [TestKind::Push];
    }

    public static function of(PredictionCache $predictions, Plan $plan): array
    {
        $tests = [];
        foreach (PushTarget::all($plan) as $target) {
            $segment = $plan->segments[$target->from->nic()->segment ?? ''] ?? null;
            $taker = $target->taker;
            if (null === $segment || null === $taker || 'caller' !== $target->url->mode()) {
                continue;
            }
            $from = OutpostKey::on($segment->key);
            $at = ['tag' => $target->from->tag, 'taker' => $taker->tag, 'port' => $target->port->number, 'segment' => $segment->name];
            $tests[] = new ProofTest(
                'push:'.$target->from->key,
                TestKind::Push,
                $from,
                $taker->key,
                new Message(
                    $target->isSealed()
                        ? '{taker} takes by SRT at port {port} what {tag} pushes, with a passphrase; asked from {segment}'
                        : '{taker} takes by SRT at port {port} what {tag} pushes; asked from {segment}',
                    $at,
                ),
                Outcome::Takes,
                new Message('Who pushes shows that it tries; only the far end says why it does not take the stream.'),
                $predictions,
                static function () use ($predictions, $from, $target, $taker): Prediction {
                    $walk = Walker::between($predictions->model(), $from, $taker->key, $target->port);
                    $facts = new Facts();
                    $facts->take($walk->facts);
                    $facts->note($target->from->record().'#pushesWith', (string) $target->isSealed());
                    $facts->note($taker->record().'#takesWith', (string) $target->asksForSeal());

                    return match (true) {
                        !$walk->holds() => new Prediction(
                            Outcome::Silent,
                            $walk->brokenHop()->text ?? new Message('The walk does not hold.'),
                            $facts,
                            $walk,
                        ),
                        null !== $target->apart() => new Prediction(
                            Outcome::TakesOtherwise,
                            $target->apart(),
                            $facts,
                            $walk,
                        ),
                        default => new Prediction(Outcome::Takes, new Message('The walk holds both ways.'), $facts, $walk),
                    };
                },
                $target->port,
                called: $target->from->key,
            );
        }

        return $tests;
    }
}
