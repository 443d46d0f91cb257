<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Plan\Change;

/** One possible mistake at one place, as the change that would fix it. */
final readonly class Remedy
{
    /**
     * @param int       $rank  the likelier the lower
     * @param Host|null $after the host as it would be, where nothing but it changes: quickly tried
     */
    public function __construct(public int $rank, public Change $change, public ?Host $after = null)
    {
    }
}
