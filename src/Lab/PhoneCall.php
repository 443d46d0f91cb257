<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\Digest;
use Vorhut\Core\Wire\Sip\SipAddress;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\AudioLine;
use Vorhut\Socket\SipLine;

/** A call that a telephone of the lab makes itself: through its registrar, with its account (RFC 3261 §13.2), until it hangs up. */
final class PhoneCall
{
    private const RINGS = 20.0;
    private const BYE_SECONDS = 4.0;

    public readonly string $callId;
    private string $state = 'calling';
    private string $with;
    private readonly string $tag;
    private int $sequence = 0;
    private ?SipMessage $invite = null;
    private ?SipMessage $answer = null;
    private bool $isOver = false;

    public function __construct(
        private readonly SipLine $line,
        private readonly AudioLine $audio,
        private readonly Ipv4 $registrar,
        private readonly int $port,
        private readonly string $user,
        private readonly string $secret,
        private readonly string $number,
    ) {
        $this->callId = bin2hex(random_bytes(10)).'@phone';
        $this->tag = bin2hex(random_bytes(5));
        $this->with = $number;
    }

    public function run(): void
    {
        $host = $this->line->socket->at($this->registrar);
        $uri = \sprintf('sip:%s@%s', $this->number, $host);
        $here = $this->line->socket;
        $body = (string) new Session($here->address(), $this->audio->port(), [Session::PCMU]);
        $authorization = null;
        for ($try = 0; $try < 2 && !$this->isOver; ++$try) {
            $this->invite = $this->request('INVITE', $uri, \sprintf('<%s>', $uri), [
                ['Contact', \sprintf('<sip:%s@%s:%d>', $this->user, $here->address(), $here->port())],
                ...(null === $authorization ? [] : [$authorization]),
                ['Content-Type', 'application/sdp'],
            ], $body);
            $answer = $this->line->ask($this->invite, $host, $this->port, self::RINGS);
            $authorization = null;
            foreach ([401 => 'WWW-Authenticate', 407 => 'Proxy-Authenticate'] as $status => $asks) {
                if ($status === $answer?->status) {
                    foreach ($answer->headers($asks) as $offer) {
                        $challenge = Digest::tryFromString($offer);
                        if (null !== $challenge && $challenge->isKnown()) {
                            $authorization ??= [
                                401 === $status ? 'Authorization' : 'Proxy-Authorization',
                                (string) $challenge->answer($this->user, $this->secret, 'INVITE', $uri, bin2hex(random_bytes(8))),
                            ];
                        }
                    }
                }
            }
            if (null === $authorization) {
                $this->onAnswer($answer, $host);

                return;
            }
        }
        $this->state = 'refused';
    }

    /** @return array{state: string, with: string, sent: int, heard: int} */
    public function stands(): array
    {
        return [
            'state' => $this->state,
            'with' => $this->with,
            'sent' => $this->audio->sentCount(),
            'heard' => $this->audio->heard->receivedCount(),
        ];
    }

    /** What the other end says within it; null where this call is not meant. */
    public function take(SipMessage $request): ?SipMessage
    {
        if ($request->callId() !== $this->callId) {
            return null;
        }
        if ('BYE' === $request->method) {
            $this->over('left');
        }
        // A change that leaves the sound where it is: the joined legs of a switch send one when they are led on.
        $this->with = self::speaker($request) ?? $this->with;

        return SipMessage::response($request, \in_array($request->method, ['BYE', 'UPDATE', 'OPTIONS'], true) ? 200 : 488);
    }

    public function hangUp(): void
    {
        if ($this->isOver) {
            return;
        }
        $wasAnswered = null !== $this->answer;
        $invite = $this->invite;
        $host = $this->line->socket->at($this->registrar);
        $this->over('over');
        if ($wasAnswered) {
            $this->line->ask($this->within('BYE'), $host, $this->port, self::BYE_SECONDS);
        } elseif (null !== $invite) {
            $this->line->ask(SipMessage::cancel($invite), $host, $this->port, self::BYE_SECONDS);
        }
    }

    private function onAnswer(?SipMessage $answer, Ipv4 $host): void
    {
        if (null === $answer || $answer->status >= 300 || null === $this->invite) {
            $this->over(match ($answer?->status) {
                null => 'no answer',
                486 => 'busy',
                default => 'refused '.$answer->status,
            });

            return;
        }
        $this->answer = $answer;
        $this->line->confirm($this->invite, $this->within('ACK'), $host, $this->port);
        try {
            $far = Session::fromString($answer->body);
        } catch (ParseError) {
            $this->hangUp();

            return;
        }
        if ($this->isOver) {
            // It was hung up in the same moment.
            $this->line->ask($this->within('BYE'), $host, $this->port, self::BYE_SECONDS);

            return;
        }
        $this->with = self::speaker($answer) ?? $this->with;
        $this->state = 'talking';
        $this->audio->start($far->address, $far->port);
    }

    private function over(string $state): void
    {
        $this->isOver = true;
        $this->state = $state;
        $this->audio->stop();
    }

    private static function speaker(SipMessage $message): ?string
    {
        $text = $message->header('P-Asserted-Identity');
        try {
            return null === $text ? null : SipAddress::fromString($text)->user();
        } catch (ParseError) {
            return null;
        }
    }

    private function within(string $method): SipMessage
    {
        $contact = $this->answer?->header('Contact');
        try {
            $target = null === $contact ? null : SipAddress::fromString($contact)->uri;
        } catch (ParseError) {
            $target = null;
        }
        $uri = \sprintf('sip:%s@%s', $this->number, $this->line->socket->at($this->registrar));

        return $this->request($method, $target ?? $uri, $this->answer?->header('To') ?? \sprintf('<%s>', $uri));
    }

    /** @param list<array{string, string}> $headers */
    private function request(string $method, string $uri, string $to, array $headers = [], string $body = ''): SipMessage
    {
        // An ACK has the number of what it confirms (RFC 3261 §13.2.2.4).
        $sequence = 'ACK' === $method ? $this->sequence : ++$this->sequence;

        return SipMessage::request($method, $uri, [
            ['Via', $this->line->via()],
            ['Max-Forwards', '70'],
            ['From', \sprintf('<sip:%s@%s>;tag=%s', $this->user, $this->line->socket->at($this->registrar), $this->tag)],
            ['To', $to],
            ['Call-ID', $this->callId],
            ['CSeq', $sequence.' '.$method],
            ...$headers,
        ], $body);
    }
}
