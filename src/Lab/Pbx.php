<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\Future;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Voice\Registration;
use Vorhut\Core\Wire\Sip\Digest;
use Vorhut\Core\Wire\Sip\SipAddress;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Lab\Switchboard\Switchboard;
use Vorhut\Socket\Background;
use Vorhut\Socket\SipLine;

use function Amp\async;

/**
 * An on-site PBX: registrar (RFC 3261 §10) with digest (RFC 8760), a proxy that stays in the path (§16) and rings the registered binding,
 * and a voicemail that takes unanswered calls.
 */
final class Pbx implements Behaviour
{
    private const REALM = 'pbx.lab';
    private const EXPIRES = 60;
    private const ALLOWED = ['REGISTER', 'INVITE', 'ACK', 'BYE', 'CANCEL', 'OPTIONS', 'UPDATE', 'REFER', 'NOTIFY'];
    private const STANDING = 4000;
    private const NONCE_SECONDS = 120;

    private SipLine $line;
    private Callee $voicemail;
    private Switchboard $switchboard;
    /** @var array<string, array<string, array{until: float, port: int, host: Ipv4}>> user → contact → binding */
    private array $bindings = [];
    /** @var array<string, float> nonce → when it was given */
    private array $nonces = [];
    /** @var array<string, list<array{host: Ipv4, port: int, forwarded: SipMessage}>> caller's branch → the legs that ring */
    private array $ringing = [];
    /** @var array<string, true> */
    private array $cancelled = [];
    /** @var array<string, float> Call-ID of calls that stand through this PBX → since when; the oldest first */
    private array $standing = [];

    /**
     * @param \Closure(): DirectoryServer $directory the entries at this PBX, as they are now
     * @param \Closure(): Plan      $plan      by whose routes, groups and menus it switches
     * @param \Closure(): string    $now       wall time of the site
     */
    public function __construct(
        private readonly SimulatedNetwork $network,
        private readonly StandIn $standIn,
        Ipv4 $address,
        private readonly \Closure $directory,
        \Closure $plan,
        \Closure $now,
    ) {
        $device = $standIn->state->device;
        $this->voicemail = new Callee($network, $device, $address, 'voicemail', $standIn->kind->name.' voicemail', 0.1, 880, 20);
        $at = $standIn->serviceNamed('sip')->port->number ?? Registration::SIP_PORT;
        $this->line = new SipLine(
            new SipDoor(
                new GatedDatagrams($this->network, $device, $address, $at),
                $at,
                str_contains(strtolower($standIn->state->get('transport')), 'tls') ? $standIn->certificate() : null,
            ),
            $this->take(...),
            self::ALLOWED,
        );
        $this->switchboard = new Switchboard(
            $network,
            $standIn,
            $address,
            $this->line,
            $plan,
            $this->placesOf(...),
            $now,
            $directory()->voicemailAfter,
        );
    }

    public function end(): void
    {
        $this->voicemail->endAll();
        $this->switchboard->end();
        $this->line->close();
    }

    private function take(SipMessage $request, Ipv4 $from, int $port): void
    {
        if ($this->switchboard->take($request, $from, $port)) {
            return;
        }
        match (true) {
            'REGISTER' === $request->method => $this->register($request, $from, $port),
            $this->voicemail->isInCall($request->callId()) => $this->voicemail->take($this->line, $request, $from, $port),
            'CANCEL' === $request->method => $this->cancel($request, $from, $port),
            null !== $request->to()->parameter('tag') => $this->within($request, $from, $port),
            'INVITE' === $request->method => $this->invite($request, $from, $port),
            'OPTIONS' === $request->method => $this->line->answer(
                $request,
                SipMessage::response($request, 200, null, [
                    ['Allow', implode(', ', self::ALLOWED)],
                    ['Server', $this->standIn->kind->name],
                ]),
                $from,
                $port,
            ),
            'ACK' === $request->method => null,
            // Of no call that stands here.
            default => $this->line->answer($request, SipMessage::response($request, 481, null, [], '', 'pbx'), $from, $port),
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
                if (0 === $default) {
                    $this->bindings[$user] = [];
                }
                continue;
            }
            $contact = SipAddress::fromString($text);
            $expires = min((int) ($contact->parameter('expires') ?? $default), 3600);
            if ($expires <= 0) {
                unset($this->bindings[$user][$contact->uri]);
            } else {
                // Where it came from, not what it says of itself: rport (RFC 3581) in spirit.
                $this->bindings[$user][$contact->uri] = ['until' => $now + $expires, 'host' => $from, 'port' => $port];
            }
        }
        $contacts = [];
        foreach ($this->bindings($user) as $uri => $binding) {
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
        $trunk = $this->switchboard->trunkFrom($from);
        if (null !== $trunk) {
            // The far end of a trunk is known by its address; a password of ours it has none.
            $this->switchboard->arrive($request, $from, $port, $trunk);

            return;
        }
        if (!$this->isAuthenticated($request, $from, $port, 407)) {
            return;
        }
        $number = $request->requestedUser();
        $directory = ($this->directory)();
        if (!$this->mayGoOn($request, $from, $port)) {
            return;
        }
        if ($this->switchboard->call($request, $from, $port, $directory->numberOf($request->from()->user()))) {
            return;
        }
        $user = $directory->userOf($number);
        if (!$directory->knows($number)) {
            $this->line->answer($request, SipMessage::response($request, 404, null, [], '', 'pbx'), $from, $port);

            return;
        }
        $caller = $request->from()->user();
        $bindings = null === $user
            ? []
            : array_filter(
                $this->bindings($user),
                static fn (array $binding): bool => $user !== $caller || !$binding['host']->equals($from),
            );
        $this->line->answer($request, SipMessage::response($request, 100), $from, $port);
        $final = [] === $bindings ? null : $this->fork($request, $bindings, $directory->voicemailAfter, $from, $port);
        if (isset($this->cancelled[$request->branch()])) {
            unset($this->cancelled[$request->branch()]);
            $this->line->answer($request, SipMessage::response($request, 487, null, [], '', 'pbx'), $from, $port);

            return;
        }
        if (null !== $final) {
            if ($final->status < 300) {
                $this->stands($request->callId());
            }
            $this->line->answer($request, $final->withoutFirst('Via'), $from, $port);
        } elseif ($directory->hasVoicemail($number)) {
            $this->voicemail->onInvite($this->line, $request, $from, $port);
        } else {
            $status = [] === $bindings ? 480 : 408;
            $this->line->answer($request, SipMessage::response($request, $status, null, [], '', 'pbx'), $from, $port);
        }
    }

    /**
     * Rings all places where a user stands at once; the first that answers has the call, the others stop ringing (§16.7).
     *
     * @param non-empty-array<string, array{until: float, port: int, host: Ipv4}> $bindings
     *
     * @return SipMessage|null the answer to return; null after a time-out
     */
    private function fork(SipMessage $request, array $bindings, float $seconds, Ipv4 $from, int $port): ?SipMessage
    {
        $legs = [];
        foreach ($bindings as $contact => $binding) {
            $legs[] = [
                'host' => $binding['host'],
                'port' => $binding['port'],
                'forwarded' => $this
                    ->onward($request->withUri((string) $contact), 'z9hG4bK'.bin2hex(random_bytes(8)))
                    ->withFirst('Record-Route', \sprintf('<sip:%s:%d;lr>', $this->line->socket->address(), $this->line->socket->port())),
            ];
        }
        $this->ringing[$request->branch()] = $legs;
        /** @var array<int, Future<SipMessage|null>> $answers */
        $answers = [];
        foreach ($legs as $i => $leg) {
            $answers[$i] = async(fn (): ?SipMessage => $this->line->ask(
                $leg['forwarded'],
                $leg['host'],
                $leg['port'],
                $seconds,
                function (SipMessage $ringing) use ($from, $port): void {
                    if ($ringing->status > 100) {
                        $this->line->tell($ringing->withoutFirst('Via'), $from, $port);
                    }
                },
            ));
        }
        $best = null;
        foreach (Future::iterate($answers) as $i => $answer) {
            /** @var SipMessage|null $final */
            $final = $answer->await();
            unset($answers[$i]);
            // The best answer: a call, or the lowest refusal code; a device that declines does so for all of them (§16.7 step 5).
            if (null !== $final && (null === $best || $final->status < $best->status || $final->status >= 600)) {
                $best = $final;
            }
            if (null !== $final && ($final->status < 300 || $final->status >= 600)) {
                break;
            }
        }
        unset($this->ringing[$request->branch()]);
        foreach ($legs as $i => $leg) {
            if (isset($answers[$i]) || null === $best) {
                if (isset($answers[$i])) {
                    $answers[$i]->ignore();
                }
                $this->takeBack($leg);
            }
        }

        return $best;
    }

    private function cancel(SipMessage $request, Ipv4 $from, int $port): void
    {
        $legs = $this->ringing[$request->branch()] ?? [];
        $this->line->answer($request, SipMessage::response($request, [] === $legs ? 481 : 200), $from, $port);
        if ([] === $legs) {
            return;
        }
        $this->cancelled[$request->branch()] = true;
        foreach ($legs as $leg) {
            $this->takeBack($leg);
        }
    }

    /** @param array{host: Ipv4, port: int, forwarded: SipMessage} $leg */
    private function takeBack(array $leg): void
    {
        $cancel = SipMessage::cancel($leg['forwarded']);
        Background::run('SIP CANCEL', fn () => $this->line->ask($cancel, $leg['host'], $leg['port'], 4.0));
    }

    /** A request that has no hop left is not handed on (§16.3). */
    private function mayGoOn(SipMessage $request, Ipv4 $from, int $port): bool
    {
        if (0 !== (int) ($request->header('Max-Forwards') ?? 70)) {
            return true;
        }
        if ('ACK' !== $request->method) {
            $this->line->answer($request, SipMessage::response($request, 483, null, [], '', 'pbx'), $from, $port);
        }

        return false;
    }

    private function stands(string $call): void
    {
        unset($this->standing[$call]);
        $this->standing[$call] = microtime(true);
        if (\count($this->standing) > self::STANDING) {
            array_shift($this->standing);
        }
    }

    /** Requests within a call pass through to where they are addressed, as a loose router hands them on (§16.12). */
    private function within(SipMessage $request, Ipv4 $from, int $port): void
    {
        if (!isset($this->standing[$request->callId()])) {
            // A call that is unknown here is not looked for elsewhere (§12.2.2).
            if ('ACK' !== $request->method) {
                $this->line->answer(
                    $request,
                    SipMessage::response($request, 481, null, [], '', 'pbx'),
                    $from,
                    $port,
                );
            }

            return;
        }
        if (!$this->mayGoOn($request, $from, $port)) {
            return;
        }
        $own = $request->header('Route');
        if (null !== $own) {
            $request = $request->withoutFirst('Route');
        }
        $target = SipAddress::fromString('<'.$request->uri.'>');
        $host = Ipv4::tryFromString($target->host());
        if (null === $host) {
            if ('ACK' !== $request->method) {
                $this->line->answer($request, SipMessage::response($request, 404), $from, $port);
            }

            return;
        }
        $onward = $this->onward($request, 'z9hG4bK'.bin2hex(random_bytes(8)));
        if ('ACK' === $request->method) {
            $this->line->tell($onward, $host, $target->port());

            return;
        }
        $response = $this->line->ask($onward, $host, $target->port(), 8.0);
        if ('BYE' === $request->method) {
            unset($this->standing[$request->callId()]);
        }
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
        $stale = false;
        foreach ($request->headers($answer) as $text) {
            $digest = Digest::tryFromString($text);
            if (null === $digest) {
                continue;
            }
            $secret = ($this->directory)()->secretOf($claimed);
            $right = null !== $secret && $digest->field('username') === $claimed && $digest->proves($secret, $request->method);
            $given = $this->nonces[$digest->field('nonce')] ?? null;
            if (null === $given || microtime(true) - $given > self::NONCE_SECONDS) {
                // Right but late: told so, a phone asks again without troubling anybody (RFC 7616 §3.3).
                $stale = $stale || $right;
                continue;
            }
            if (!$digest->isFor($request->uri)) {
                $this->line->answer($request, SipMessage::response($request, 400, null, [], '', 'pbx'), $from, $port);

                return false;
            }
            if ($right) {
                return true;
            }
            $this->line->answer($request, SipMessage::response($request, 403, null, [], '', 'pbx'), $from, $port);

            return false;
        }
        $nonce = $this->nonce();
        // The stronger one first (RFC 8760 §2.4).
        $this->line->answer($request, SipMessage::response($request, $status, null, [
            [$ask, (string) Digest::challenge(self::REALM, $nonce, 'SHA-256', $stale)],
            [$ask, (string) Digest::challenge(self::REALM, $nonce, 'MD5', $stale)],
        ], '', 'pbx'), $from, $port);

        return false;
    }

    private function nonce(): string
    {
        $now = microtime(true);
        // In the order of time: only the beginning is looked at.
        while (false !== ($given = reset($this->nonces)) && $now - $given > self::NONCE_SECONDS) {
            unset($this->nonces[(string) key($this->nonces)]);
        }
        $nonce = bin2hex(random_bytes(12));
        $this->nonces[$nonce] = $now;

        return $nonce;
    }

    /** @return list<array{string, Ipv4, int}> where a number is registered: contact, host, port */
    private function placesOf(string $number): array
    {
        $user = ($this->directory)()->userOf($number);
        $places = [];
        if (null !== $user) {
            foreach ($this->bindings($user) as $contact => $binding) {
                $places[] = [(string) $contact, $binding['host'], $binding['port']];
            }
        }

        return $places;
    }

    /** @return array<string, array{until: float, port: int, host: Ipv4}> */
    private function bindings(string $user): array
    {
        $now = microtime(true);

        return $this->bindings[$user] = array_filter(
            $this->bindings[$user] ?? [],
            static fn (array $binding): bool => $binding['until'] > $now,
        );
    }
}
