<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** How an admin page wants to be logged in to. */
enum LoginWay: string
{
    case None = 'none';
    /** RFC 7617: the password is sent in clear text. */
    case Basic = 'basic';
    /** RFC 7616: the password itself is never sent. */
    case Digest = 'digest';
    /** A form of its own, which gives a cookie (RFC 6265). */
    case Session = 'session';
}
