<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Radius;

/** What a packet is (RFC 2865 §3, RFC 5997 §3). */
enum Code: int
{
    case AccessRequest = 1;
    case AccessAccept = 2;
    case AccessReject = 3;
    case AccessChallenge = 11;
    case StatusServer = 12;

    public function isAnswer(): bool
    {
        return \in_array($this, [self::AccessAccept, self::AccessReject, self::AccessChallenge], true);
    }
}
