<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

/**
 * How likely a mistake is, the likeliest first: a value typed other than planned, a plug in the wrong wire, a value of the neighbour's.
 * A new address comes last.
 */
final class FixRank
{
    /** A value that differs from the plan: the plan is right. */
    public const TYPED = 10;
    /** An address, and a gateway, of another wire: re-plug before re-address. */
    public const PLUG = 15;
    public const MASK = 20;
    public const GATEWAY = 21;
    public const PORT = 22;
    public const SEGMENT = 23;
    public const VIA = 16;
    public const DESTINATION = 17;
    public const ROUTE = 24;
    public const DIGITS = 25;
    public const STATE = 26;
    public const RULE = 30;
    public const ADDRESS = 40;
}
