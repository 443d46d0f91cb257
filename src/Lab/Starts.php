<?php

declare(strict_types=1);

namespace Vorhut\Lab;

/** A behaviour that needs a while after power-up before the device does its work, such as a phone that has to register. */
interface Starts
{
    /** Whether its first attempt is over, well or badly. */
    public function isReady(): bool;
}
