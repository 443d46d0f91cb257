<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Plan\Change;

/** A pasted table, row by row: rows that can be added, and rows to correct. */
interface PastedTable
{
    /** Of the rows that can be taken. */
    public function change(): Change;

    /** The other rows as they were pasted, with the headings; empty where all can be taken. */
    public function refusedText(): string;
}
