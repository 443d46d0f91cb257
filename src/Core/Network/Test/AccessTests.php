<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Test;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
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

/** Whether the pages of devices answer from where they are managed, and whether discovery finds the devices from there. */
final readonly class AccessTests implements TestSource
{
    public static function kinds(): array
    {
        return [TestKind::Reach, TestKind::Discover];
    }

    public static function of(PredictionCache $predictions, Plan $plan): array
    {
        $tests = [];
        foreach ($plan->devices as $device) {
            $from = $device->managedFrom($plan);
            $service = $device->serviceNamed('admin');
            if (null === $from || null === $device->nic()?->setting('address')->planned) {
                continue;
            }
            if (null !== $service && !$device->kind->has(Role::Caller)) {
                $covers = new Message('{tag} is managed from {segment}.', ['tag' => $device->tag, 'segment' => $plan->segmentName($from)]);
                $tests[] = self::reach($predictions, $plan, $device, $from, $service->port, $covers);
            }
            if (\in_array('mdns', $device->kind->discovery, true)) {
                $tests[] = self::discover($predictions, $plan, $device, $from, $service);
            }
        }

        return $tests;
    }

    /** @param bool $mustAnswer false for a device that must not be reachable there: only silence passes then, not a closed port */
    public static function reach(
        PredictionCache $predictions,
        Plan $plan,
        Device $device,
        string $segment,
        Port $port,
        Message $covers,
        bool $mustAnswer = true,
    ): ProofTest {
        $from = OutpostKey::on($segment);
        $at = ['tag' => $device->tag, 'port' => (string) $port, 'segment' => $plan->segmentName($segment)];

        return new ProofTest(
            ($mustAnswer ? 'reach' : 'blocked').":$segment>{$device->key}:$port",
            TestKind::Reach,
            $from,
            $device->key,
            $mustAnswer
                ? new Message('{tag} answers on {port}, asked from {segment}', $at)
                : new Message('{tag} cannot be reached on {port} from {segment}', $at),
            $mustAnswer ? Outcome::Answers : Outcome::Silent,
            $covers,
            $predictions,
            static fn (): Prediction => Prediction::ofWalk(
                Walker::between($predictions->model(), $from, $device->key, $port),
                Outcome::Answers,
                Outcome::Silent,
            ),
            $port,
        );
    }

    private static function discover(
        PredictionCache $predictions,
        Plan $plan,
        Device $device,
        string $segment,
        ?Service $service,
    ): ProofTest {
        $at = ['tag' => $device->tag, 'segment' => $plan->segmentName($segment)];

        return new ProofTest(
            "discover:$segment>{$device->key}",
            TestKind::Discover,
            OutpostKey::on($segment),
            $device->key,
            new Message('{tag} is found from {segment}', $at),
            $device->nic()?->segment === $segment ? Outcome::FoundByGroup : Outcome::FoundByRange,
            new Message('The program that controls {tag} runs on {segment}.', $at),
            $predictions,
            static fn (): Prediction => self::discovery($predictions->model(), $device, $segment, $service),
            $service?->port,
        );
    }

    private static function discovery(NetworkModel $model, Device $device, string $segment, ?Service $service): Prediction
    {
        $facts = new Facts();
        $nic = $device->nic();
        $facts->note('nics/'.($nic->key ?? '').':segment', $nic?->segment);
        $facts->note('devices/'.$device->key.':controlledFrom', $device->controlledFrom);
        $at = ['tag' => $device->tag, 'segment' => $model->segmentName($segment)];
        if ($nic?->segment === $segment) {
            $held = $nic->setting('address')->effective(Face::Set);
            $facts->note('nics/'.$nic->key.':address', $held);
            if (null === $held || '' === $held) {
                return new Prediction(Outcome::NotFound, new Message('{tag} has no address.', $at), $facts);
            }
            // The probe asks from a port of its own, so the answer comes by unicast (RFC 6762 §6.7) and needs a way back.
            $back = Walker::oneWay($model, $device->key, OutpostKey::on($segment), Port::udp(Walker::ASKING_PORT));
            if ($back->holds() || null === $model->host(OutpostKey::on($segment))) {
                return new Prediction(
                    Outcome::FoundByGroup,
                    new Message('Asker and {tag} share {segment}; a group question reaches all of it (RFC 6762).', $at),
                    $facts,
                );
            }
            $facts->take($back->facts);

            return new Prediction(Outcome::NotFound, new Message(
                '{tag} hears the question, and its answer does not arrive: {reason}',
                $at + ['reason' => $back->brokenHop()->text ?? new Message('')],
            ), $facts, $back);
        }
        $walk = Walker::between($model, OutpostKey::on($segment), $device->key, $service->port ?? Port::tcp(80));
        $facts->take($walk->facts);

        return new Prediction(
            $walk->holds() ? Outcome::FoundByRange : Outcome::NotFound,
            $walk->holds()
                ? new Message('No router passes a group question to 224.0.0.251 on (RFC 6762 §3); its address answers.')
                : new Message(
                    'No router passes the group question on, and the address does not answer: {reason}',
                    ['reason' => (string) $walk->brokenHop()?->text],
                ),
            $facts,
            $walk,
        );
    }
}
