<?php

declare(strict_types=1);

namespace Vorhut\Lab;

/** Something a stand-in does while it is up. */
interface Behaviour
{
    public function end(): void;
}
