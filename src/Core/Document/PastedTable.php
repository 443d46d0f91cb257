<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Plan\Change;

/** A table that somebody pasted, row by row: what can be taken of it, and what has to be corrected. */
interface PastedTable
{
    /** Of the rows that can be taken. */
    public function change(): Change;

    /** Whether its rows bring accounts, each of which needs a secret. */
    public function bringsAccounts(): bool;

    /** The other rows as they were pasted, with the headings; empty where all can be taken. */
    public function refusedText(): string;
}
