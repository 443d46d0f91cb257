<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Device;

use Vorhut\Outpost\Probe\NoAnswer;

/**
 * The known certificate of a device that signs its own: no authority confirms it, so its fingerprint is stored on first contact and
 * compared afterwards. The fingerprint is the SHA-256 of its DER form, in hexadecimal digits.
 */
final class CertificatePin
{
    public ?string $seen = null;

    /** @param string|null $known of first sight; null where this is it */
    public function __construct(public readonly ?string $known = null)
    {
    }

    /** @throws NoAnswer if it is another certificate: no data is sent to its holder, least of all a password */
    public function sees(string $fingerprint): void
    {
        $this->seen = $fingerprint;
        if (null !== $this->known && '' !== $this->known && !hash_equals($this->known, $fingerprint)) {
            throw NoAnswer::otherCertificate();
        }
    }
}
