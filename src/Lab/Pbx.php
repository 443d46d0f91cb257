<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Sip\Address;
use Vorhut\Core\Wire\Sip\Digest;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\Background;
use Vorhut\Socket\SipLine;

/**
 * An on-site PBX: registrar (RFC 3261 §10) with digest (RFC 8760), a proxy that stays in the path (§16) and rings the registered binding,
 * and a voicemail that answers when nobody does.
 */
final class Pbx implements Behaviour
{
    private const REALM = 'pbx.lab';
    private const EXPIRES = 60;

    private SipLine $line;
    private Callee $voicemail;
    /** @var array<string, array<string, array{until: float, port: int, host: Ipv4}>> user → contact → binding */
    private array $bindings = [];
    /** @var array<string, float> nonce → when it was given */
    private array $nonces = [];
    /** @var array<string, array{host: Ipv4, port: int, forwarded: SipMessage}> caller's branch → the leg that rings */
    private array $ringing = [];
    /** @var array<string, true> */
    private array $cancelled = [];

    /** @param \Closure(): Directory $directory what was entered at this PBX, as it stands now */
    public function __construct(
        private readonly SimulatedNetwork $network,
        private readonly StandIn $standIn,
        Ipv4 $address,
        private readonly \Closure $directory,
    ) {
        $device = $standIn->state->device;
        $this->voicemail = new Callee($network, $device, $address, 'voicemail', $standIn->kind->name.' voicemail', 0.1, 880, 20);
        $this->line = new SipLine(new GatedDatagrams($this->network, $device, $address, 5060), $this->take(...));
    }

    public function end(): void
    {
        $this->voicemail->endAll();
        $this->line->close();
    }

    private function take(SipMessage $request, Ipv4 $from, int $port): void
    {
        match (true) {
            'REGISTER' === $request->method => $this->register($request, $from, $port),
            'CANCEL' === $request->method
                && $this->voicemail->isInCall($request->callId()) => $this->voicemail->cancelled($this->line, $request, $from, $port),
            'CANCEL' === $request->method => $this->cancel($request, $from, $port),
            $this->voicemail->isInCall($request->callId()) && 'ACK' === $request->method => $this->voicemail->acknowledged($request),
            $this->voicemail->isInCall($request->callId())
                && 'BYE' === $request->method => $this->voicemail->hungUp($this->line, $request, $from, $port),
            null !== $request->to()->parameter('tag') => $this->within($request, $from, $port),
            'INVITE' === $request->method => $this->invite($request, $from, $port),
            'OPTIONS' === $request->method => $this->line->answer(
                $request,
                SipMessage::response($request, 200, null, [
                    ['Allow', 'REGISTER, INVITE, ACK, BYE, CANCEL, OPTIONS'],
                    ['Server', $this->standIn->kind->name],
                ]),
                $from,
                $port,
            ),
            'ACK' === $request->method => null,
            default => $this->line->answer($request, SipMessage::response($request, 405), $from, $port),
        };
    }

    private function register(SipMessage $request, Ipv4 $from, int $port): void
    {
        if (!$this->isAuthenticated($request, $from, $port, 401)) {
            return;
        }
        $user = $request->to()->user();
        $now = microtime(true);
        $default = (int) ($request->header('Expires') ?? self::EXPIRES);
        foreach ($request->headers('Contact') as $text) {
            if ('*' === trim($text)) {
                0 === $default && $this->bindings[$user] = [];
                continue;
            }
            $contact = Address::fromString($text);
            $expires = min((int) ($contact->parameter('expires') ?? $default), 3600);
            if ($expires <= 0) {
                unset($this->bindings[$user][$contact->uri]);
            } else {
                // Where it came from, not what it says of itself: rport (RFC 3581) in spirit.
                $this->bindings[$user][$contact->uri] = ['until' => $now + $expires, 'host' => $from, 'port' => $port];
            }
        }
        $contacts = [];
        foreach ($this->bound($user) as $uri => $binding) {
            $contacts[] = ['Contact', \sprintf('<%s>;expires=%d', $uri, (int) ceil($binding['until'] - $now))];
        }
        $this->line->answer(
            $request,
            SipMessage::response($request, 200, null, $contacts, '', 'reg'.substr(md5($request->callId()), 0, 8)),
            $from,
            $port,
        );
    }

    private function invite(SipMessage $request, Ipv4 $from, int $port): void
    {
        if (!$this->isAuthenticated($request, $from, $port, 407)) {
            return;
        }
        $number = 1 === preg_match('/^sips?:([^@;]+)@/i', $request->uri, $found) ? $found[1] : '';
        $directory = ($this->directory)();
        $user = $directory->userOf($number);
        if (!$directory->knows($number)) {
            $this->line->answer($request, SipMessage::response($request, 404, null, [], '', 'pbx'), $from, $port);

            return;
        }
        $caller = $request->from()->user();
        $bindings = null === $user
            ? []
            : array_filter($this->bound($user), static fn (array $binding): bool => $user !== $caller || !$binding['host']->equals($from));
        // The newest binding is the phone's own; an outpost that registered for a test comes with another contact and goes again.
        $binding = [] === $bindings ? null : $bindings[array_key_first($bindings)];
        $contact = array_key_first($bindings);
        $this->line->answer($request, SipMessage::response($request, 100), $from, $port);
        if (null === $binding) {
            $directory->hasVoicemail($number)
                ? $this->voicemail->invited($this->line, $request, $from, $port)
                : $this->line->answer($request, SipMessage::response($request, 480, null, [], '', 'pbx'), $from, $port);

            return;
        }
        $branch = 'z9hG4bK'.bin2hex(random_bytes(8));
        $forwarded = $this
            ->onward($request->withUri((string) $contact), $branch)
            ->withFirst('Record-Route', \sprintf('<sip:%s:%d;lr>', $this->line->socket->address(), $this->line->socket->port()));
        $this->ringing[$request->branch()] = ['host' => $binding['host'], 'port' => $binding['port'], 'forwarded' => $forwarded];
        $final = $this->line->ask(
            $forwarded,
            $binding['host'],
            $binding['port'],
            $directory->voicemailAfter,
            function (SipMessage $ringing) use ($from, $port): void {
                if ($ringing->status > 100) {
                    $this->line->tell($ringing->withoutFirst('Via'), $from, $port);
                }
            },
        );
        unset($this->ringing[$request->branch()]);
        if (isset($this->cancelled[$request->branch()])) {
            unset($this->cancelled[$request->branch()]);
            $this->line->answer($request, SipMessage::response($request, 487, null, [], '', 'pbx'), $from, $port);

            return;
        }
        if (null !== $final && $final->status >= 300) {
            $this->line->tell(SipMessage::acknowledge($forwarded, $final), $binding['host'], $binding['port']);
        }
        if (null === $final) {
            Background::run(
                'SIP CANCEL',
                fn () => $this->line->ask(SipMessage::cancel($forwarded), $binding['host'], $binding['port'], 4.0),
            );
            $directory->hasVoicemail($number)
                ? $this->voicemail->invited($this->line, $request, $from, $port)
                : $this->line->answer($request, SipMessage::response($request, 408, null, [], '', 'pbx'), $from, $port);

            return;
        }
        $this->line->answer($request, $final->withoutFirst('Via'), $from, $port);
    }

    private function cancel(SipMessage $request, Ipv4 $from, int $port): void
    {
        $leg = $this->ringing[$request->branch()] ?? null;
        $this->line->answer($request, SipMessage::response($request, null === $leg ? 481 : 200), $from, $port);
        if (null !== $leg) {
            $this->cancelled[$request->branch()] = true;
            $this->line->ask(SipMessage::cancel($leg['forwarded']), $leg['host'], $leg['port'], 4.0);
        }
    }

    /** Requests within a call pass through to where they are addressed, as a loose router hands them on (§16.12). */
    private function within(SipMessage $request, Ipv4 $from, int $port): void
    {
        $own = $request->header('Route');
        if (null !== $own) {
            $request = $request->withoutFirst('Route');
        }
        $target = Address::fromString('<'.$request->uri.'>');
        $host = Ipv4::tryFromString($target->host());
        if (null === $host) {
            'ACK' === $request->method || $this->line->answer($request, SipMessage::response($request, 404), $from, $port);

            return;
        }
        $onward = $this->onward($request, 'z9hG4bK'.bin2hex(random_bytes(8)));
        if ('ACK' === $request->method) {
            $this->line->tell($onward, $host, $target->port());

            return;
        }
        $response = $this->line->ask($onward, $host, $target->port(), 8.0);
        $this->line->answer(
            $request,
            null === $response ? SipMessage::response($request, 408) : $response->withoutFirst('Via'),
            $from,
            $port,
        );
    }

    private function onward(SipMessage $request, string $branch): SipMessage
    {
        $left = (int) ($request->header('Max-Forwards') ?? 70) - 1;

        return $request->with('Max-Forwards', (string) max(0, $left))->withFirst(
            'Via',
            \sprintf('SIP/2.0/UDP %s:%d;branch=%s', $this->line->socket->address(), $this->line->socket->port(), $branch),
        );
    }

    private function isAuthenticated(SipMessage $request, Ipv4 $from, int $port, int $status): bool
    {
        [$ask, $answer] = 401 === $status ? ['WWW-Authenticate', 'Authorization'] : ['Proxy-Authenticate', 'Proxy-Authorization'];
        $claimed = 401 === $status ? $request->to()->user() : $request->from()->user();
        foreach ($request->headers($answer) as $text) {
            $digest = Digest::tryFromString($text);
            if (null === $digest || !isset($this->nonces[$digest->field('nonce')])) {
                continue;
            }
            $secret = ($this->directory)()->secretOf($claimed);
            if (null !== $secret && $digest->field('username') === $claimed && $digest->proves($secret, $request->method)) {
                return true;
            }
            $this->line->answer($request, SipMessage::response($request, 403, null, [], '', 'pbx'), $from, $port);

            return false;
        }
        $now = microtime(true);
        $this->nonces = array_filter($this->nonces, static fn (float $given): bool => $now - $given < 120);
        $nonce = bin2hex(random_bytes(12));
        $this->nonces[$nonce] = $now;
        // The stronger one first (RFC 8760 §2.4).
        $this->line->answer($request, SipMessage::response($request, $status, null, [
            [$ask, (string) Digest::challenge(self::REALM, $nonce, 'SHA-256')],
            [$ask, (string) Digest::challenge(self::REALM, $nonce, 'MD5')],
        ], '', 'pbx'), $from, $port);

        return false;
    }

    /** @return array<string, array{until: float, port: int, host: Ipv4}> */
    private function bound(string $user): array
    {
        $now = microtime(true);

        return $this->bindings[$user] = array_filter(
            $this->bindings[$user] ?? [],
            static fn (array $binding): bool => $binding['until'] > $now,
        );
    }
}
