<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Entity\Job;
use Vorhut\Entity\JournalEntry;
use Vorhut\Entity\User;
use Vorhut\Journal\EditRight;
use Vorhut\Journal\History;
use Vorhut\Journal\Refused;
use Vorhut\Journal\UndoStack;

/** Takes back a person's last change, or makes it again; only with the permission that the change itself needs now. */
final readonly class UndoChange
{
    public function __construct(private UndoStack $undoStack)
    {
    }

    /**
     * @param bool $mayChangePlan whether the person is a lead engineer of the job at this moment
     *
     * @throws Refused
     */
    public function undo(Job $job, User $by, bool $mayChangePlan): void
    {
        $entry = $this->undoStack->undoable($job, $by) ?? throw Refused::because('You have no change to undo.');
        $this->take($job, $by, $mayChangePlan, $entry);
    }

    /** @throws Refused */
    public function redo(Job $job, User $by, bool $mayChangePlan): void
    {
        $entry = $this->undoStack->redoable($job, $by) ?? throw Refused::because('You have no change to redo.');
        $this->take($job, $by, $mayChangePlan, $entry);
    }

    private function take(Job $job, User $by, bool $mayChangePlan, JournalEntry $entry): void
    {
        if (!$mayChangePlan && EditRight::changeNeedsLead(History::change($entry))) {
            throw Refused::because('This changes the plan. Only a lead engineer can undo it.');
        }
        $this->undoStack->undo($job, $entry, $by);
    }
}
