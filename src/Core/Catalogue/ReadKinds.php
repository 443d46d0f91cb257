<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** What was read of the kinds of jobs, beside a catalogue that never changes: a snapshot is made many times of the same sources. */
final class ReadKinds
{
    /** @var array<string, Catalogue> hash of the sources → what ships with them over it */
    public array $kept = [];
}
