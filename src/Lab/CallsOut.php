<?php

declare(strict_types=1);

namespace Vorhut\Lab;

/** What can be told to call a number. */
interface CallsOut
{
    /** Calls a number; hangs up if it is empty. */
    public function dial(string $number): void;

    /** @return array{state: string, with: string, sent: int, heard: int} the state of its call, in either direction */
    public function call(): array;
}
