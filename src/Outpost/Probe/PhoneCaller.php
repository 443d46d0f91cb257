<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Catalogue\CallRequest;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sanitizer;
use Vorhut\Outpost\Device\DeviceDoor;
use Vorhut\Outpost\Device\UnidentifiedDevice;

use function Amp\delay;

/**
 * Makes one phone call another, by its own page: with the audio and account of the phone itself, not of a third party. The called phone is
 * checked for the call; if that is impossible, the caller's report counts, and the result says so.
 */
final readonly class PhoneCaller
{
    /** On site a person has to walk to the ringing phone; a stand-in picks up by itself. */
    public const RINGS = 20.0;
    public const RINGS_IN_THE_LAB = 6.0;
    /** How long it may take until sound has gone both ways. */
    private const SOUND = 6.0;
    /** Packets of 20 ms each way. */
    private const LEAST = 20;
    private const LOOK = 0.4;

    /** @param float $rings seconds until the call must be answered */
    public function __construct(private Http $http, private float $rings)
    {
    }

    /**
     * @param array{Device, Ipv4, string}      $caller its address and password
     * @param array{Device, Ipv4, string}|null $called null where it says nothing of its calls
     * @param string                           $from   the caller's number
     *
     * @throws NoAnswer where the caller's page is not to be had
     */
    public function call(VantagePoint $place, array $caller, ?array $called, string $from, string $number): Evidence
    {
        $door = DeviceDoor::of($this->http, $place, $caller[1], $caller[0]);
        $request = $caller[0]->kind->admin?->call;
        if (null === $door || null === $request) {
            return Evidence::notAsked(new Message('it cannot be told to call'));
        }
        $at = ['tag' => $caller[0]->tag, 'number' => $number];
        $log = [\sprintf('%s is told to call %s', $caller[0]->tag, $number)];
        try {
            $status = $door->dial($request, $caller[2], $number);
            if (\in_array($status, [401, 403], true)) {
                // A phone that is not set up yet, or has an unknown password: it was not told to call.
                return Evidence::notAsked(new Message('{tag} does not take the password that is written down for it', $at));
            }
            if ($status < 200 || $status >= 300) {
                return new Evidence(Outcome::Rejected, new Message('{tag} does not take the order to call', $at), $log);
            }
            try {
                return $this->follow($place, $door, $request, $caller, $called, $from, $number, $log);
            } finally {
                self::hangUp($door, $request, $caller[2]);
            }
        } catch (ParseError $e) {
            return new Evidence(Outcome::BrokenOff, new Message('{tag} reports an unreadable state of its call: {why}', $at + [
                'why' => Sanitizer::text($e->getMessage()),
            ]), $log);
        } catch (UnidentifiedDevice $e) {
            return new Evidence(Outcome::OtherAnswers, $e->message(), $log);
        }
    }

    private static function hangUp(DeviceDoor $door, CallRequest $request, string $password): void
    {
        try {
            $door->dial($request, $password, '');
        } catch (NoAnswer|ParseError|UnidentifiedDevice) {
            // The observed audio counts, whether or not the phone can still be reached.
        }
    }

    /**
     * @param array{Device, Ipv4, string}      $caller
     * @param array{Device, Ipv4, string}|null $called
     * @param list<string>                     $log
     *
     * @throws NoAnswer
     * @throws ParseError
     * @throws UnidentifiedDevice
     */
    private function follow(
        VantagePoint $place,
        DeviceDoor $door,
        CallRequest $request,
        array $caller,
        ?array $called,
        string $from,
        string $number,
        array $log,
    ): Evidence {
        $at = ['tag' => $caller[0]->tag, 'number' => $number, 'called' => $called[0]->tag ?? ''];
        $look = static fn (): ?array => $door->call($request, $caller[2]);
        $said = self::until($this->rings, $look, static fn (array $one): bool => '' !== $one['state'] && $request->waits !== $one['state']);
        $log[] = self::line($caller[0]->tag, $said);
        if (null === $said || $request->talks !== $said['state']) {
            return new Evidence(Outcome::NotAnswered, new Message('{tag} calls {number} without an answer: {state}', $at + [
                'state' => Sanitizer::text($said['state'] ?? '-', 60),
            ]), $log);
        }
        $said = self::until(self::SOUND, $look, self::isHeard(...)) ?? $said;
        $there = null === $called ? null : $this->there($place, $called);
        $log[] = self::line($caller[0]->tag, $said);
        if (null !== $called) {
            $log[] = self::line($called[0]->tag, $there);
        }
        $at += ['sent' => (int) $said['sent'], 'heard' => (int) $said['heard'], 'with' => Sanitizer::text($said['with'], 60)];
        $isThere = null === $there ? null : $called[0]->kind->admin?->call?->talks === $there['state'] && $from === $there['with'];

        return new Evidence(...match (true) {
            false === $isThere => [Outcome::OtherAnswers, new Message('{with} answers {tag}, and {called} is in no call with it', $at)],
            !self::isHeard($said) => [
                Outcome::OneWaySound,
                new Message('{tag} sent {sent} packets and heard {heard}', $at),
            ],
            null === $isThere => [
                Outcome::DeviceAnswers,
                new Message('{tag} speaks with {with}, by its own word; {sent} packets sent, {heard} heard', $at),
            ],
            default => [Outcome::DeviceAnswers, new Message('{tag} and {called} speak; {sent} packets sent, {heard} heard', $at)],
        }, lines: $log);
    }

    /**
     * @param array{Device, Ipv4, string} $called
     *
     * @return array<string, string>|null
     */
    private function there(VantagePoint $place, array $called): ?array
    {
        $request = $called[0]->kind->admin?->call;
        $door = DeviceDoor::of($this->http, $place, $called[1], $called[0]);
        try {
            return null === $request || null === $door ? null : $door->call($request, $called[2]);
        } catch (NoAnswer|ParseError|UnidentifiedDevice) {
            // What cannot be asked says nothing against it.
            return null;
        }
    }

    /**
     * @param \Closure(): ?array<string, string>     $look
     * @param \Closure(array<string, string>): bool $holds
     *
     * @return array<string, string>|null the last state reported
     */
    private static function until(float $seconds, \Closure $look, \Closure $holds): ?array
    {
        for ($until = microtime(true) + $seconds;;) {
            $said = $look();
            if ((null !== $said && $holds($said)) || microtime(true) >= $until) {
                return $said;
            }
            delay(self::LOOK);
        }
    }

    /** @param array<string, string> $said */
    private static function isHeard(array $said): bool
    {
        return (int) $said['heard'] >= self::LEAST && (int) $said['sent'] >= self::LEAST;
    }

    /** @param array<string, string>|null $said */
    private static function line(string $tag, ?array $said): string
    {
        return null === $said
            ? $tag.' says nothing of a call'
            : \sprintf('%s: %s, with "%s", %s packets sent, %s heard', $tag, $said['state'], $said['with'], $said['sent'], $said['heard']);
    }
}
