<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** Where the phones of a job fetch: under the name that its own certificate stands for, or else as everybody asks this server. */
final readonly class FileAddress
{
    /** Of HTTP over TLS (RFC 9110 §4.2.2), where a job says nothing else. */
    public const PORT = 443;

    private function __construct(public string $base, public bool $isSealed)
    {
    }

    /** @param string $server how this server is asked, as http://192.0.2.10:8400 */
    public static function of(Plan $plan, string $server): self
    {
        $host = $plan->job->text('filesHost');
        if ('' === $host || '' === $plan->job->text('filesAuthority')) {
            return new self($server, false);
        }
        $port = $plan->job->intOrNull('filesPort') ?? self::PORT;

        return new self('https://'.$host.(self::PORT === $port ? '' : ':'.$port), true);
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
