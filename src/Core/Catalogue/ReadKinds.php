<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** Kinds read from the sources of jobs, kept next to a catalogue that never changes: many snapshots use the same sources. */
final class ReadKinds
{
    /** @var array<string, Catalogue> hash of the sources → what ships with them over it */
    public array $kept = [];
}
