<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Tls;

use Vorhut\Core\Net\HostName;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;

/** Certificates in the order in which a server shows them (RFC 8446 §4.4.2): its own first, each signed by the one that follows. */
final readonly class CertificateChain
{
    /** More than a server shows, and as much as anybody pastes. */
    private const LARGEST = 65536;
    private const MOST = 6;

    /**
     * @param list<string> $pems         in PEM (RFC 7468), one each
     * @param list<string> $fingerprints SHA-256 of each in its DER form, hexadecimal
     * @param list<string> $names        the subjects of the first one: host names, addresses as text (RFC 9525 §4)
     * @param int          $since        Unix time from which all of them hold
     * @param int          $until        Unix time until which all of them do
     */
    private function __construct(
        public array $pems,
        public array $fingerprints,
        public array $names,
        public int $since,
        public int $until,
    ) {
    }

    /** @throws Malformed naming the first thing that keeps a client from following it */
    public static function fromPem(string $text): self
    {
        preg_match_all('/-----BEGIN CERTIFICATE-----[A-Za-z0-9+\/=\s]+-----END CERTIFICATE-----/', substr($text, 0, self::LARGEST), $found);
        $pems = $found[0];
        if ([] === $pems || \count($pems) > self::MOST) {
            throw Malformed::because('One to {n} certificates in PEM are wanted: each begins with -----BEGIN CERTIFICATE-----.', [
                'n' => self::MOST,
            ]);
        }
        $names = $fingerprints = [];
        $since = 0;
        $until = \PHP_INT_MAX;
        foreach ($pems as $n => $pem) {
            $told = @openssl_x509_parse($pem);
            $fingerprint = \is_array($told) ? openssl_x509_fingerprint($pem, 'sha256') : false;
            if (!\is_array($told) || !\is_string($fingerprint)) {
                throw Malformed::because('Certificate {n} cannot be read.', ['n' => $n + 1]);
            }
            if (isset($pems[$n + 1]) && 1 !== @openssl_x509_verify($pem, $pems[$n + 1])) {
                throw Malformed::because('Certificate {n} is not signed by the one that follows it.', ['n' => $n + 1]);
            }
            $fingerprints[] = $fingerprint;
            $since = max($since, \is_int($told['validFrom_time_t'] ?? null) ? $told['validFrom_time_t'] : 0);
            $until = min($until, \is_int($told['validTo_time_t'] ?? null) ? $told['validTo_time_t'] : 0);
            $extensions = $told['extensions'] ?? null;
            $alternative = \is_array($extensions) ? $extensions['subjectAltName'] ?? '' : '';
            $names = 0 === $n ? self::hostNames(\is_string($alternative) ? $alternative : '') : $names;
        }

        return new self($pems, $fingerprints, $names, $since, $until);
    }

    /** Whether the last of them signed itself. */
    public function endsAtAuthority(): bool
    {
        $last = $this->pems[\count($this->pems) - 1];

        return 1 === @openssl_x509_verify($last, $last);
    }

    /** The fingerprint of the last of them: what a phone has to know. */
    public function authority(): string
    {
        return $this->fingerprints[\count($this->fingerprints) - 1];
    }

    /** Whether a client that asked for that name or address finds it here (RFC 9525 §6). */
    public function covers(HostName|Ipv4 $host): bool
    {
        $wanted = (string) $host;
        $under = $host instanceof HostName && str_contains($wanted, '.') ? substr($wanted, (int) strpos($wanted, '.')) : null;

        return \in_array($wanted, $this->names, true) || (null !== $under && \in_array('*'.$under, $this->names, true));
    }

    public function __toString(): string
    {
        return implode("\n", $this->pems)."\n";
    }

    /**
     * @param string $alternative subjectAltName (RFC 5280 §4.2.1.6) as OpenSSL prints it
     *
     * @return list<string>
     */
    private static function hostNames(string $alternative): array
    {
        $names = [];
        foreach (explode(',', $alternative) as $one) {
            [$kind, $name] = explode(':', trim($one), 2) + [1 => ''];
            if (\in_array($kind, ['DNS', 'IP Address'], true)) {
                $names[] = strtolower($name);
            }
        }

        return $names;
    }
}
