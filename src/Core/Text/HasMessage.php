<?php

declare(strict_types=1);

namespace Vorhut\Core\Text;

/**
 * An error that tells a person the fault in a sentence that can be translated. Every component that throws such errors has an interface of
 * its own that extends this one, so that a caller can catch the errors of one component only.
 */
interface HasMessage extends \Throwable
{
    public function message(): Message;
}
