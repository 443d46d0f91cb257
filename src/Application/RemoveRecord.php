<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Removal;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;

/** Removes a record, with the records that depend on it. */
final readonly class RemoveRecord
{
    public function __construct(private ChangeWriter $changes)
    {
    }

    /**
     * @return list<Edit> what depends on it first; empty where it is gone already
     *
     * @throws NotEditable
     */
    public function edits(Plan $plan, string $section, string $key): array
    {
        $row = [] === FieldReader::fieldsOf($section) ? null : $plan->row($section, $key);

        return null === $row ? [] : [...Removal::dependents($plan, $section, $key), Edit::remove($section, $row)];
    }

    /** @throws NotEditable|Conflict|Refused */
    public function remove(Job $job, Plan $plan, string $section, string $key, User|string $by): void
    {
        $edits = $this->edits($plan, $section, $key);
        if ([] !== $edits) {
            $why = new Message('{record} removed.', ['record' => RecordLabel::of($plan, $section, $key)]);
            $this->changes->write($job, new Change($why, $edits), $by);
        }
    }
}
