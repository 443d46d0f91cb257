<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** How people call a record. */
final class RecordLabel
{
    public static function of(Plan $plan, string $section, string $key): Message|string
    {
        return 'job' === $section ? new Message('the job') : $plan->nameOf($section, $key);
    }
}
