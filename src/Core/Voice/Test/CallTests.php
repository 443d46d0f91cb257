<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Test;

use Vorhut\Core\Catalogue\HandTest;
use Vorhut\Core\Plan\CallRoute;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\InboundRoute;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\CallTrial;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\Prediction;
use Vorhut\Core\Proof\PredictionCache;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Proof\TestSource;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\BranchEnd;
use Vorhut\Core\Voice\CallBranches;
use Vorhut\Core\Voice\CallRouting;
use Vorhut\Core\Voice\CallRoutingEnd;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\Registration;
use Vorhut\Core\Voice\Switching;
use Vorhut\Core\Voice\TrunkWay;

/**
 * Calls that only a person can make and hear, because they are outbound or inbound: the fewest that use each route, each trunk, each
 * inbound route and each key of a menu once. Never an emergency number; and no outside party is called without consent.
 */
final readonly class CallTests implements TestSource
{
    private const DAYS = 7;

    private function __construct(private PredictionCache $predictions, private Plan $plan)
    {
    }

    public static function kinds(): array
    {
        return [TestKind::Ask];
    }

    public static function of(PredictionCache $predictions, Plan $plan): array
    {
        $tests = new self($predictions, $plan);

        return [...$tests->out(), ...$tests->spare(), ...$tests->in(), ...$tests->keys(), ...$tests->hostedCalls()];
    }

    /** @return list<ProofTest> */
    private function out(): array
    {
        $tests = [];
        foreach ($this->plan->callRoutes as $route) {
            $digits = $this->exampleOf($route);
            $caller = null === $digits ? null : $this->caller($route, $digits);
            if (null === $digits || null === $caller) {
                continue;
            }
            $trunk = $this->plan->trunks[$route->trunks[0] ?? ''] ?? null;
            $at = [
                'phone' => $this->plan->devices[$caller->phone ?? '']->tag ?? $caller->number,
                'route' => $route->name,
                'map' => (string) $route->map,
                'trunk' => $trunk->name ?? '?',
            ];
            $tests[] = $this->create(
                'route-'.$route->key,
                $route->pbx,
                null === $trunk?->far
                    ? new Message(
                        '{phone} calls a number of yours through {route} ({map}): it rings with the planned caller ID, with audio '
                            .'both ways',
                        $at,
                    )
                    : new Message('{phone} dials a number through {route} ({map}): the intended party answers', $at),
                new Message('Every route carries a call: {route}, by {trunk}.', $at),
                fn (): Dial => Dial::of($this->predictions->model(), $caller, $digits, null, self::open($this->plan, $route->timeFrame)),
                fn (): CallTrial => new CallTrial(
                    $caller->number,
                    null,
                    $digits,
                    '',
                    [$route->digitsSent($digits)],
                    null === $trunk?->far ? [] : [$trunk->far],
                    $route->trunks,
                    self::open($this->plan, $route->timeFrame),
                ),
            );
        }

        return $tests;
    }

    /**
     * One outbound and one inbound call for each provider that hosts phones of the site.
     *
     * @return list<ProofTest>
     */
    private function hostedCalls(): array
    {
        $tests = [];
        foreach ($this->plan->extensions as $extension) {
            $registrar = $this->plan->devices[$this->plan->accountOf($extension->key)->registrar ?? ''] ?? null;
            $phone = $this->plan->devices[$extension->phone ?? ''] ?? null;
            if (null === $phone || true !== $registrar?->kind->isHosted() || isset($tests[$registrar->key])) {
                continue;
            }
            $at = ['phone' => $phone->tag, 'registrar' => $registrar->tag];
            $tests[$registrar->key] = new ProofTest(
                'hand:'.$registrar->key.':outside',
                TestKind::Ask,
                ProofTest::BY_HAND,
                $phone->key,
                new Message('{phone} calls a number of your own outside, and is called back: both ring, and sound goes both ways', $at),
                Outcome::Affirmed,
                new Message('The provider of {registrar} switches outbound and inbound calls, so a person makes this test.', $at),
                $this->predictions,
                function () use ($extension): Prediction {
                    $registration = Registration::of($this->predictions->model(), $extension);

                    return new Prediction(
                        $registration->holds ? Outcome::Affirmed : Outcome::Denied,
                        $registration->why,
                        $registration->facts,
                        $registration->walk,
                    );
                },
                question: HandTest::plain('outside'),
            );
        }

        return array_values($tests);
    }

    /**
     * A trunk that only takes over is tried with the first one off.
     *
     * @return list<ProofTest>
     */
    private function spare(): array
    {
        $tests = $seen = [];
        foreach ($this->plan->callRoutes as $route) {
            foreach (\array_slice($route->trunks, 1) as $key) {
                $trunk = $this->plan->trunks[$key] ?? null;
                $first = $this->plan->trunks[$route->trunks[0]] ?? null;
                if (null === $trunk || null === $first || isset($seen[$key]) || null === $this->exampleOf($route)) {
                    continue;
                }
                $seen[$key] = true;
                $at = ['first' => $first->name, 'trunk' => $trunk->name, 'route' => $route->name];
                $tests[] = new ProofTest(
                    "hand:$route->pbx:spare-$key",
                    TestKind::Ask,
                    ProofTest::BY_HAND,
                    $route->pbx,
                    new Message('With {first} off, a call by {route} goes out by {trunk}', $at),
                    Outcome::Affirmed,
                    new Message('Fail-over is a promise until it was tried.'),
                    $this->predictions,
                    function () use ($trunk): Prediction {
                        $way = TrunkWay::of($this->predictions->model(), $trunk);

                        return new Prediction(
                            null === $way->outward ? Outcome::Affirmed : Outcome::Denied,
                            $way->outward ?? new Message('The way of {trunk} holds.', ['trunk' => $trunk->name]),
                            $way->facts,
                            null === $way->outward ? null : $way->walk,
                        );
                    },
                    question: HandTest::plain('spare-'.$key),
                );
            }
        }

        return $tests;
    }

    /** @return list<ProofTest> */
    private function in(): array
    {
        $tests = [];
        foreach ($this->plan->inboundRoutes as $route) {
            $trunk = $this->plan->trunks[$route->trunk] ?? null;
            // A call from a device of the job is tested from its segment.
            if (null === $trunk || null !== $trunk->far) {
                continue;
            }
            $at = [
                'number' => (string) $route->map,
                'trunk' => $trunk->name,
                'to' => $route->to,
                'frame' => $this->plan->timeFrames[$route->timeFrame ?? '']->name ?? '',
            ];
            $number = $route->map->example();
            $before = $this->framesBefore($route);
            $tests[] = $this->create(
                'inbound-'.$route->key,
                $trunk->pbx,
                match (true) {
                    null !== $route->timeFrame => new Message(
                        'Called from outside at {frame}, {number} by {trunk} comes to {to}, and sound goes both ways',
                        $at,
                    ),
                    '' !== $before => new Message(
                        'Called from outside when it is not {before}, {number} by {trunk} comes to {to}, and sound goes both ways',
                        $at + ['before' => $before],
                    ),
                    default => new Message('Called from outside, {number} by {trunk} comes to {to}, and sound goes both ways', $at),
                },
                new Message('Every number that comes in is called once.'),
                fn (): Dial => Dial::arriving($this->predictions->model(), $trunk, $number, $this->hourOf($route, $number)),
                fn (): CallTrial => $this->trial(
                    null,
                    $trunk->key,
                    $number,
                    '',
                    Switching::of($this->plan)->forwarded($trunk->pbx, $route->to, $this->hourOf($route, $number)),
                    $this->hourOf($route, $number),
                ),
                CallBranches::ofForwarded($this->plan, $trunk->pbx, $route->to),
            );
        }

        return $tests;
    }

    /** @return list<ProofTest> */
    private function keys(): array
    {
        $tests = [];
        $phones = array_values(array_filter($this->plan->extensions, static fn (Extension $one): bool => null !== $one->phone));
        foreach ($this->plan->menus as $menu) {
            foreach ($menu->choices as $key => $to) {
                // No phone calls itself; a menu is the same for all others.
                $caller = ($phones[0]->number ?? '') === $to ? $phones[1] ?? null : $phones[0] ?? null;
                if (null === $caller) {
                    continue;
                }
                $at = ['menu' => $menu->name, 'key' => (string) $key, 'to' => $to];
                $tests[] = $this->create(
                    'menu-'.$menu->key.'-'.$key,
                    $menu->pbx,
                    new Message('In the menu {menu} the key {key} leads to {to}', $at),
                    new Message('Every key of a menu is pressed once.'),
                    fn (): Dial => Dial::of($this->predictions->model(), $caller, $to),
                    fn (): CallTrial => $this->trial(
                        $caller->number,
                        null,
                        $menu->number,
                        (string) $key,
                        Switching::of($this->plan)->forwarded($menu->pbx, $to),
                    ),
                    CallBranches::ofForwarded($this->plan, $menu->pbx, $to),
                );
            }
        }

        return $tests;
    }

    /** A call to the end of a routing: the devices that may answer there, and the one that is required. */
    private function trial(?string $caller, ?string $trunk, string $digits, string $keys, CallRouting $routing, string $at = ''): CallTrial
    {
        $first = $routing->route->trunks[0] ?? '';
        $needs = [
            1 === \count($routing->ring) ? $routing->ring[0]->phone : null,
            CallRoutingEnd::Outside === $routing->end ? $this->plan->trunks[$first]->far ?? null : null,
        ];

        return new CallTrial($caller, $trunk, $digits, $keys, match ($routing->end) {
            CallRoutingEnd::Outside => [$routing->sent],
            CallRoutingEnd::Menu => [$routing->menu->number ?? ''],
            default => array_map(static fn (Extension $one): string => $one->number, $routing->ring),
        }, array_values(array_filter($needs, is_string(...))), $routing->route->trunks ?? [], $at);
    }

    /**
     * @param \Closure(): Dial      $dial
     * @param \Closure(): CallTrial $trial
     * @param CallBranches|null     $branches where the call could end; null where that was looked at already
     */
    private function create(
        string $code,
        string $pbx,
        Message $title,
        Message $covers,
        \Closure $dial,
        \Closure $trial,
        ?CallBranches $branches = null,
    ): ProofTest {
        return new ProofTest(
            "hand:$pbx:$code",
            TestKind::Ask,
            ProofTest::BY_HAND,
            $pbx,
            null === $branches ? $title : self::withCaution($title, $branches),
            Outcome::Affirmed,
            $covers,
            $this->predictions,
            static fn (): Prediction => self::predict($dial()),
            question: HandTest::plain($code),
            trial: true === $branches?->reachesEmergency() ? null : $trial,
        );
    }

    /** Who may use a route, and has a phone to do it with. */
    private function caller(CallRoute $route, string $digits): ?Extension
    {
        foreach ($this->plan->extensions as $extension) {
            if (null === $extension->phone || $extension->pbx !== $route->pbx) {
                continue;
            }
            $routing = Switching::of($this->plan)->dial($extension, $digits, self::open($this->plan, $route->timeFrame));
            if ($routing->route === $route) {
                return $extension;
            }
        }

        return null;
    }

    /** The shortest digits that a route takes and sends on as something, and no emergency number; null for a route that takes no others. */
    private function exampleOf(CallRoute $route): ?string
    {
        $emergency = $this->plan->emergencyNumbers();
        $longest = 0;
        foreach ($emergency->neverDialled() as $number) {
            if ('full' === $route->map->match($number)) {
                $longest = max($longest, \strlen($number));
            }
        }
        // Beside emergency numbers only longer digits are tried: 111 is too near to 112.
        $digits = $route->map->example(static fn (string $digits): bool => \strlen($digits) > $longest
            && '' !== $route->digitsSent($digits)
            && !$emergency->isMeantOnTheWay($digits)
            && !$emergency->isMeantOnTheWay($route->digitsSent($digits)));

        return '' === $digits ? null : $digits;
    }

    /**
     * A call between two phones that a probe must not make, because one of its branches can leave the job.
     *
     * @param Message $covers what the call is there for
     * @param Message $reason why a person makes it
     */
    public static function byPerson(
        PredictionCache $predictions,
        Plan $plan,
        Extension $caller,
        Extension $called,
        Message $covers,
        CallBranches $branches,
        Message $reason,
    ): ProofTest {
        $phone = $plan->devices[$called->phone ?? ''] ?? null;
        $code = 'call-'.$caller->number.'-'.$called->number;
        $title = new Message('{caller} calls {called}, {tag} answers', [
            'caller' => $caller->number,
            'called' => $called->number,
            'tag' => $phone->tag ?? '?',
        ]);

        return new ProofTest(
            'hand:'.($phone->key ?? $called->pbx).':'.$code,
            TestKind::Ask,
            ProofTest::BY_HAND,
            (string) $called->phone,
            self::withCaution($title, $branches),
            Outcome::Affirmed,
            new Message('{covers} {reason}', ['covers' => $covers, 'reason' => $reason]),
            $predictions,
            static fn (): Prediction => self::predict(Dial::of($predictions->model(), $caller, $called->number)),
            null,
            $caller->number,
            $called->number,
            HandTest::plain($code),
            $branches->reachesEmergency() ? null : static fn (): CallTrial => new CallTrial(
                $caller->number,
                null,
                $called->number,
                '',
                [$called->number],
                null === $called->phone ? [] : [$called->phone],
            ),
        );
    }

    /** A call that can reach the emergency centre is not to be made before that is changed. */
    private static function withCaution(Message $title, CallBranches $branches): Message
    {
        $worst = $branches->worst();

        return BranchEnd::Emergency !== $worst?->end ? $title : new Message(
            '{title}. Do not make this call yet: it can reach the emergency centre ({way})',
            ['title' => $title, 'way' => implode(' → ', $worst->numbers)],
        );
    }

    private static function predict(Dial $call): Prediction
    {
        return new Prediction(
            $call->isAnswered() ? Outcome::Affirmed : Outcome::Denied,
            $call->steps[array_key_last($call->steps) ?? 0] ?? new Message('Only a person can tell.'),
            $call->facts,
            $call->isAnswered() ? null : $call->walk,
        );
    }

    /** A wall time at which a frame holds, of some week; empty where it is not looked at. */
    private static function open(Plan $plan, ?string $frame): string
    {
        $when = $plan->timeFrames[$frame ?? '']->when ?? null;
        foreach (self::hours() as $at) {
            if (true === $when?->holds($at)) {
                return $at;
            }
        }

        return '';
    }

    /** The time frames of those that stand before it and take some of its numbers. */
    private function framesBefore(InboundRoute $route): string
    {
        $names = [];
        foreach ($this->plan->inboundRoutes as $other) {
            if ($other === $route) {
                break;
            }
            $frame = $this->plan->timeFrames[$other->timeFrame ?? ''] ?? null;
            if (null !== $frame && $other->trunk === $route->trunk && null !== $other->map->common($route->map)) {
                $names[$frame->key] = $frame->name;
            }
        }

        return implode(', ', $names);
    }

    /** A wall time at which it is this route that takes the number, and not one before it. */
    private function hourOf(InboundRoute $route, string $number): string
    {
        $trunk = $this->plan->trunks[$route->trunk];
        foreach (self::hours() as $at) {
            $routing = Switching::of($this->plan)->inbound($trunk, $number, $at);
            foreach ($routing->way() as $decision) {
                if ('inboundRoutes/'.$route->key === $decision->record && CallRoutingEnd::Loop !== $routing->end) {
                    return $at;
                }
            }
        }

        return '';
    }

    /** @return iterable<string> each hour of a week; the first week of 2024 began on a Monday */
    private static function hours(): iterable
    {
        for ($day = 1; $day <= self::DAYS; ++$day) {
            for ($hour = 0; $hour < 24; ++$hour) {
                yield \sprintf('2024-01-%02d %02d:30', $day, ($hour + 9) % 24);
            }
        }
    }
}
