<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Amp\DeferredFuture;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sip\Refusal;
use Vorhut\Core\Wire\Sip\SessionTimer;
use Vorhut\Core\Wire\Sip\SipMessage;

use function Amp\delay;

/**
 * SIP transactions over UDP (RFC 3261 §17): requests are repeated until an answer arrives, repeated requests get the same answer, packets
 * other than SIP are refused with 400 or dropped. A final answer to an INVITE is acknowledged each time it arrives, and repeated until it
 * is acknowledged (§13.2.2.4, §13.3.1.4, §17.1.1.2, §17.2.1).
 */
final class SipLine
{
    public const T1 = 0.5;
    public const TIMER_F = 32.0;
    public const T2 = 4.0;
    /** Transactions that are remembered at a time. */
    private const REMEMBERED = 4000;
    /** Answers that are sent again at a time, until they are acknowledged: a flood of INVITEs is not answered by a larger one. */
    private const REPEATED = 200;

    /** @var array<string, DeferredFuture<SipMessage>> branch and method → who waits for the final answer */
    private array $waiting = [];
    /** @var array<string, callable(SipMessage): void> who wants to hear of provisional answers */
    private array $listening = [];
    /** @var array<string, true> */
    private array $heard = [];
    /** @var array<string, array{Ipv4, int, string, float}> branch, method and sender → last answer given, and when; the oldest first */
    private array $answered = [];
    /** @var array<string, float> requests under work that have no answer yet → since when; the oldest first */
    private array $working = [];
    /**
     * @var array<string, array{request: SipMessage, to: Ipv4, port: int, at: float, ack: array{string, Ipv4, int}|null}>
     *     own INVITEs, the oldest first
     */
    private array $invites = [];
    /** @var array<string, true> call and number of INVITEs whose final answer is not acknowledged yet */
    private array $unacknowledged = [];
    private bool $closed = false;

    /**
     * @param \Closure(SipMessage, Ipv4, int): void $onRequest
     * @param list<string>|null                     $allowed   supported methods: all others are refused before further checks (§8.2); null
     * if the handler of requests refuses them itself
     * @param list<string>                          $knows     extensions that a request may require
     */
    public function __construct(
        public readonly Datagrams $socket,
        private readonly \Closure $onRequest,
        private readonly ?array $allowed = null,
        private readonly array $knows = [SessionTimer::EXTENSION],
    ) {
        Background::run('SIP', function (): void {
            while (!$this->closed && null !== $received = $this->socket->receive()) {
                try {
                    $this->take(...$received);
                } catch (\Throwable $e) {
                    // One message that could not be worked at must not make the line deaf to the next.
                    Background::report('SIP', $e);
                }
            }
        });
    }

    /**
     * Sends a request and waits for its final answer.
     *
     * @param (callable(SipMessage): void)|null $provisional hears of 1xx answers
     *
     * @return SipMessage|null null after a time-out
     */
    public function ask(
        SipMessage $request,
        Ipv4 $to,
        int $port,
        float $seconds = self::TIMER_F,
        ?callable $provisional = null,
    ): ?SipMessage {
        $key = self::ownTransaction($request);
        if (null !== $provisional) {
            $this->listening[$key] = $provisional;
        }
        if ('INVITE' === $request->method) {
            $this->forget();
            $this->invites[$key] = ['request' => $request, 'to' => $to, 'port' => $port, 'at' => microtime(true), 'ack' => null];
        }
        Background::run('SIP', function () use ($key, $request, $to, $port): void {
            for ($wait = self::T1; isset($this->waiting[$key]) && !isset($this->heard[$key]); $wait = min($wait * 2, 4.0)) {
                $this->socket->send($to, $port, (string) $request);
                delay($wait);
            }
        });

        return $this->await($request, $seconds);
    }

    /** Waits, or continues to wait, for the final answer to a request; null after a time-out. */
    public function await(SipMessage $request, float $seconds): ?SipMessage
    {
        $key = self::ownTransaction($request);
        /** @var DeferredFuture<SipMessage> $deferred */
        $deferred = new DeferredFuture();
        $this->waiting[$key] = $deferred;
        try {
            return $deferred->getFuture()->await(new TimeoutCancellation($seconds));
        } catch (\Amp\CancelledException) {
            return null;
        } finally {
            unset($this->waiting[$key], $this->listening[$key], $this->heard[$key]);
        }
    }

    /** Answers a request; the same request, should it come again, gets the same answer. */
    public function answer(SipMessage $request, SipMessage $response, Ipv4 $to, int $port): void
    {
        $key = self::transaction($request, $to, $port);
        $this->forget();
        unset($this->answered[$key]);
        $this->answered[$key] = [$to, $port, (string) $response, microtime(true)];
        if ($response->status >= 200) {
            unset($this->working[$key]);
        }
        $this->socket->send($to, $port, (string) $response);
        if ('INVITE' === $request->method && $response->status >= 200) {
            $this->repeat($request, (string) $response, $to, $port);
        }
    }

    /** Acknowledges a 200 to an INVITE of ours, end to end, and does so again should it come again (§13.2.2.4). */
    public function confirm(SipMessage $invite, SipMessage $ack, Ipv4 $to, int $port): void
    {
        $key = self::ownTransaction($invite);
        if (isset($this->invites[$key])) {
            $this->invites[$key]['ack'] = [(string) $ack, $to, $port];
        }
        $this->socket->send($to, $port, (string) $ack);
    }

    /** Repeats a final answer to an INVITE until it is acknowledged, or times out. */
    private function repeat(SipMessage $invite, string $response, Ipv4 $to, int $port): void
    {
        if (\count($this->unacknowledged) >= self::REPEATED) {
            return;
        }
        $key = self::call($invite);
        $this->unacknowledged[$key] = true;
        Background::run('SIP', function () use ($key, $response, $to, $port): void {
            $until = microtime(true) + self::TIMER_F;
            for ($wait = self::T1; !$this->closed && microtime(true) < $until; $wait = min(2 * $wait, self::T2)) {
                delay($wait, false);
                if (!isset($this->unacknowledged[$key])) {
                    return;
                }
                $this->socket->send($to, $port, $response);
            }
            unset($this->unacknowledged[$key]);
        });
    }

    /** The Via of a request that begins here, with a branch of its own (§8.1.1.7). */
    public function via(): string
    {
        return \sprintf(
            'SIP/2.0/UDP %s:%d;branch=z9hG4bK%s;rport',
            $this->socket->address(),
            $this->socket->port(),
            bin2hex(random_bytes(8)),
        );
    }

    public function tell(SipMessage $message, Ipv4 $to, int $port): void
    {
        $this->socket->send($to, $port, (string) $message);
    }

    public function close(): void
    {
        $this->closed = true;
        $this->socket->close();
    }

    private function take(Ipv4 $from, int $port, string $bytes): void
    {
        try {
            $message = SipMessage::fromString($bytes);
        } catch (ParseError) {
            $this->refuse($from, $port, $bytes);

            return;
        }
        if (!$message->isRequest()) {
            $key = $message->branch().' '.$message->sequenceMethod();
            $this->acknowledge($key, $message);
            if (!isset($this->waiting[$key])) {
                // Its caller has stopped waiting, or never existed.
                return;
            }
            $this->heard[$key] = true;
            if ($message->status < 200) {
                if (isset($this->listening[$key])) {
                    ($this->listening[$key])($message);
                }
            } else {
                $deferred = $this->waiting[$key];
                unset($this->waiting[$key]);
                $deferred->complete($message);
            }

            return;
        }
        $key = self::transaction($message, $from, $port);
        $message = $message->receivedFrom((string) $from, $port);
        if ('ACK' === $message->method) {
            unset($this->unacknowledged[self::call($message)]);
        } else {
            if (isset($this->answered[$key])) {
                [$to, $toPort, $text] = $this->answered[$key];
                $this->socket->send($to, $toPort, $text);

                return;
            }
            if (isset($this->working[$key])) {
                return;
            }
            $this->forget();
            if (\count($this->working) >= self::REMEMBERED) {
                // More at a time than anybody could answer: the sender asks again (§17.1.1.2).
                return;
            }
            $this->working[$key] = microtime(true);
        }
        $refusal = null === $this->allowed ? null : Refusal::of($message, $this->allowed, $this->knows);
        if (null !== $refusal) {
            $this->answer($message, $refusal, $from, $port);

            return;
        }
        Background::run('SIP '.$message->method, fn () => ($this->onRequest)($message, $from, $port));
    }

    /** A request that can be told apart at all is refused; anything else is dropped (§16.3, §18.3). */
    private function refuse(Ipv4 $from, int $port, string $bytes): void
    {
        if (1 !== preg_match(
            '~^[\r\n]*([A-Za-z0-9.!%*_+`\'\~-]+)[ \t]+\S.*SIP/([0-9]{1,3})\.([0-9]{1,3})[ \t]*\r?\n~',
            $bytes,
            $first,
        ) || 'ACK' === $first[1]) {
            return;
        }
        $status = '2' === $first[2] && '0' === $first[3] ? 400 : 505;
        preg_match_all('/^(?:Via|v|From|f|To|t|Call-ID|i|CSeq)[ \t]*:[^\r\n\0]*$/mi', $bytes, $kept);
        $this->socket->send(
            $from,
            $port,
            "SIP/2.0 $status ".SipMessage::phrase($status)."\r\n".implode("\r\n", array_map(rtrim(...), \array_slice($kept[0], 0, 40)))
                ."\r\nContent-Length: 0\r\n\r\n",
        );
    }

    /** The final answer to an INVITE of ours: a refusal is acknowledged here, a 200 as it was before. */
    private function acknowledge(string $key, SipMessage $answer): void
    {
        $invite = $this->invites[$key] ?? null;
        if (null === $invite || $answer->status < 200) {
            return;
        }
        if ($answer->status >= 300) {
            $this->socket->send($invite['to'], $invite['port'], (string) SipMessage::acknowledge($invite['request'], $answer));
        } elseif (null !== $invite['ack'] && !isset($this->waiting[$key])) {
            [$ack, $to, $port] = $invite['ack'];
            $this->socket->send($to, $port, $ack);
        }
    }

    /**
     * Drops entries older than the life of a transaction, and under a flood the oldest: a repeat of one counts as a new request. Both lists
     * are in order of time, so only their beginnings are checked.
     */
    private function forget(): void
    {
        $before = microtime(true) - self::TIMER_F;
        while (false !== $one = reset($this->answered)) {
            if ($one[3] >= $before && \count($this->answered) < self::REMEMBERED) {
                break;
            }
            unset($this->answered[(string) key($this->answered)]);
        }
        while (false !== ($one = reset($this->invites)) && ($one['at'] < $before || \count($this->invites) >= self::REMEMBERED)) {
            unset($this->invites[(string) key($this->invites)]);
        }
        while (false !== ($since = reset($this->working)) && $since < $before) {
            unset($this->working[(string) key($this->working)]);
        }
    }

    /** What an ACK has in common with the INVITE that it is for, whatever its branch. */
    private static function call(SipMessage $message): string
    {
        return $message->callId().' '.$message->sequence();
    }

    /** What an answer must carry to belong to a request of ours (§17.1.3). */
    private static function ownTransaction(SipMessage $request): string
    {
        return $request->branch().' '.$request->method;
    }

    private static function transaction(SipMessage $request, Ipv4 $from, int $port): string
    {
        return $request->branch().' '.$request->method.' '.$from.':'.$port.' '.$request->sequence();
    }
}
