<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

enum TranslationKind: string
{
    /** Those inside appear under an outside address (RFC 3022 §2.2). */
    case Source = 'source';
    /** Ports of an outside address lead to a host inside. */
    case Forward = 'forward';
    /** One outside address is one host inside, both ways (RFC 3022 §2.1). */
    case Static = 'static';
}
