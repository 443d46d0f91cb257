<?php

declare(strict_types=1);

namespace Vorhut\Core\Media\Test;

use Vorhut\Core\Media\GroupStream;
use Vorhut\Core\Media\StreamRate;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Discovery\Delivery;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Stream;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\Prediction;
use Vorhut\Core\Proof\PredictionCache;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Proof\TestSource;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Sdp\PictureFormat;

/**
 * Streams that are pulled: from the receiver's segment, the sender's own description is compared with the plan. Multicast streams: in the
 * receiver's segment, a listener joins and counts packets.
 */
final readonly class StreamTests implements TestSource
{
    public static function kinds(): array
    {
        return [TestKind::Stream, TestKind::Heard];
    }

    public static function of(PredictionCache $predictions, Plan $plan): array
    {
        $tests = [];
        foreach ($plan->streams as $stream) {
            $sender = $plan->devices[$stream->sender] ?? null;
            $service = $sender?->serviceNamed('rtsp');
            if ('RTSP' !== $stream->transport || null === $sender || null === $service) {
                continue;
            }
            foreach (array_map(strval(...), array_keys(self::receivers($plan, $stream))) as $segment) {
                $from = OutpostKey::on($segment);
                $at = [
                    'stream' => $stream->name,
                    'tag' => $sender->tag,
                    'segment' => $plan->segments[$segment]->name,
                    'picture' => (string) self::expectedFormat($plan, $stream),
                ];
                $tests[] = new ProofTest(
                    "stream:$stream->key:$segment",
                    TestKind::Stream,
                    $from,
                    $sender->key,
                    new Message('{stream}: {tag} has {picture}, asked from {segment}', $at),
                    Outcome::Pictures,
                    new Message('An open port does not prove a picture: the sender\'s stream description does.'),
                    $predictions,
                    static function () use ($predictions, $from, $sender, $service, $plan, $stream): Prediction {
                        $walk = Walker::between($predictions->model(), $from, $sender->key, $service->port);
                        $facts = new Facts();
                        $facts->take($walk->facts);
                        $facts->note('streams/'.$stream->key.':picture', (string) self::expectedFormat($plan, $stream));

                        return new Prediction(
                            $walk->holds() ? Outcome::Pictures : Outcome::Silent,
                            $walk->brokenHop()->text ?? new Message('The walk holds both ways.'),
                            $facts,
                            $walk,
                        );
                    },
                    $service->port,
                    called: $stream->key,
                );
            }
        }

        return [...$tests, ...self::receptionTests($predictions, $plan)];
    }

    /** @return list<ProofTest> */
    private static function receptionTests(PredictionCache $predictions, Plan $plan): array
    {
        $tests = [];
        foreach ($plan->streams as $stream) {
            $sent = GroupStream::of($plan, $stream);
            if (null === $sent) {
                continue;
            }
            foreach (self::receivers($plan, $stream) as $segment => $receiver) {
                $tests[] = self::heardOn($predictions, $plan, $sent, $segment, $receiver);
            }
        }

        return $tests;
    }

    private static function heardOn(
        PredictionCache $predictions,
        Plan $plan,
        GroupStream $sent,
        string $segment,
        Device $receiver,
    ): ProofTest {
        return new ProofTest(
            'heard:'.$sent->stream->key.':'.$segment,
            TestKind::Heard,
            OutpostKey::on($segment),
            $sent->sender->key,
            new Message(
                null === $sent->payload
                    ? '{stream} is heard on {segment} at {group} from {tag}'
                    : '{stream} is heard on {segment} at {group} from {tag}, {kbit} kbit/s',
                [
                    'stream' => $sent->stream->name,
                    'tag' => $sent->sender->tag,
                    'segment' => $plan->segments[$segment]->name,
                    'group' => $sent->group->group->address.':'.$sent->port,
                    'kbit' => (int) round($sent->payload ?? 0.0),
                ],
            ),
            Outcome::Heard,
            new Message('The sender says that it sends; only who joins the group sees how much of it comes.'),
            $predictions,
            static function () use ($plan, $sent, $receiver, $predictions): Prediction {
                $delivery = Delivery::of($plan, $sent->group, $receiver, $predictions->model());
                $facts = new Facts();
                foreach ([$sent->sender, $receiver] as $end) {
                    $refusal = $predictions->model()->refusal($end->key);
                    if (null !== $refusal) {
                        $facts->take($refusal->facts);
                    }
                }
                $facts->note('streams/'.$sent->stream->key.':group', $sent->group->group->address.':'.$sent->port);
                $facts->note('streams/'.$sent->stream->key.':kbit', (string) round($sent->payload ?? 0.0));
                foreach ([$sent->sender, $receiver] as $end) {
                    $facts->note('nics/'.($end->nic()->key ?? '').':segment', $end->nic()?->segment);
                }

                return match (true) {
                    'not' === $delivery->verdict => new Prediction(Outcome::Silent, $delivery->why, $facts),
                    null === $sent->sender->nic()?->setting('address')->effective(Face::Set) => new Prediction(
                        Outcome::Silent,
                        new Message('Its sender has no address yet.'),
                        $facts,
                    ),
                    default => new Prediction(Outcome::Heard, $delivery->why, $facts),
                };
            },
            Port::udp($sent->port),
            called: $sent->stream->key,
        );
    }

    /** @return array<string, Device> segment → one who receives it there */
    private static function receivers(Plan $plan, Stream $stream): array
    {
        $receivers = [];
        foreach ($stream->receivers as $key) {
            $receiver = $plan->devices[$key] ?? null;
            $segment = $receiver?->nic()?->segment;
            if (null !== $receiver && null !== $segment && isset($plan->segments[$segment])) {
                $receivers[$segment] ??= $receiver;
            }
        }

        return $receivers;
    }

    /** What its sender is to send: as the stream says, else as the sender was set. */
    public static function expectedFormat(Plan $plan, Stream $stream): PictureFormat
    {
        $rate = StreamRate::of($plan, $stream, Face::Set);

        return new PictureFormat($rate->codec, $rate->width, $rate->height, $rate->frameRate > 0 ? $rate->frameRate : null);
    }
}
