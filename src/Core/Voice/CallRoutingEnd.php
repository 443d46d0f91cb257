<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

/** What a call comes to by the rules of a PBX. */
enum CallRoutingEnd: string
{
    case Extension = 'extension';
    case Group = 'group';
    case Menu = 'menu';
    case Fax = 'fax';
    case Feature = 'feature';
    case Outside = 'outside';
    /** Dialling is not over: longer digits would match. */
    case Incomplete = 'incomplete';
    /** No extension has this number, and no route matches it. */
    case Unknown = 'unknown';
    /** A route would take it, and does not from this caller or at this time. */
    case Denied = 'denied';
    case Loop = 'loop';
    /** It is handed to a provider, by whose rules it goes on. */
    case Provider = 'provider';
}
