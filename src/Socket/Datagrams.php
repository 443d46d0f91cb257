<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Vorhut\Core\Net\Ipv4;

/** A UDP socket with addresses of the site, over the real network or the lab on loopback. */
interface Datagrams
{
    public function send(Ipv4 $to, int $port, string $bytes): void;

    /** @return array{Ipv4, int, string}|null sender, port, bytes; null once it is closed or the time is up */
    public function receive(?float $seconds = null): ?array;

    public function port(): int;

    /** The address written in messages: where the other end should answer. */
    public function address(): Ipv4;

    /** Where an address of the site is reached on this wire; it is written into messages in place of the site's own. */
    public function at(Ipv4 $site): Ipv4;

    public function close(): void;
}
