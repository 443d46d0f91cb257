<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\Socket\Certificate as File;

/** The certificate that a stand-in signs itself: made when it first starts, kept until it is set back to its factory state. */
final class Certificate
{
    public static function of(string $device, string $folder, int $generation): File
    {
        $file = \sprintf('%s/%s-%d.pem', $folder, hash('sha256', $device), $generation);
        if (!is_file($file)) {
            @mkdir($folder, 0o700, true);
            [$public, $private] = self::create($device);
            file_put_contents($file.'.new', $public.$private);
            rename($file.'.new', $file);
        }

        return new File($file);
    }

    /** @return array{string, string} certificate and key */
    private static function create(string $device): array
    {
        $key = openssl_pkey_new(['private_key_type' => \OPENSSL_KEYTYPE_EC, 'curve_name' => 'prime256v1']);
        if (false === $key) {
            throw new \RuntimeException('No key could be made for the certificate of '.$device);
        }
        $own = $key;
        $request = openssl_csr_new(['commonName' => substr($device, 0, 60)], $key, ['digest_alg' => 'sha256']);
        $signed = $request instanceof \OpenSSLCertificateSigningRequest
            ? openssl_csr_sign($request, null, $own, 3650, ['digest_alg' => 'sha256'], random_int(1, \PHP_INT_MAX))
            : false;
        $public = $private = '';
        if (false === $signed || !openssl_x509_export($signed, $public) || !openssl_pkey_export($own, $private)) {
            throw new \RuntimeException('No certificate could be made for '.$device);
        }

        return [\is_string($public) ? $public : '', \is_string($private) ? $private : ''];
    }
}
