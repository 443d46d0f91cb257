<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

enum Transport: string
{
    case Udp = 'udp';
    case Tcp = 'tcp';
}
