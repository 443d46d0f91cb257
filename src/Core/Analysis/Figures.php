<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

/** What the shelf of jobs says of one. */
final readonly class Figures
{
    /**
     * @param int  $blocks    findings that block
     * @param int  $tests     all of them
     * @param int  $passed tests that passed
     * @param int  $failed  tests that failed
     * @param int  $rehearsed tests that went as planned in the lab, and prove nothing of the site
     * @param bool $practice  the lab is the site of this job
     */
    public function __construct(
        public int $devices,
        public int $segments,
        public int $blocks,
        public int $tests,
        public int $passed,
        public int $failed,
        public int $rehearsed,
        public bool $practice,
    ) {
    }
}
