<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Catalogue\HandTest;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;

/** One thing to prove: test, source, target; the prediction is computed on demand. */
final readonly class ProofTest implements \JsonSerializable
{
    /** Where a person stands. */
    public const BY_HAND = 'people';

    /**
     * @param string               $key      names the test for good, so that observations stay with it
     * @param string               $from     `outposts/SEGMENT`, or BY_HAND
     * @param string               $to       device key
     * @param Outcome              $wanted   what the job needs
     * @param Message              $covers   what this test is there for
     * @param \Closure(): Prediction $predict computes the prediction from the value set, else planned
     * @param string|null          $caller   number that calls, `$called` number that is called
     * @param HandTest|null        $question the question to a person, if no probe can test it
     * @param (\Closure(): CallTrial)|null $trial how the lab makes it all the same
     */
    public function __construct(
        public string $key,
        public TestKind $kind,
        public string $from,
        public string $to,
        public Message $title,
        public Outcome $wanted,
        public Message $covers,
        public PredictionCache $predictions,
        private \Closure $predict,
        public ?Port $port = null,
        public ?string $caller = null,
        public ?string $called = null,
        public ?HandTest $question = null,
        private ?\Closure $trial = null,
    ) {
    }

    public function prediction(): Prediction
    {
        return $this->predictions->of($this->key, $this->predict);
    }

    /** Its prediction. */
    public function expectedOutcome(): Outcome
    {
        return $this->prediction()->expected;
    }

    public function because(): Message
    {
        return $this->prediction()->because;
    }

    /** The facts of the prediction. */
    public function facts(): Facts
    {
        return $this->prediction()->facts;
    }

    public function walk(): ?Walk
    {
        return $this->prediction()->walk;
    }

    /** Only a person can tell. */
    public function isByHand(): bool
    {
        return null !== $this->question;
    }

    /** That the device does not answer is what the job requires. */
    public function mustNotAnswer(): bool
    {
        return Outcome::Silent === $this->wanted;
    }

    /** Whether a probe can make it: on the site, or where everybody is a stand-in. */
    public function canBeAsked(bool $inTheLab): bool
    {
        return null === $this->question || ($inTheLab && null !== $this->trial);
    }

    /** A call that the lab can make and on the site only a person. */
    public function isCallToTry(): bool
    {
        return null !== $this->trial;
    }

    public function trial(): ?CallTrial
    {
        return null === $this->trial ? null : ($this->trial)();
    }

    /** Whether an outcome meets the requirement. */
    public function isMetBy(?Outcome $outcome): bool
    {
        return $this->wanted->isSameAs($outcome);
    }

    /** The requirement is predicted not to be met. */
    public function isForeseenToFail(): bool
    {
        return !$this->isMetBy($this->expectedOutcome());
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'test' => $this->key,
            'what' => $this->kind->value,
            'byHand' => $this->isByHand(),
            'title' => $this->title,
            'wanted' => $this->wanted->value,
            'expected' => $this->expectedOutcome()->value,
            'because' => $this->because(),
            'covers' => $this->covers,
            'facts' => $this->facts()->texts(),
        ];
    }
}
