<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** A socket other than a network port: which plug goes where is part of the record and of the sheet. */
final readonly class Socket
{
    public function __construct(public string $name, public string $takes, public int $count)
    {
    }
}
