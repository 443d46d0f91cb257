<?php

declare(strict_types=1);

namespace Vorhut\Lab;

/** An action by hand, or a signal at a contact, on a stand-in. */
final readonly class Stimulus
{
    public const KEY = 'key';
    public const HOLD = 'hold';
    public const PLUG = 'plug';
    public const PULL = 'pull';
    public const CONTACT = 'contact';
    public const LICENCE = 'licence';
    public const UNLOCK = 'unlock';
    public const RINGS = 'rings';

    /** @param float $seconds how long it was held, or goes on */
    public function __construct(public string $what, public string $with = '', public float $seconds = 0.0)
    {
    }
}
