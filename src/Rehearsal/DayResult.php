<?php

declare(strict_types=1);

namespace Vorhut\Rehearsal;

use Vorhut\Core\Consistency\Agreed;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Text\Message;
use Vorhut\Outpost\Probe\Evidence;

/** The result of a rehearsed day: the plan with its marks, values set and seen, and the evaluation. */
final readonly class DayResult
{
    /**
     * @param list<string>                          $unfinished device keys
     * @param array<string, Message>                $why        device key → what it stopped at
     * @param list<SettingSlot>                     $unseen     planned settings that were not seen as planned
     * @param list<Finding>                         $findings   that were not there before the day
     * @param list<Agreed>                          $broken     agreements that do not hold
     * @param list<array{ProofTest, Evidence}>      $probes     tests run in the lab at the end
     * @param array<string, array<string, string>>  $lamps      device key → what its front showed in the end
     */
    public function __construct(
        public Plan $plan,
        public array $unfinished,
        public array $why,
        public array $unseen,
        public array $findings,
        public array $broken,
        public array $probes,
        public array $lamps,
        public float $seconds,
    ) {
    }

    /** @return list<array{ProofTest, Evidence}> what did not come out as the job wants it */
    public function failed(): array
    {
        return array_values(array_filter($this->probes, static fn (array $one): bool => !$one[0]->isMetBy($one[1]->outcome)));
    }
}
