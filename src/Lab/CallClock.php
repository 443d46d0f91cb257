<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Revolt\EventLoop;
use Vorhut\Core\Wire\Sip\SessionTimer;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\Background;
use Vorhut\Socket\Dialog;

/** Keeps the time of a call whose ends agreed on one (RFC 4028): says a word in time, or hangs up where the other end says none. */
final class CallClock
{
    private const WORD_SECONDS = 6.0;

    private string $timer = '';

    /** @param \Closure(): void $over called when the call ends by time-out */
    private function __construct(private readonly SessionTimer $agreed, private readonly Dialog $dialog, private readonly \Closure $over)
    {
        $this->refresh();
    }

    /** @param \Closure(): void $over */
    public static function of(SipMessage $invite, Dialog $dialog, \Closure $over): ?self
    {
        $agreed = SessionTimer::negotiate($invite);

        return $agreed instanceof SessionTimer ? new self($agreed, $dialog, $over) : null;
    }

    /** @return list<array{string, string}> */
    public function headers(): array
    {
        return $this->agreed->headers();
    }

    public function refresh(): void
    {
        $this->end();
        $this->timer = $this->agreed->isRefreshedByCaller
            ? EventLoop::unreference(EventLoop::delay($this->agreed->patience(), $this->over))
            : EventLoop::unreference(EventLoop::delay($this->agreed->seconds / 2, $this->speak(...)));
    }

    public function end(): void
    {
        if ('' !== $this->timer) {
            EventLoop::cancel($this->timer);
        }
        $this->timer = '';
    }

    private function speak(): void
    {
        Background::run('SIP UPDATE', function (): void {
            $answer = $this->dialog->ask('UPDATE', self::WORD_SECONDS, $this->agreed->headers());
            // Who knows the call no more, or says nothing, has left it (§10).
            if (null === $answer || \in_array($answer->status, [408, 481], true)) {
                ($this->over)();
            } else {
                $this->refresh();
            }
        });
    }
}
