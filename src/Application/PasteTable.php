<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Document\PastedTable;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Records;
use Vorhut\Journal\Refused;
use Vorhut\Secrets\Vault;

/** Stores the rows of a pasted table that can be taken, with a secret for each account that they bring. */
final readonly class PasteTable
{
    public function __construct(private ChangeWriter $changes, private Records $records, private Vault $vault)
    {
    }

    /**
     * @return string the rows that could not be taken, to be corrected and pasted again
     *
     * @throws Conflict
     * @throws Refused
     */
    public function store(Job $job, PastedTable $table, User|string $by): string
    {
        $change = $table->change();
        if (!$change->isEmpty()) {
            $this->changes->write($job, $change, $by);
        }
        if ($change->adds('accounts')) {
            $this->vault->fill($job, $this->records->plan($job), $by);
        }

        return $table->refusedText();
    }
}
