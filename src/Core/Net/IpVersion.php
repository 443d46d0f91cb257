<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** Which of the two internets a packet belongs to. */
enum IpVersion: int
{
    case Four = 4;
    case Six = 6;
}
