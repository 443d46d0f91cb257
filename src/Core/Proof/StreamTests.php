<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Media\StreamRate;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Stream;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Walk\Walker;
use Vorhut\Core\Wire\Sdp\Picture;

/** Streams that are pulled: from where they are received, the sender is asked what it has, and that is held against the plan. */
final readonly class StreamTests
{
    /** @return list<ProofTest> */
    public static function of(Foresight $foresight, Plan $plan): array
    {
        $tests = [];
        foreach ($plan->streams as $stream) {
            $sender = $plan->devices[$stream->sender] ?? null;
            $service = $sender?->serviceNamed('rtsp');
            if ('RTSP' !== $stream->transport || null === $sender || null === $service) {
                continue;
            }
            foreach (self::segments($plan, $stream) as $segment) {
                $from = 'outposts/'.$segment;
                $at = [
                    'stream' => $stream->name,
                    'tag' => $sender->tag,
                    'segment' => $plan->segments[$segment]->name,
                    'picture' => (string) self::wanted($plan, $stream),
                ];
                $tests[] = new ProofTest(
                    "stream:$stream->key:$segment",
                    'stream',
                    $from,
                    $sender->key,
                    new Message('{stream}: {tag} has {picture}, asked from {segment}', $at),
                    Outcome::Pictures,
                    new Message('A port that answers shows no picture; who sends it says which.'),
                    $foresight,
                    static function () use ($foresight, $from, $sender, $service, $plan, $stream): Prediction {
                        $walk = Walker::between($foresight->model(), $from, $sender->key, $service->port);
                        $facts = new Facts();
                        $facts->take($walk->facts);
                        $facts->note('streams/'.$stream->key.':picture', (string) self::wanted($plan, $stream));

                        return new Prediction(
                            $walk->holds() ? Outcome::Pictures : Outcome::Silent,
                            $walk->broken()->text ?? new Message('The walk holds both ways.'),
                            $facts,
                            $walk,
                        );
                    },
                    $service->port,
                    called: $stream->key,
                );
            }
        }

        return $tests;
    }

    /** What its sender is to send: as the stream says, else as the sender was set. */
    public static function wanted(Plan $plan, Stream $stream): Picture
    {
        $rate = StreamRate::of($plan, $stream, Face::Set);

        return new Picture($rate->codec, $rate->width, $rate->height, $rate->frameRate > 0 ? $rate->frameRate : null);
    }

    /** @return list<string> where it is received, each once */
    private static function segments(Plan $plan, Stream $stream): array
    {
        $segments = [];
        foreach ($stream->receivers as $receiver) {
            $segment = ($plan->devices[$receiver] ?? null)?->nic()?->segment;
            if (null !== $segment && isset($plan->segments[$segment])) {
                $segments[$segment] = true;
            }
        }

        return array_map(strval(...), array_keys($segments));
    }
}
