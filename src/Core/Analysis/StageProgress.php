<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Finding\Stage;

/** The progress of a stage, and its findings by severity. */
final readonly class StageProgress
{
    /** @param float $share from 0 to 1 */
    public function __construct(public Stage $stage, public float $share, public int $blocks, public int $risk, public int $note)
    {
    }
}
