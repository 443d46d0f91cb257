<?php

declare(strict_types=1);

namespace Vorhut\Lab;

/** What can be told to call a number. */
interface CallsOut
{
    /** Calls; hangs up where there is no number. */
    public function dial(string $number): void;

    /** @return array{state: string, with: string, sent: int, heard: int} how its call stands, whoever began it */
    public function call(): array;
}
