<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Radius\Code;
use Vorhut\Core\Wire\Radius\RadiusPacket;

/** Asks an authentication server as one of its clients whether it is there: no user is named, nothing is counted (RFC 5997 §1). */
final readonly class RadiusAsker
{
    private const TRIES = 3;
    private const SECONDS = 1.5;

    public function __construct(private NetworkAccess $access)
    {
    }

    /** @throws NoAnswer where nothing can be sent */
    public function status(VantagePoint $place, Ipv4 $server, int $port, string $secret): Evidence
    {
        $to = $this->access->seenAs($server);
        $socket = $this->access->datagrams($place->address);
        $log = [];
        $isStrange = false;
        try {
            $request = RadiusPacket::request(Code::StatusServer, random_int(0, 255), random_bytes(16), $secret);
            for ($try = 1; $try <= self::TRIES; ++$try) {
                $log[] = \sprintf('> Status-Server to %s:%d', $server, $port);
                $socket->send($to, $port, (string) $request);
                for ($until = microtime(true) + self::SECONDS; ($left = $until - microtime(true)) > 0;) {
                    $received = $socket->receive($left);
                    if (null === $received || !$received[0]->equals($to)) {
                        continue;
                    }
                    try {
                        $answer = RadiusPacket::fromString($received[2]);
                    } catch (ParseError) {
                        $log[] = '< something else';
                        continue;
                    }
                    $log[] = '< '.$answer->code->name;
                    if ($answer->answers($request, $secret)) {
                        return new Evidence(Outcome::Answers, new Message('it knows this client, and its secret'), $log);
                    }
                    $isStrange = true;
                }
            }
        } finally {
            $socket->close();
        }

        return $isStrange
            ? new Evidence(Outcome::Rejected, new Message('something answers that does not know the secret'), $log)
            : new Evidence(
                Outcome::Silent,
                new Message('no answer: it is not there, does not know this client, or has another secret'),
                $log,
            );
    }
}
