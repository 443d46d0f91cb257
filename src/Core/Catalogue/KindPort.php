<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** A network port that every device of a kind has. */
final readonly class KindPort
{
    /**
     * @param bool   $passive   passes another's traffic through and has no address of its own (a phone's PC port)
     * @param string $mode      static or reserved: how its address is assigned
     * @param bool   $gateway   whether it takes its segment's gateway; a host has one default gateway, so one port does
     * @param string $goesTo    where the cable goes, for the sheet
     */
    public function __construct(
        public string $name,
        public bool $passive,
        public string $mode,
        public bool $gateway,
        public string $goesTo,
    ) {
    }
}
