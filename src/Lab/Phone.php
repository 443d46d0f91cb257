<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\ByteStream\StreamException;
use Amp\CancelledException;
use Amp\Socket\ClientTlsContext;
use Amp\Socket\ConnectContext;
use Amp\Socket\SocketException;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Voice\Registration;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sip\Digest;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\Background;
use Vorhut\Socket\SipLine;

use function Amp\delay;
use function Amp\Socket\connect;

/** A desk phone: starts, fetches its file, registers, rings, answers. */
final class Phone implements Behaviour, CallsOut, Starts
{
    private const ALLOWED = ['INVITE', 'ACK', 'BYE', 'CANCEL', 'OPTIONS', 'UPDATE'];

    /** Short, so that a rehearsal need not wait long for an expired binding. */
    private const EXPIRES = 8;
    /** After a failure it tries again, each time after twice as long, as phones do. */
    private const AGAIN = 3.0;
    private const AGAIN_AT_MOST = 30.0;

    /** Under this name it holds whether it stands at its registrar. */
    public const REGISTRATION = 'registration';

    private SipLine $line;
    private Callee $callee;
    private bool $over = false;
    private bool $ready = false;
    private int $sequence = 0;
    private ?PhoneCall $own = null;

    /**
     * @param string           $url    address of its file, as the provisioning server is reached from here; '' if not set
     * @param string|null      $server the device of the plan that it has to reach for it
     * @param \Closure(): ?SealedFiles $sealed where files go over HTTPS
     */
    public function __construct(
        private readonly SimulatedNetwork $network,
        private readonly StandIn $standIn,
        private readonly Ipv4 $address,
        private readonly string $url,
        private readonly ?string $server,
        private readonly \Closure $sealed,
    ) {
        $state = $standIn->state;
        $this->callee = new Callee(
            $network,
            $state->device,
            $address,
            'phone',
            $standIn->kind->name,
            0.4,
            440,
            1,
            $standIn->rings(...),
            static fn (): bool => '' === $state->get('codecs') || str_contains($state->get('codecs'), 'G.711'),
        );
        $this->line = new SipLine(
            new GatedDatagrams($network, $state->device, $address, 5060),
            function (SipMessage $request, Ipv4 $from, int $port): void {
                $within = 'ACK' === $request->method ? null : $this->own?->take($request);
                if (null !== $within) {
                    $this->line->answer($request, $within, $from, $port);

                    return;
                }
                $picksUp = !$this->standIn->state->isFaulty(InjectedFault::VoicemailAnswers);
                match ($request->method) {
                    'INVITE' => $this->callee->onInvite($this->line, $request, $from, $port, $picksUp),
                    'OPTIONS' => $this->line->answer(
                        $request,
                        SipMessage::response($request, 200, null, [['Allow', implode(', ', self::ALLOWED)]]),
                        $from,
                        $port,
                    ),
                    default => $this->callee->take($this->line, $request, $from, $port),
                };
            },
            self::ALLOWED,
        );
        Background::run($standIn->state->device, $this->live(...));
    }

    /** Asked anew each time: it ends from elsewhere while this one waits. */
    private function isOver(): bool
    {
        return $this->over;
    }

    public function isReady(): bool
    {
        return $this->ready;
    }

    public function dial(string $number): void
    {
        $own = $this->own;
        if (null !== $own) {
            Background::run($this->standIn->state->device, $own->hangUp(...));
        }
        $registrar = Ipv4::tryFromString($this->standIn->state->get('registrar'));
        if ('' === $number || null === $registrar) {
            return;
        }
        $state = $this->standIn->state;
        $this->own = new PhoneCall(
            $this->line,
            MediaPorts::line($this->network, $state->device, $this->address, 440),
            $registrar,
            (int) $state->get('registrarPort') ?: Registration::SIP_PORT,
            $state->get('user'),
            $state->get('secret'),
            $number,
        );
        Background::run($state->device, $this->own->run(...));
    }

    public function call(): array
    {
        return $this->callee->call() ?? $this->own?->stands() ?? ['state' => 'idle', 'with' => '', 'sent' => 0, 'heard' => 0];
    }

    public function end(): void
    {
        $this->over = true;
        $this->own?->hangUp();
        $this->callee->endAll();
        $this->line->close();
    }

    /** File first, registration second; when either fails, again from the start after a while. */
    private function live(): void
    {
        for ($wait = self::AGAIN; !$this->over; $wait = min(2 * $wait, self::AGAIN_AT_MOST)) {
            if ('' !== $this->url && $this->fetch()) {
                // It is ended from elsewhere while this one waits: after that a registration fails by itself.
                while ($this->register()) {
                    $this->standIn->state->put(self::REGISTRATION, 'registered');
                    $this->ready = true;
                    $wait = self::AGAIN;
                    delay(self::EXPIRES / 3);
                }
            }
            if ($this->isOver()) {
                // It was restarted meanwhile: the state is that of the phone that runs now.
                return;
            }
            $this->standIn->state->put(self::REGISTRATION, 'not registered');
            $this->ready = true;
            delay($wait);
        }
    }

    private function fetch(): bool
    {
        $state = $this->standIn->state;
        $sealed = ($this->sealed)();
        if (null !== $this->server && !$this->network->connects($state->device, $this->server, $sealed->port ?? 80)) {
            return false;
        }
        // A phone with no authority, or another one, rejects the server's certificate.
        if (null !== $sealed && $state->get('authority') !== $sealed->authority) {
            return false;
        }
        $file = $this->download($sealed);
        if (null === $file) {
            return false;
        }
        $this->takeFrom($file);

        return true;
    }

    private function download(?SealedFiles $sealed): ?FetchedFile
    {
        $parts = parse_url($this->url);
        $at = $sealed->at ?? ($parts['host'] ?? '').':'.($parts['port'] ?? 80);
        $headers = ['host' => $sealed->host ?? $at, 'user-agent' => $this->standIn->kind->name];
        $user = $this->standIn->state->get('provisioningUser');
        if ('' !== $user) {
            $headers['authorization'] = 'Basic '.base64_encode($user.':old');
        }
        try {
            $context = (new ConnectContext())->withConnectTimeout(5)->withBindTo($this->line->socket->address().':0');
            if (null !== $sealed) {
                $context = $context->withTlsContext((new ClientTlsContext($sealed->host))->withCaFile($sealed->file));
            }
            $socket = connect($at, $context);
            if (null !== $sealed) {
                $socket->setupTls(new TimeoutCancellation(8));
            }
            $socket->write((string) new Request('GET', $parts['path'] ?? '/', $headers));
            $bytes = '';
            while (null !== $more = $socket->read()) {
                $bytes .= $more;
            }
            $response = Response::fromString($bytes);
        } catch (SocketException|StreamException|CancelledException|ParseError) {
            return null;
        }

        return 200 === $response->status ? FetchedFile::tryFromBody($response->body) : null;
    }

    private function takeFrom(FetchedFile $file): void
    {
        $state = $this->standIn->state;
        $values = [
            'hostName' => $file->says('phone', 'host'),
            'timeZone' => $file->says('time', 'zone'),
            'timeServer' => $file->says('time', 'server'),
            'transport' => $file->says('registrar', 'transport'),
            'registrarPort' => $file->says('registrar', 'port'),
            'registrar' => $file->says('registrar', 'address'),
            'user' => $file->says('account', 'user'),
            'secret' => $file->says('account', 'secret'),
            'extension' => $file->says('account', 'extension'),
            'adminPassword' => $file->says('admin', 'password'),
        ];
        // What an older file does not speak of stays as it is.
        $optional = [['sound', 'codecs', 'codecs'], ['keys', 'dial', 'speedKeys'], ['ring', 'output', 'ringOutput']];
        foreach ($optional as [$part, $field, $name]) {
            if ($file->has($part)) {
                $values[$name] = $file->says($part, $field);
            }
        }
        if ($state->isFaulty(InjectedFault::WrongSipPassword)) {
            unset($values['secret']);
        }
        foreach ($values as $name => $value) {
            $state->put($name, $value);
        }
    }

    private function register(): bool
    {
        $state = $this->standIn->state;
        $registrar = Ipv4::tryFromString($state->get('registrar'));
        if (null === $registrar || $this->over) {
            return false;
        }
        $user = $state->get('user');
        $here = $this->line->socket;
        $host = $here->at($registrar);
        $callId = $state->device.'-'.spl_object_id($this).'@lab';
        $authorization = null;
        for ($try = 0; $try < 2; ++$try) {
            ++$this->sequence;
            $headers = [
                ['Via', $this->line->via()],
                ['Max-Forwards', '70'],
                ['From', \sprintf('<sip:%s@%s>;tag=%s', $user, $host, substr(md5($callId), 0, 8))],
                ['To', \sprintf('<sip:%s@%s>', $user, $host)],
                ['Call-ID', $callId],
                ['CSeq', $this->sequence.' REGISTER'],
                ['Contact', \sprintf('<sip:%s@%s:%d>', $user, $here->address(), $here->port())],
                ['Expires', (string) self::EXPIRES],
                ['User-Agent', $this->standIn->kind->name],
            ];
            if (null !== $authorization) {
                $headers[] = ['Authorization', (string) $authorization];
            }
            $at = (int) $state->get('registrarPort') ?: Registration::SIP_PORT;
            $response = $this->line->ask(SipMessage::request('REGISTER', 'sip:'.$host, $headers), $host, $at, 8.0);
            if (null === $response || 200 === $response->status) {
                return null !== $response;
            }
            $authorization = null;
            if (401 === $response->status) {
                foreach ($response->headers('WWW-Authenticate') as $offer) {
                    $challenge = Digest::tryFromString($offer);
                    if (null !== $challenge && $challenge->isKnown()) {
                        $nonce = bin2hex(random_bytes(8));
                        $authorization = $challenge->answer($user, $state->get('secret'), 'REGISTER', 'sip:'.$host, $nonce);
                        break;
                    }
                }
            }
            if (null === $authorization) {
                return false;
            }
        }

        return false;
    }
}
