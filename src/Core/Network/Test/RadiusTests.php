<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Test;

use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\Prediction;
use Vorhut\Core\Proof\PredictionCache;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Proof\TestSource;
use Vorhut\Core\Text\Message;

/** Authentication servers: tested from every segment with a client, as a client of its own. */
final readonly class RadiusTests implements TestSource
{
    public static function kinds(): array
    {
        return [TestKind::Radius];
    }

    public static function of(PredictionCache $predictions, Plan $plan): array
    {
        $tests = [];
        foreach ($plan->devices as $client) {
            $server = $plan->devices[null === $client->kind->setting('authServer')
                ? ''
                : $client->setting('authServer')->effective(Face::Set) ?? ''] ?? null;
            $service = $server?->serviceNamed('radius');
            $segment = $plan->segments[$client->nic()->segment ?? ''] ?? null;
            if (null === $server || null === $service || null === $segment) {
                continue;
            }
            $from = OutpostKey::on($segment->key);
            $key = "radius:$server->key:$segment->key";
            $tests[$key] ??= new ProofTest(
                $key,
                TestKind::Radius,
                $from,
                $server->key,
                new Message('{tag} knows its clients on {segment}', ['tag' => $server->tag, 'segment' => $segment->name]),
                Outcome::Answers,
                new Message('A server drops without a word what does not come from a client: every handset waits, and no log has a line.'),
                $predictions,
                static fn (): Prediction => Prediction::ofWalk(
                    Walker::between($predictions->model(), $from, $server->key, $service->port),
                    Outcome::Answers,
                    Outcome::Silent,
                ),
                $service->port,
            );
        }

        return array_values($tests);
    }

    /** Whether an address is entered as a client of a server, as it was set, else planned. */
    public static function isClient(Device $server, Ipv4 $address): bool
    {
        return \in_array((string) $address, ValueType::List->parts($server->setting('clientAddresses')->effective(Face::Set) ?? ''), true);
    }
}
