<?php

declare(strict_types=1);

namespace Vorhut\Lab\Switchboard;

use Amp\DeferredFuture;
use Amp\Future;
use Amp\TimeoutCancellation;
use Vorhut\Socket\AudioLine;

use function Amp\async;

/** One call through a switchboard: the leg that came in, those that ring on, the one that answered, and the sound between them. */
final class JoinedCall
{
    /** @var list<OutgoingLeg> */
    private array $ringing = [];
    private ?OutgoingLeg $answered = null;
    private ?AudioLine $here = null;
    private ?AudioLine $there = null;
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

    public function pressed(string $key): void
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
                $this->isOver() ? $legs[$i]->end() : $this->answered = $legs[$i];
                // Nobody waits for those that ring in vain: one that picks up in the same moment is told so by its own leg.
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

    public function answered(): ?OutgoingLeg
    {
        return $this->answered;
    }

    /** Sound goes between the two: what each sends comes out at the other. */
    public function join(AudioLine $here, AudioLine $there): void
    {
        $this->there = $there;
        $far = $this->answered?->far();
        null === $far || $there->aim($far->address, $far->port);
        $near = $this->caller->offer();
        null === $near || $here->aim($near->address, $near->port);
        $here->join($there);
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
        $this->pressed('');
        $this->here?->stop();
        $this->there?->stop();
        $this->here = $this->there = null;
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
