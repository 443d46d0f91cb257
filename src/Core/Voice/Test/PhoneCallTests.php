<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Test;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\Prediction;
use Vorhut\Core\Proof\PredictionCache;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Proof\TestSource;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\CallBranches;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\DialOutcome;

/** Calls between telephones: made with the account of one, and by the telephone itself where its page can tell it to. */
final readonly class PhoneCallTests implements TestSource
{
    public static function kinds(): array
    {
        return [TestKind::Call, TestKind::Dial, TestKind::Ask];
    }

    public static function of(PredictionCache $predictions, Plan $plan): array
    {
        $tests = [];
        foreach (self::calls($plan) as [$caller, $called, $covers]) {
            $branches = CallBranches::ofCall($plan, $caller, $called->number);
            $reason = $branches->reasonForHand();
            if (null !== $reason) {
                $tests[] = CallTests::byPerson($predictions, $plan, $caller, $called, $covers, $branches, $reason);
                continue;
            }
            $tests[] = self::call($predictions, $plan, $caller, $called, $covers);
            $phone = $plan->devices[$caller->phone ?? ''] ?? null;
            $place = null === $phone?->kind->admin?->call ? null : $phone->managedFrom($plan);
            if (null !== $phone && null !== $place) {
                $tests[] = self::dial($predictions, $plan, $place, $phone, $caller, $called);
            }
        }

        return $tests;
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
            $accounted = null !== $plan->accountOf($extension->key) && !$plan->isHosted($extension);
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
        ], [...FewestPairs::of($bySegment), ...self::hostedPairs($plan)]);
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
            if ('sip' === $extension->terminal && null !== $phone && $plan->isHosted($extension)) {
                $registrar = (string) $plan->accountOf($extension->key)?->registrar;
                $byRegistrar[$registrar][$phone->nic()->segment ?? ''][] = $extension;
            }
        }
        $pairs = [];
        foreach ($byRegistrar as $bySegment) {
            array_push($pairs, ...FewestPairs::of($bySegment));
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
        $segment = $plan->segmentOfPhone($caller);
        $at = ['caller' => $caller->number, 'called' => $called->number, 'tag' => $plan->devices[$called->phone ?? '']->tag ?? '?'];

        return new ProofTest(
            "call:{$caller->number}>{$called->number}",
            TestKind::Call,
            OutpostKey::on($segment),
            (string) $called->phone,
            new Message('{caller} calls {called}, {tag} answers', $at),
            Outcome::DeviceAnswers,
            $covers,
            $predictions,
            static fn (): Prediction => self::prediction(
                Dial::of($predictions->model(), $caller, $called->number, OutpostKey::on($segment)),
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
            TestKind::Dial,
            OutpostKey::on($segment),
            (string) $called->phone,
            new Message('{phone} itself calls {called}, {tag} answers', $at),
            Outcome::DeviceAnswers,
            new Message('The account from another place says that the entry is right; the telephone itself says that it is.'),
            $predictions,
            static function () use ($predictions, $phone, $caller, $called, $segment): Prediction {
                $port = $phone->serviceNamed('admin')->port ?? Port::tcp(80);
                $page = Walker::between($predictions->model(), OutpostKey::on($segment), $phone->key, $port);
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
                $prediction = self::prediction(Dial::of($predictions->model(), $caller, $called->number));
                $prediction->facts->take($page->facts);

                return $prediction;
            },
            null,
            $caller->number,
            $called->number,
        );
    }

    private static function prediction(Dial $dial): Prediction
    {
        return new Prediction(
            match (true) {
                DialOutcome::Device === $dial->outcome && $dial->sound => Outcome::DeviceAnswers,
                DialOutcome::Device === $dial->outcome => Outcome::OneWaySound,
                DialOutcome::Voicemail === $dial->outcome => Outcome::Voicemail,
                default => Outcome::NotAnswered,
            },
            $dial->steps[array_key_last($dial->steps) ?? 0] ?? new Message(''),
            $dial->facts,
            $dial->walk,
        );
    }
}
