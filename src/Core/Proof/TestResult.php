<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Plan\Fact;
use Vorhut\Core\Plan\Observation;

/** A test with the newest observation of one of two sorts: made on site (of a practice job: in the lab), or only rehearsed. */
final readonly class TestResult implements \JsonSerializable
{
    /**
     * @param list<Fact>       $moved     facts that differ from the basis of the observation: why it is outdated
     * @param string|null      $missing   tag of the device that is not plugged in yet: why nothing answered
     * @param Observation|null $unasked   a later try that could not be sent from its place
     * @param self|null        $rehearsal how the same test went in the lab; it proves nothing of the site
     */
    public function __construct(
        public ProofTest $test,
        public Verdict $verdict,
        public ?Observation $observation,
        public array $moved,
        public ?string $missing = null,
        public ?Observation $unasked = null,
        public ?self $rehearsal = null,
    ) {
    }

    public function observedOutcome(): ?Outcome
    {
        return Outcome::tryFrom($this->observation->outcome ?? '');
    }

    /** Whether fresh evidence contradicts the prediction: the plan or the network differs from the model. */
    public function isUnpredicted(Outcome $predicted): bool
    {
        return \in_array($this->verdict, [Verdict::Passed, Verdict::Failed], true) && !$predicted->isSameAs($this->observedOutcome());
    }

    /** Shown if the site has no result yet. */
    public function isOnlyRehearsed(): bool
    {
        return null === $this->observation && null !== $this->rehearsal;
    }

    public function isRehearsed(): bool
    {
        return Verdict::Passed === $this->rehearsal?->verdict;
    }

    public function withRehearsal(?self $rehearsal): self
    {
        return new self($this->test, $this->verdict, $this->observation, $this->moved, $this->missing, $this->unasked, $rehearsal);
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return $this->test->jsonSerialize() + $this->judgement() + [
            'rehearsal' => $this->rehearsal?->judgement(),
            'notAsked' => null === $this->unasked ? null : ['at' => $this->unasked->at, 'detail' => $this->unasked->detail],
        ];
    }

    /** @return array<string, mixed> */
    private function judgement(): array
    {
        return [
            'verdict' => $this->verdict->value,
            'observed' => $this->observation?->outcome,
            'at' => $this->observation?->at,
            'by' => $this->observation?->by,
            'place' => $this->observation?->place(),
            'detail' => $this->observation?->detail,
            'notPluggedIn' => $this->missing,
        ];
    }
}
