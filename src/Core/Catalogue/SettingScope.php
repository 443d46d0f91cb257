<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** What a setting belongs to; of `item` there are several on one device (input 1…8, stream 1…2), told apart by their number. */
enum SettingScope: string
{
    case Device = 'device';
    case Port = 'port';
    case Item = 'item';
    case Account = 'account';
}
