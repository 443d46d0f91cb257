<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Text\Message;

/** The step at which marking several steps ended, with the reason. */
final readonly class StepNotMarked
{
    /** @param non-empty-array<string, Message> $errors `note`, or the name of a value on the sheet → its error */
    public function __construct(public Step $step, public array $errors)
    {
    }
}
