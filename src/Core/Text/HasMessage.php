<?php

declare(strict_types=1);

namespace Vorhut\Core\Text;

/**
 * An error that says to a person what is wrong, in a sentence that can be translated. Every room that throws such errors has an
 * interface of its own that extends this one, so that a caller may catch what a room says and nothing else.
 */
interface HasMessage extends \Throwable
{
    public function message(): Message;
}
