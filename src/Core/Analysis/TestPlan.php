<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Audio\Test\ClockTests;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\HandTest;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Lighting\Test\LightTests;
use Vorhut\Core\Media\PlannedStreams;
use Vorhut\Core\Media\StreamRate;
use Vorhut\Core\Media\Test\PushTests;
use Vorhut\Core\Media\Test\StreamTests;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Test\RadiusTests;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\Prediction;
use Vorhut\Core\Proof\PredictionCache;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\CallBranches;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\DirectCall;
use Vorhut\Core\Voice\Registration;
use Vorhut\Core\Voice\Test\CallTests;

/**
 * The tests that a plan yields: few, each says what it covers. Expected is what the walk and the dial plan compute from what was *set*,
 * else planned; an expected "not found by group question, found by range" is a passing expectation.
 */
final readonly class TestPlan
{
    /** A measured rate is as planned within so much more or less. */
    private const RATE_TOLERANCE = 0.1;

    /** @param list<ProofTest> $tests */
    private function __construct(public array $tests, public PredictionCache $predictions)
    {
    }

    /** @param (\Closure(): NetworkModel)|null $model of what was set, where somebody has it already */
    public static function of(Plan $plan, ?\Closure $model = null): self
    {
        $predictions = new PredictionCache($model ?? static fn (): NetworkModel => NetworkModel::of($plan, Face::Set));
        $tests = [];
        foreach ($plan->devices as $device) {
            $from = self::lookedAtFrom($plan, $device);
            $service = $device->serviceNamed('admin');
            if (null === $from || null === $device->nic()?->setting('address')->planned) {
                continue;
            }
            if (null !== $service && !$device->kind->has(Role::Caller)) {
                $tests[] = self::reach(
                    $predictions,
                    $plan,
                    $device,
                    $from,
                    $service->port,
                    new Message('{tag} is managed from {segment}.', ['tag' => $device->tag, 'segment' => $plan->segments[$from]->name]),
                );
            }
            if (\in_array('mdns', $device->kind->discovery, true)) {
                $tests[] = self::discover($predictions, $plan, $device, $from, $service);
            }
        }
        foreach ($plan->devices as $device) {
            foreach ($device->kind->handTests as $question) {
                if ([] === RunSheet::of($plan, $device)->unmet($question->needs)) {
                    $tests[] = self::byHand($predictions, $plan, $device, $question);
                }
            }
        }
        foreach ($plan->extensions as $extension) {
            // The secret of a provider's account is the provider's: its phone is asked by a person.
            if ('sip' === $extension->terminal && null !== $extension->phone && !self::isHosted($plan, $extension)) {
                $tests[] = self::register($predictions, $plan, $extension);
            }
        }
        foreach ([
            StreamTests::of(...), PushTests::of(...), LightTests::of(...), ClockTests::of(...), RadiusTests::of(...), CallTests::of(...),
        ] as $more) {
            array_push($tests, ...$more($predictions, $plan));
        }
        foreach (self::calls($plan) as [$caller, $called, $covers]) {
            $branches = CallBranches::ofCall($plan, $caller, $called->number);
            $reason = $branches->reasonForHand();
            if (null !== $reason) {
                $tests[] = CallTests::byPerson($predictions, $plan, $caller, $called, $covers, $branches, $reason);
                continue;
            }
            $tests[] = self::call($predictions, $plan, $caller, $called, $covers);
            $phone = $plan->devices[$caller->phone ?? ''] ?? null;
            $place = null === $phone?->kind->admin?->call ? null : self::lookedAtFrom($plan, $phone);
            if (null !== $phone && null !== $place) {
                $tests[] = self::dial($predictions, $plan, $place, $phone, $caller, $called);
            }
        }
        foreach (self::directCalls($plan) as [$from, $codec]) {
            $tests[] = self::directCall($predictions, $plan, $from, $codec);
        }
        foreach ($plan->tests as $added) {
            $to = $plan->deviceTagged($added->to);
            $segment = $plan->segments[$added->from] ?? null;
            if ('reach' === $added->what && null !== $to && null !== $segment) {
                $tests[] = self::reach(
                    $predictions,
                    $plan,
                    $to,
                    $segment->key,
                    Port::fromString('' === $added->port ? '80/tcp' : $added->port),
                    new Message('Added by hand. {note}', ['note' => $added->note]),
                );
            }
        }
        $unique = [];
        foreach ($tests as $test) {
            $unique[$test->key] ??= $test;
        }

        return new self(array_values($unique), $predictions);
    }

    public function test(string $key): ?ProofTest
    {
        foreach ($this->tests as $test) {
            if ($test->key === $key) {
                return $test;
            }
        }

        return null;
    }

    private static function lookedAtFrom(Plan $plan, Device $device): ?string
    {
        $segment = $device->controlledFrom ?? $device->nic()?->segment;

        return isset($plan->segments[$segment ?? '']) ? $segment : null;
    }

    private static function reach(
        PredictionCache $predictions,
        Plan $plan,
        Device $device,
        string $segment,
        Port $port,
        Message $covers,
    ): ProofTest {
        $from = 'outposts/'.$segment;

        return new ProofTest(
            "reach:$segment>{$device->key}:$port",
            'reach',
            $from,
            $device->key,
            new Message('{tag} answers on {port}, asked from {segment}', [
                'tag' => $device->tag,
                'port' => (string) $port,
                'segment' => self::segmentName($plan, $segment),
            ]),
            Outcome::Answers,
            $covers,
            $predictions,
            static fn (): Prediction => self::predictionOfWalk(
                Walker::between($predictions->model(), $from, $device->key, $port),
                Outcome::Answers,
                Outcome::Silent,
            ),
            $port,
        );
    }

    /** Expected by the walk alone. */
    private static function predictionOfWalk(Walk $walk, Outcome $holds, Outcome $broken): Prediction
    {
        return new Prediction(
            $walk->holds() ? $holds : $broken,
            $walk->brokenHop()->text ?? new Message('The walk holds both ways.'),
            $walk->facts,
            $walk,
        );
    }

    private static function discover(
        PredictionCache $predictions,
        Plan $plan,
        Device $device,
        string $segment,
        ?Service $service,
    ): ProofTest {
        $at = ['tag' => $device->tag, 'segment' => self::segmentName($plan, $segment)];

        return new ProofTest(
            "discover:$segment>{$device->key}",
            'discover',
            'outposts/'.$segment,
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
            $back = Walker::oneWay($model, $device->key, 'outposts/'.$segment, Port::udp(Walker::ASKING_PORT), Walker::ASKING_PORT);
            if ($back->holds() || null === $model->host('outposts/'.$segment)) {
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
        $walk = Walker::between($model, 'outposts/'.$segment, $device->key, $service->port ?? Port::tcp(80));
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

    /** What only a person can tell; the answer stands as long as what the question stands on. */
    private static function byHand(PredictionCache $predictions, Plan $plan, Device $device, HandTest $question): ProofTest
    {
        $rate = $question->isSentRate ? self::sentRate($plan, $device) : null;
        $question = null === $rate ? $question : $question->around($rate, self::RATE_TOLERANCE);

        return new ProofTest(
            "hand:{$device->key}:{$question->code}",
            'ask',
            ProofTest::BY_HAND,
            $device->key,
            new Message('{tag}: {question}', ['tag' => $device->tag, 'question' => new Message($question->ask)]),
            Outcome::Affirmed,
            new Message($question->covers),
            $predictions,
            static fn (): Prediction => new Prediction(
                Outcome::Affirmed,
                new Message('Only a person can tell.'),
                self::askedOn($plan, $device, $question),
            ),
            question: $question,
        );
    }

    /** kbit/s that a device is planned to send; null where that is not known. */
    private static function sentRate(Plan $plan, Device $device): ?float
    {
        $sum = null;
        foreach (PlannedStreams::of($plan) as $stream) {
            $rate = $stream->sender === $device->key ? StreamRate::of($plan, $stream)->kbit : null;
            if (null !== $rate) {
                $sum = ($sum ?? 0.0) + $rate;
            }
        }

        return $sum;
    }

    /** What the answer to a question stands on. */
    private static function askedOn(Plan $plan, Device $device, HandTest $question): Facts
    {
        $facts = new Facts();
        foreach ($question->facts as $name) {
            if (str_starts_with($name, 'job:')) {
                $facts->note($name, self::jobFact($plan, substr($name, 4)));
                continue;
            }
            $slot = $plan->slot($device, $name);
            if (null !== $slot) {
                $facts->note((string) $slot->ref, $slot->value->effective(Face::Set));
            }
        }
        foreach ($plan->extensionsOf($device->key) as $extension) {
            $facts->note('extensions/'.$extension->key.':number', $extension->number);
        }

        return $facts;
    }

    /** A field of the job as it counts: emergency numbers may come from the country. */
    private static function jobFact(Plan $plan, string $field): string
    {
        $stored = 'emergencyNumbers' === $field ? $plan->emergencyNumbers()->numbers : $plan->job->value($field);

        return match (true) {
            \is_array($stored) => implode(', ', array_filter($stored, is_scalar(...))),
            \is_scalar($stored) => (string) $stored,
            default => '',
        };
    }

    private static function isHosted(Plan $plan, Extension $extension): bool
    {
        return true === ($plan->devices[$plan->accountOf($extension->key)->registrar ?? ''] ?? null)?->kind->isHosted();
    }

    private static function register(PredictionCache $predictions, Plan $plan, Extension $extension): ProofTest
    {
        $segment = self::segmentOfPhone($plan, $extension);
        $at = ['number' => $extension->number, 'segment' => self::segmentName($plan, $segment)];

        return new ProofTest(
            'register:'.$extension->number,
            'register',
            'outposts/'.$segment,
            (string) $extension->pbx,
            new Message('The account of {number} is accepted, asked from {segment}', $at),
            Outcome::Registered,
            new Message(
                'Account and secret of {number}, beside the binding of its phone; whether the phone itself registers, it does not say.',
                $at,
            ),
            $predictions,
            static function () use ($predictions, $extension, $segment): Prediction {
                // The outpost asks with the account but from its own place: what it proves is the entry, the secret and the way.
                $registration = Registration::fromOutpost($predictions->model(), $extension, 'outposts/'.$segment);

                return new Prediction(
                    match (true) {
                        $registration->holds => Outcome::Registered,
                        true === $registration->walk?->holds() => Outcome::Rejected,
                        default => Outcome::Silent,
                    },
                    $registration->why,
                    $registration->facts,
                    $registration->walk,
                );
            },
            null,
            $extension->number,
        );
    }

    /**
     * Every phone calls once and is called once, every ordered pair of voice segments is crossed.
     *
     * @return list<array{Extension, Extension, Message}>
     */
    private static function calls(Plan $plan): array
    {
        $bySegment = [];
        foreach ($plan->extensions as $extension) {
            $phone = $plan->devices[$extension->phone ?? ''] ?? null;
            $accounted = null !== $plan->accountOf($extension->key) && !self::isHosted($plan, $extension);
            if ('sip' === $extension->terminal && null !== $phone && $accounted) {
                $bySegment[$phone->nic()->segment ?? ''][] = $extension;
            }
        }

        return array_map(static fn (array $pair): array => [
            $pair[0],
            $pair[1],
            null === $pair[2]
                ? new Message('{caller} calls once, {called} is called once.', ['caller' => $pair[0]->number, 'called' => $pair[1]->number])
                : new Message('The pair {a} to {b} is crossed.', [
                    'a' => $plan->segments[$pair[2][0]]->name ?? '?',
                    'b' => $plan->segments[$pair[2][1]]->name ?? '?',
                ]),
        ], [...self::ring($bySegment), ...self::hostedPairs($plan)]);
    }

    /**
     * Phones of one provider call each other, as phones of a PBX do; a person makes these calls, because the provider switches them.
     *
     * @return list<array{Extension, Extension, array{array-key, array-key}|null}>
     */
    private static function hostedPairs(Plan $plan): array
    {
        $byRegistrar = [];
        foreach ($plan->extensions as $extension) {
            $phone = $plan->devices[$extension->phone ?? ''] ?? null;
            if ('sip' === $extension->terminal && null !== $phone && self::isHosted($plan, $extension)) {
                $registrar = (string) $plan->accountOf($extension->key)?->registrar;
                $byRegistrar[$registrar][$phone->nic()->segment ?? ''][] = $extension;
            }
        }
        $pairs = [];
        foreach ($byRegistrar as $bySegment) {
            array_push($pairs, ...self::ring($bySegment));
        }

        return $pairs;
    }

    /**
     * The fewest pairs that cover all: each one asks once and is asked once, every ordered pair of segments is crossed. Of a segment as
     * many as there are other segments ask one of each, the others ask a neighbour; who is asked from elsewhere is not asked by a
     * neighbour. Where there are fewer, some ask more than once: no plan has fewer pairs (CallCover).
     *
     * @template T of object
     *
     * @param array<array-key, non-empty-list<T>> $bySegment
     *
     * @return list<array{T, T, array{array-key, array-key}|null}> who asks, who is asked, and the pair of segments where that is why
     */
    private static function ring(array $bySegment): array
    {
        ksort($bySegment);
        $segments = array_keys($bySegment);
        $others = \count($segments) - 1;
        $pairs = [];
        foreach ($segments as $place => $from) {
            $asking = $bySegment[$from];
            $n = \count($asking);
            for ($far = 1; $far <= $others; ++$far) {
                $to = $segments[($place + $far) % \count($segments)];
                $asked = $bySegment[$to];
                $m = \count($asked);
                // Those at the end are asked from elsewhere, those at the beginning by their neighbours.
                $pairs[] = [
                    $asking[($far - 1) % $n],
                    $asked[($m > $others ? $m - $far : $others - $far) % $m],
                    $far <= $n ? null : [$from, $to],
                ];
            }
            for ($i = $others; $i < $n && $n > 1; ++$i) {
                $pairs[] = [$asking[$i], $asking[0 === $others ? ($i + 1) % $n : $i - $others], null];
            }
        }

        return $pairs;
    }

    private static function call(
        PredictionCache $predictions,
        Plan $plan,
        Extension $caller,
        Extension $called,
        Message $covers,
    ): ProofTest {
        $segment = self::segmentOfPhone($plan, $caller);
        $at = ['caller' => $caller->number, 'called' => $called->number, 'tag' => $plan->devices[$called->phone ?? '']->tag ?? '?'];

        return new ProofTest(
            "call:{$caller->number}>{$called->number}",
            'call',
            'outposts/'.$segment,
            (string) $called->phone,
            new Message('{caller} calls {called}, {tag} answers', $at),
            Outcome::DeviceAnswers,
            $covers,
            $predictions,
            static fn (): Prediction => self::predictionOfDial(
                Dial::of($predictions->model(), $caller, $called->number, 'outposts/'.$segment),
            ),
            null,
            $caller->number,
            $called->number,
        );
    }

    /** The telephone itself calls, told to by its page: its own account, its own sound. */
    private static function dial(
        PredictionCache $predictions,
        Plan $plan,
        string $segment,
        Device $phone,
        Extension $caller,
        Extension $called,
    ): ProofTest {
        $at = [
            'phone' => $phone->tag,
            'caller' => $caller->number,
            'called' => $called->number,
            'tag' => $plan->devices[$called->phone ?? '']->tag ?? '?',
        ];

        return new ProofTest(
            "dial:{$caller->number}>{$called->number}",
            'dial',
            'outposts/'.$segment,
            (string) $called->phone,
            new Message('{phone} itself calls {called}, {tag} answers', $at),
            Outcome::DeviceAnswers,
            new Message('The account from another place says that the entry is right; the telephone itself says that it is.'),
            $predictions,
            static function () use ($predictions, $phone, $caller, $called, $segment): Prediction {
                $port = $phone->serviceNamed('admin')->port ?? Port::tcp(80);
                $page = Walker::between($predictions->model(), 'outposts/'.$segment, $phone->key, $port);
                if (!$page->holds()) {
                    return new Prediction(
                        Outcome::NotAsked,
                        new Message('Its page is not reached from there: {reason}', [
                            'reason' => $page->brokenHop()->text ?? new Message(''),
                        ]),
                        $page->facts,
                        $page,
                    );
                }
                $prediction = self::predictionOfDial(Dial::of($predictions->model(), $caller, $called->number));
                $prediction->facts->take($page->facts);

                return $prediction;
            },
            null,
            $caller->number,
            $called->number,
        );
    }

    private static function predictionOfDial(Dial $dial): Prediction
    {
        return new Prediction(
            match (true) {
                'device' === $dial->outcome && $dial->sound => Outcome::DeviceAnswers,
                'device' === $dial->outcome => Outcome::OneWaySound,
                'voicemail' === $dial->outcome => Outcome::Voicemail,
                default => Outcome::NotAnswered,
            },
            $dial->steps[array_key_last($dial->steps) ?? 0] ?? new Message(''),
            $dial->facts,
            $dial->walk,
        );
    }

    /**
     * Each codec is called once, from the segment of another, every ordered pair of their segments crossed; or from its own where it is
     * alone.
     *
     * @return list<array{string, Device}>
     */
    private static function directCalls(Plan $plan): array
    {
        $bySegment = [];
        foreach ($plan->devices as $device) {
            $segment = $device->nic()?->segment;
            if ($device->kind->has(Role::DirectCallee) && null !== $segment && null !== $device->nic()->setting('address')->planned) {
                $bySegment[$segment][] = $device;
            }
        }
        $calls = [];
        foreach (self::ring($bySegment) as [$asks, $asked]) {
            $calls[$asks->nic()?->segment.'>'.$asked->key] = [(string) $asks->nic()?->segment, $asked];
        }
        $only = 1 === \count($bySegment) ? array_values($bySegment)[0] : [];

        return 1 === \count($only) ? [[(string) $only[0]->nic()?->segment, $only[0]]] : array_values($calls);
    }

    private static function directCall(PredictionCache $predictions, Plan $plan, string $segment, Device $codec): ProofTest
    {
        $at = ['tag' => $codec->tag, 'segment' => self::segmentName($plan, $segment)];
        $port = Port::udp(Registration::SIP_PORT);

        return new ProofTest(
            "direct:$segment>{$codec->key}",
            'call',
            'outposts/'.$segment,
            $codec->key,
            new Message('{tag} is called directly from {segment}', $at),
            Outcome::DeviceAnswers,
            new Message('Codec {tag} answers without a PBX.', $at),
            $predictions,
            static function () use ($predictions, $segment, $codec): Prediction {
                $call = DirectCall::of($predictions->model(), 'outposts/'.$segment, $codec);

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

    private static function segmentName(Plan $plan, string $key): string
    {
        return $plan->segments[$key]->name ?? $key;
    }

    private static function segmentOfPhone(Plan $plan, Extension $extension): string
    {
        return ($plan->devices[$extension->phone ?? ''] ?? null)?->nic()->segment ?? '';
    }
}
