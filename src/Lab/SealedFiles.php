<?php

declare(strict_types=1);

namespace Vorhut\Lab;

/** The door behind which the files of a job lie, where they go over HTTPS: as the name leads to it, and who vouches for it. */
final readonly class SealedFiles
{
    /**
     * @param string $host      the name, or the address, that the certificate must have
     * @param string $at        address and port on loopback
     * @param int    $port      its port in the plan
     * @param string $authority fingerprint of who signed; SHA-256, hexadecimal
     * @param string $file      its certificate in PEM
     */
    public function __construct(
        public string $host,
        public string $at,
        public int $port,
        public string $authority,
        public string $file,
    ) {
    }
}
