<?php

declare(strict_types=1);

namespace Vorhut\Secrets;

use Vorhut\Core\Net\HostName;
use Vorhut\Core\Net\Ipv4;

/**
 * A certificate authority for one job only (RFC 5280): it signs the certificate of this job's file server, and phones of this job trust it.
 * RSA, because old phones support no other key.
 */
final readonly class Authority
{
    /** Phones are told of it once, by hand: it outlives what it signs. */
    private const AUTHORITY_DAYS = 3650;
    /** What clients still accept of a server. */
    private const SERVER_DAYS = 397;
    private const BITS = 2048;

    /**
     * @param string $certificate PEM
     * @param string $key         PEM
     */
    private function __construct(public string $certificate, public string $key)
    {
    }

    public static function fresh(string $job): self
    {
        return self::sign('Files of '.$job, null, self::AUTHORITY_DAYS, [
            'basicConstraints=critical,CA:TRUE,pathlen:0',
            'keyUsage=critical,keyCertSign,cRLSign',
            'subjectKeyIdentifier=hash',
        ]);
    }

    public static function fromPem(string $certificate, string $key): self
    {
        return new self($certificate, $key);
    }

    /** What a server shows under a name. */
    public function issue(HostName|Ipv4 $host): self
    {
        return self::sign((string) $host, $this, self::SERVER_DAYS, [
            'basicConstraints=critical,CA:FALSE',
            'keyUsage=critical,digitalSignature,keyEncipherment',
            'extendedKeyUsage=serverAuth',
            'subjectKeyIdentifier=hash',
            'authorityKeyIdentifier=keyid',
            'subjectAltName='.($host instanceof Ipv4 ? 'IP:' : 'DNS:').$host,
        ]);
    }

    /** @param list<string> $extensions as OpenSSL's configuration has them (x509v3_config) */
    private static function sign(string $name, ?self $by, int $days, array $extensions): self
    {
        $config = (string) tempnam(sys_get_temp_dir(), 'vorhut');
        file_put_contents($config, "[req]\ndistinguished_name=dn\n[dn]\n[given]\n".implode("\n", $extensions)."\n");
        try {
            $options = ['config' => $config, 'digest_alg' => 'sha256', 'x509_extensions' => 'given'];
            $own = openssl_pkey_new(['private_key_type' => \OPENSSL_KEYTYPE_RSA, 'private_key_bits' => self::BITS, 'config' => $config]);
            if (false === $own) {
                throw self::failure();
            }
            $key = $own;
            $request = openssl_csr_new(['commonName' => mb_strcut($name, 0, 64)], $key, $options);
            $signed = $request instanceof \OpenSSLCertificateSigningRequest
                ? openssl_csr_sign($request, $by?->certificate, $by->key ?? $own, $days, $options, random_int(1, \PHP_INT_MAX))
                : false;
            $certificate = $pem = '';
            if (
                false === $signed
                || !openssl_x509_export($signed, $certificate)
                || !openssl_pkey_export($own, $pem, null, $options)
            ) {
                throw self::failure();
            }
        } finally {
            @unlink($config);
        }

        return new self(\is_string($certificate) ? $certificate : '', \is_string($pem) ? $pem : '');
    }

    private static function failure(): \RuntimeException
    {
        return new \RuntimeException('No certificate could be made: '.openssl_error_string());
    }
}
