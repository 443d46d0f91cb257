<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding;

/** One mistake that Vorhut catches. One class, one file, one code, one test. */
interface Rule
{
    /** @return iterable<Finding> */
    public function find(RuleContext $context): iterable;
}
