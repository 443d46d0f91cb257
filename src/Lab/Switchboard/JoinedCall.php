<?php

declare(strict_types=1);

namespace Vorhut\Lab\Switchboard;

use Amp\DeferredFuture;
use Amp\Future;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sdp\FaxSession;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\AudioLine;

use function Amp\async;

/** One call through a switchboard: the inbound leg, the legs that still ring, the one that answered, and the audio between them. */
final class JoinedCall
{
    /** @var list<OutgoingLeg> */
    private array $ringing = [];
    private ?OutgoingLeg $answered = null;
    private ?AudioLine $here = null;
    private ?AudioLine $there = null;
    /** @var array{caller: Ipv4, called: Ipv4}|null the address that each side is told; null where sound does not come through here */
    private ?array $announced = null;
    private ?FaxRelay $fax = null;
    /** @var (\Closure(): FaxRelay)|null */
    private ?\Closure $openFax = null;
    private bool $isChanging = false;
    /** @var DeferredFuture<string>|null who waits for a key */
    private ?DeferredFuture $key = null;

    public function __construct(public readonly IncomingLeg $caller)
    {
        $caller->whenOver($this->end(...));
    }

    public function isOver(): bool
    {
        return $this->caller->isOver();
    }

    public function owns(string $callId): bool
    {
        return null !== $this->legOf($callId);
    }

    /**
     * The side towards the caller, opened once.
     *
     * @param \Closure(): AudioLine $open
     */
    public function here(\Closure $open): AudioLine
    {
        return $this->here ??= $open();
    }

    public function onKey(string $key): void
    {
        $waits = $this->key;
        $this->key = null;
        $waits?->complete($key);
    }

    /** The next key that is pressed; null where none is in time. */
    public function key(float $seconds): ?string
    {
        /** @var DeferredFuture<string> $waits */
        $waits = new DeferredFuture();
        $this->key = $waits;
        try {
            return $waits->getFuture()->await(new TimeoutCancellation($seconds));
        } catch (\Amp\CancelledException) {
            $this->key = null;

            return null;
        }
    }

    /**
     * Rings all at once; the first that answers has the call, the others stop ringing.
     *
     * @param list<OutgoingLeg> $legs
     * @param string            $session what they are offered
     *
     * @return int the best status that came
     */
    public function ring(array $legs, string $session, float $seconds, float $first): int
    {
        $this->ringing = $legs;
        /** @var array<int, Future<int>> $answers */
        $answers = [];
        foreach ($legs as $i => $leg) {
            $answers[$i] = async(fn (): int => $leg->call($session, $seconds, $first, $this->caller->ring(...)));
        }
        $best = null;
        foreach (Future::iterate($answers) as $i => $answer) {
            /** @var int $status */
            $status = $answer->await();
            unset($answers[$i]);
            if ($status < 300) {
                if ($this->isOver()) {
                    $legs[$i]->end();
                } else {
                    $this->answered = $legs[$i];
                }
                // Legs that still ring are not waited for: one that is picked up in the same moment is ended by its own leg.
                foreach ($answers as $other => $late) {
                    $legs[$other]->takeBack();
                    $late->ignore();
                }
                $best = $status;
                break;
            }
            $best = min($best ?? $status, $status);
        }
        $this->ringing = [];

        return $best ?? 480;
    }

    /** The one who answered leaves, and the caller stays. */
    public function release(): void
    {
        $leg = $this->answered;
        $this->answered = null;
        $this->there?->stop();
        $this->there = null;
        $leg?->end();
    }

    public function answeredLeg(): ?OutgoingLeg
    {
        return $this->answered;
    }

    /**
     * Sound goes between the two: what each sends comes out at the other.
     *
     * @param array{caller: Ipv4, called: Ipv4} $announced the address that each side is told
     * @param \Closure(): FaxRelay             $openFax   for a call that is changed to a fax
     */
    public function join(AudioLine $here, AudioLine $there, array $announced, \Closure $openFax): void
    {
        $this->there = $there;
        $this->announced = $announced;
        $this->openFax = $openFax;
        $far = $this->answered?->far();
        if (null !== $far) {
            $there->aim($far->address, $far->port);
        }
        $near = $this->caller->offer();
        if (null !== $near) {
            $here->aim($near->address, $near->port);
        }
        $here->join($there);
    }

    /**
     * One side sends a new offer within the call: it is passed to the other side, whose answer is returned.
     *
     * @return array{int, string} status, and the session that is answered
     */
    public function onOffer(SipMessage $request, bool $isByCaller): array
    {
        $other = $isByCaller ? $this->answered : $this->caller;
        if ($this->isChanging) {
            // Both at once: a side that gets this answer tries again in a moment (RFC 3261 §14.2).
            return [491, ''];
        }
        if (null === $other) {
            return $this->offeredToHere($request);
        }
        $this->isChanging = true;
        try {
            $answer = $other->reinvite($this->onward($request->body, $isByCaller ? 'called' : 'caller'));
        } finally {
            $this->isChanging = false;
        }
        if (200 !== $answer?->status) {
            return [$answer->status ?? 408, ''];
        }
        $session = $this->onward($answer->body, $isByCaller ? 'caller' : 'called');
        if ($isByCaller) {
            $this->caller->agree($request, $session);
        }

        return [200, $session];
    }

    /**
     * No destination answered: the announcement ends, or continues.
     *
     * @return array{int, string}
     */
    private function offeredToHere(SipMessage $request): array
    {
        try {
            $offer = Session::fromString($request->body);
            $said = Session::fromString($this->caller->sessionSent());
        } catch (ParseError) {
            return [488, ''];
        }
        if (null === $this->here || null === $said->common($offer)) {
            return [488, ''];
        }
        $this->here->turn($offer);
        $session = (string) $said->answering($offer);
        $this->caller->agree($request, $session);

        return [200, $session];
    }

    /**
     * What one side says of where it is, as the other is told.
     *
     * @param 'caller'|'called' $to
     */
    private function onward(string $session, string $to): string
    {
        $announced = $this->announced;
        if (null === $announced || null === $this->here || null === $this->there) {
            return $session;
        }
        $from = 'caller' === $to ? 'called' : 'caller';
        $fax = FaxSession::tryFromString($session);
        if (null !== $fax && null !== $this->openFax) {
            $this->fax ??= ($this->openFax)();
            $this->fax->aim($from, $fax->address, $fax->port);

            return (string) new FaxSession($announced[$to], $this->fax->port($to), $fax->rate);
        }
        try {
            $sound = Session::fromString($session);
        } catch (ParseError) {
            return $session;
        }
        $lines = ['caller' => $this->here, 'called' => $this->there];
        if (0 !== $sound->address->number) {
            $lines[$from]->aim($sound->address, $sound->port);
        }

        return (string) new Session(
            $announced[$to],
            $lines[$to]->port(),
            [Session::PCMU],
            1,
            $sound->keys,
            $sound->direction,
            $sound->version + 1,
        );
    }

    /** One side hung up: the other is told. */
    public function hangUp(string $callId): void
    {
        $leg = $this->legOf($callId);
        if ($leg instanceof OutgoingLeg) {
            $leg->isLeft();
            $this->caller->refuse(480);
        }
    }

    public function end(): void
    {
        foreach ($this->ringing as $leg) {
            $leg->takeBack();
        }
        $this->answered?->end();
        $this->answered = null;
        $this->onKey('');
        $this->here?->stop();
        $this->there?->stop();
        $this->fax?->stop();
        $this->here = $this->there = $this->fax = null;
    }

    private function legOf(string $callId): IncomingLeg|OutgoingLeg|null
    {
        if ($callId === $this->caller->invite->callId()) {
            return $this->caller;
        }
        foreach ([...$this->ringing, ...(null === $this->answered ? [] : [$this->answered])] as $leg) {
            if ($leg->callId === $callId) {
                return $leg;
            }
        }

        return null;
    }
}
