<?php

declare(strict_types=1);

namespace Vorhut\Secrets;

use Vorhut\Core\Wire\Tls\CertificateChain;

/** A certificate with its key, as a server shows it. */
final readonly class KeptCertificate
{
    /**
     * @param string $host      host name or address of the server
     * @param string $key       PEM
     * @param string $authority PEM, what phones are to know
     * @param bool   $isOurs    signed by the job's own authority, and so renewed here
     */
    public function __construct(
        public string $host,
        public CertificateChain $chain,
        public string $key,
        public string $authority,
        public bool $isOurs,
    ) {
    }

    /** Whole days until phones refuse it; below 0 they do already. */
    public function daysLeft(int $now): int
    {
        return (int) floor(($this->chain->until - $now) / 86400);
    }

    /** The authority in DER, as some phones want it. */
    public function der(): string
    {
        return (string) base64_decode((string) preg_replace('/-----[^-]+-----|\s/', '', $this->authority), true);
    }
}
