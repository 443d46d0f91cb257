<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** A socket that is no network: which plug goes where is part of the record and of the sheet. */
final readonly class Socket
{
    public function __construct(public string $name, public string $takes, public int $count)
    {
    }
}
