<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** Where the phones of a job fetch: under the name in its own certificate, or else under the usual address of this server. */
final readonly class FileAddress
{
    /** Of HTTP over TLS (RFC 9110 §4.2.2), where a job says nothing else. */
    public const PORT = 443;

    /** What `provisioning` says of a phone that fetches here. */
    public const HERE = 'vorhut';
    /** The setting for the authority that a phone trusts. */
    public const TRUST = 'authority';

    private function __construct(public string $base, public bool $isSealed)
    {
    }

    /** @param string $server address of this server, as http://192.0.2.10:8400 */
    public static function of(Plan $plan, string $server): self
    {
        $host = $plan->job->text('filesHost');
        if (!self::isSealedBy($host, $plan->job->text('filesAuthority'))) {
            return new self($server, false);
        }
        $port = $plan->job->intOrNull('filesPort') ?? self::PORT;

        return new self('https://'.$host.(self::PORT === $port ? '' : ':'.$port), true);
    }

    /** Files of a job are served over HTTPS only, once it has a name and a certificate. */
    public static function isSealedBy(string $host, string $authority): bool
    {
        return '' !== $host && '' !== $authority;
    }

    /** Whether a device fetches its file here, by its own word on that face. */
    public static function isOf(Device $device, Face $face): bool
    {
        return self::HERE === $device->setting('provisioning')->face($face);
    }

    /** @param string $token the unguessable part */
    public function long(string $token): string
    {
        return $this->base.'/p/'.$token.'/';
    }

    /** @param string $code the part that is made for a keypad */
    public function short(string $code): string
    {
        return $this->base.'/9/'.$code.'/';
    }
}
