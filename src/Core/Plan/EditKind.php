<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

enum EditKind: string
{
    case Put = 'put';
    case Add = 'add';
    case Remove = 'remove';
}
