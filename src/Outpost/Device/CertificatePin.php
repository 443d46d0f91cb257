<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Device;

use Vorhut\Outpost\Probe\NoAnswer;

/**
 * What is known of the certificate of a device that signs its own: nobody vouches for it, so it is remembered by its fingerprint at first
 * sight and compared from then on. The fingerprint is the SHA-256 of its DER form, in hexadecimal digits.
 */
final class CertificatePin
{
    public ?string $seen = null;

    /** @param string|null $known of first sight; null where this is it */
    public function __construct(public readonly ?string $known = null)
    {
    }

    /** @throws NoAnswer where it is another one: nothing is said to whoever shows it, least of all a password */
    public function sees(string $fingerprint): void
    {
        $this->seen = $fingerprint;
        if (null !== $this->known && '' !== $this->known && !hash_equals($this->known, $fingerprint)) {
            throw NoAnswer::otherCertificate();
        }
    }
}
