<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Plan\Fact;
use Vorhut\Core\Plan\Observation;

/** A test with its newest observation. */
final readonly class TestResult implements \JsonSerializable
{
    /**
     * @param list<Fact>  $moved   facts that differ from the basis of the observation: why it is stale
     * @param string|null $missing tag of the device that is not plugged in yet: why nothing answered
     */
    public function __construct(
        public ProofTest $test,
        public Verdict $verdict,
        public ?Observation $observation,
        public array $moved,
        public ?string $missing = null,
    ) {
    }

    public function observed(): ?Outcome
    {
        return Outcome::tryFrom($this->observation->outcome ?? '');
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return $this->test->jsonSerialize() + [
            'verdict' => $this->verdict->value,
            'observed' => $this->observation?->outcome,
            'at' => $this->observation?->at,
            'by' => $this->observation?->by,
            'detail' => $this->observation?->detail,
            'notPluggedIn' => $this->missing,
        ];
    }
}
