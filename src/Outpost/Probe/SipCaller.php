<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\Future;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Proof\CallTrial;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Registration;
use Vorhut\Core\Wire\Fax\Indicator;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sanitizer;
use Vorhut\Core\Wire\Sdp\FaxSession;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\Digest;
use Vorhut\Core\Wire\Sip\SipAddress;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Core\Wire\Sip\SipStatusText;
use Vorhut\Socket\AudioLine;
use Vorhut\Socket\FaxLine;
use Vorhut\Socket\SipLine;

use function Amp\async;
use function Amp\delay;

/** The outpost as a SIP user agent: OPTIONS, REGISTER with a contact of its own that it takes back, calls with sound both ways. */
final class SipCaller
{
    /** A call is listened to for at least so long, so that loss and jitter mean something, … */
    private const SOUND_SECONDS = 1.2;
    /** … and for at most so long where the sound of one way is still missing. */
    private const SOUND_PATIENCE = 6.0;
    /** Packets of 20 ms that must have come through each way. */
    private const SOUND_LEAST = 20;
    /** Seconds to listen to a menu before a key is pressed, and seconds until another destination must answer. */
    private const PROMPT_SECONDS = 0.4;
    private const KEY_PATIENCE = 8.0;
    /** Datagrams of a fax that must come, and how long that may take. */
    private const FAX_LEAST = 5;
    private const FAX_PATIENCE = 3.0;
    /** Ports below are those of system services (RFC 6335 §6), never of a call. */
    private const LEAST_PORT = 1024;
    /** How long a far end may take to confirm that it stopped ringing. */
    private const CANCEL_SECONDS = 4.0;

    private SipLine $line;
    /** @var list<string> */
    private array $log = [];
    private int $sequence = 0;
    /** The last one that went out. */
    private ?SipMessage $invite = null;
    /** Who says that he speaks (RFC 3325), the last that was said. */
    private ?string $speaker = null;
    /** The other end hung up. */
    private bool $isLeft = false;
    /** Where sound of this call is taken, as it was offered; null before there is a call. */
    private ?Session $said = null;
    private ?AudioLine $audio = null;
    /** Where the call went on as a fax (ITU-T T.38). */
    private ?FaxLine $fax = null;
    private bool $waitsForFax = false;
    private readonly string $callId;
    private readonly string $tag;

    /** @param int $at the UDP port at which the other side hears SIP */
    public function __construct(
        private readonly NetworkAccess $access,
        private readonly VantagePoint $place,
        private readonly string $user,
        private readonly string $secret,
        private readonly int $at = Registration::SIP_PORT,
    ) {
        $this->callId = bin2hex(random_bytes(10)).'@outpost';
        $this->tag = bin2hex(random_bytes(4));
        $this->line = new SipLine($access->datagrams($place->address), function (SipMessage $request, Ipv4 $from, int $port): void {
            if ('UPDATE' === $request->method && $request->callId() === $this->callId) {
                // Led on within the call: another one speaks now (RFC 5876 §3).
                $this->speaker = self::assertedIdentity($request) ?? $this->speaker;
            }
            $this->isLeft = $this->isLeft || ('BYE' === $request->method && $request->callId() === $this->callId);
            if ('ACK' !== $request->method) {
                $this->line->answer($request, match ($request->method) {
                    'BYE', 'OPTIONS', 'UPDATE' => SipMessage::response($request, 200),
                    'INVITE' => $request->callId() === $this->callId
                        ? $this->onReinvite($request)
                        : SipMessage::response($request, 480),
                    default => SipMessage::response($request, 405, null, [['Allow', 'INVITE, ACK, BYE, OPTIONS, UPDATE']]),
                }, $from, $port);
            }
        });
    }

    public function close(): void
    {
        $this->fax?->stop();
        $this->line->close();
    }

    /** Does anything speak SIP there? Any final answer is a yes (RFC 3261 §11). */
    public function alive(Ipv4 $host): Evidence
    {
        $there = $this->access->seenAs($host);
        $answer = $this->request($there, 'OPTIONS', 'sip:'.$there, 'sip:'.$there, [['Accept', 'application/sdp']], '', 4.0);

        return null === $answer
            ? new Evidence(Outcome::Silent, SipStatusText::words(0), $this->log)
            : new Evidence(Outcome::Answers, new Message('SIP {status}, "{name}"', [
                'status' => $answer->status,
                'name' => Sanitizer::text($answer->header('Server') ?? $answer->header('User-Agent') ?? $answer->reason),
            ]), $this->log);
    }

    /** Tests whether the account works, without touching the phone's binding. */
    public function register(Ipv4 $registrar): Evidence
    {
        $host = $this->access->seenAs($registrar);
        $uri = 'sip:'.$host;
        $contact = \sprintf('<sip:%s@%s:%d>', $this->user, $this->line->socket->address(), $this->line->socket->port());
        $answer = $this->request($host, 'REGISTER', $uri, $uri, [['Contact', $contact], ['Expires', '30']], '', 6.0);
        if (200 !== $answer?->status) {
            $outcome = null === $answer ? Outcome::Silent : Outcome::Rejected;

            return new Evidence($outcome, SipStatusText::words($answer->status ?? 0), $this->log);
        }
        $this->request($host, 'REGISTER', $uri, $uri, [['Contact', $contact], ['Expires', '0']], '', 4.0);

        return new Evidence(
            Outcome::Registered,
            new Message('{user} was accepted and then unregistered', ['user' => $this->user]),
            $this->log,
        );
    }

    /**
     * @param string    $number  to dial at `$host`
     * @param list<Ipv4> $wanted addresses of the devices that may answer; empty for any
     * @param Ipv4|null $pbx     the PBX, whose voicemail does not count as a pass
     */
    public function call(Ipv4 $host, string $number, array $wanted, ?Ipv4 $pbx, float $seconds): Evidence
    {
        $to = $this->access->seenAs($host);
        $audio = MediaLine::open($this->access, $this->place);
        try {
            return $this->talk($to, $number, $wanted, $pbx, $seconds, $audio);
        } finally {
            $audio->stop();
        }
    }

    /**
     * A call in the lab that a person makes on site: it passes if one of the destinations in the plan answers. Its hour is sent as the Date
     * (RFC 3261 §20.17), which the lab's PBX uses.
     *
     * @param bool $isFax whether it is planned that the call goes on as a fax over T.38
     */
    public function attempt(Ipv4 $host, CallTrial $trial, float $seconds, bool $isFax = false): Evidence
    {
        $this->waitsForFax = $isFax;
        $to = $this->access->seenAs($host);
        $audio = MediaLine::open($this->access, $this->place);
        $date = '' === $trial->at ? null : gmdate('D, d M Y H:i:s \G\M\T', (int) strtotime($trial->at.' UTC'));
        try {
            $found = $this->talk($to, $trial->digits, [], null, $seconds, $audio, $date, $trial->keys);
        } finally {
            $audio->stop();
        }
        if (!\in_array($found->outcome, [Outcome::DeviceAnswers, Outcome::OneWaySound], true)) {
            return $found;
        }

        return $this->judgeTrial($found, $trial);
    }

    private function judgeTrial(Evidence $found, CallTrial $trial): Evidence
    {
        $at = ['answer' => $found->detail, 'speaker' => $this->speaker ?? '?', 'n' => $this->fax?->receivedCount() ?? 0];
        [$outcome, $text] = match (true) {
            $this->isLeft => [Outcome::NotAnswered, new Message('{speaker} spoke, but no destination behind it answered', $at)],
            !\in_array($this->speaker, $trial->answers, true) => [Outcome::Denied, new Message('{speaker} speaks, and was not meant', $at)],
            null !== $this->fax => $this->fax->receivedCount() >= self::FAX_LEAST && Indicator::Called === $this->fax->says()
                ? [Outcome::Affirmed, new Message('{speaker} takes the fax over T.38', $at)]
                : [Outcome::Denied, new Message('{speaker} changed to T.38, and [n datagram|datagrams] arrived', $at)],
            $this->waitsForFax => [Outcome::Denied, new Message('{speaker} stays with sound, and T.38 was planned', $at)],
            Outcome::DeviceAnswers === $found->outcome => [Outcome::Affirmed, new Message('{speaker} speaks, sound both ways', $at)],
            default => [Outcome::Denied, new Message('{speaker} speaks; {answer}', $at)],
        };

        return new Evidence($outcome, $text, $found->lines);
    }

    /** What the other end changes within the call: to a fax, or its sound; only to where something may be sent. */
    private function onReinvite(SipMessage $request): SipMessage
    {
        $here = $this->line->socket;
        $headers = [
            ['Contact', \sprintf('<sip:%s@%s:%d>', $this->user, $here->address(), $here->port())],
            ['Content-Type', 'application/sdp'],
        ];
        $fax = FaxSession::tryFromString($request->body);
        if (null !== $fax && null !== $this->said && $this->mayFollow($fax->address, $fax->port)) {
            $this->log[] = '< INVITE (T.38)  > 200';
            $this->fax ??= new FaxLine($this->access->datagrams($this->place->address), Indicator::Calling);
            $this->fax->start($fax->address, $fax->port);

            $answer = new FaxSession($here->address(), $this->fax->port(), $fax->rate);

            return SipMessage::response($request, 200, null, $headers, (string) $answer);
        }
        try {
            $offer = '' === $request->body ? null : Session::fromString($request->body);
        } catch (ParseError) {
            return SipMessage::response($request, 488);
        }
        if (null === $this->said || null === $this->audio) {
            return SipMessage::response($request, 491);
        }
        if (null !== $offer) {
            if (null === $this->said->common($offer) || (!$offer->isOnHold() && !$this->mayFollow($offer->address, $offer->port))) {
                return SipMessage::response($request, 488);
            }
            $this->said = $this->said->answering($offer);
            $this->audio->turn($offer);
            $this->log[] = \sprintf('< INVITE (sound, %s)  > 200', $offer->direction->value);
        }

        return SipMessage::response($request, 200, null, $headers, (string) $this->said);
    }

    private static function assertedIdentity(SipMessage $message): ?string
    {
        $text = $message->header('P-Asserted-Identity');
        try {
            return null === $text ? null : Sanitizer::text(SipAddress::fromString($text)->user());
        } catch (ParseError) {
            return null;
        }
    }

    /** @param list<Ipv4> $wanted */
    private function talk(
        Ipv4 $host,
        string $number,
        array $wanted,
        ?Ipv4 $pbx,
        float $seconds,
        AudioLine $audio,
        ?string $date = null,
        string $keys = '',
    ): Evidence {
        $rang = false;
        $answer = $this->sendInvite($host, $number, $audio, $seconds, $date, $rang);
        if (null === $answer || $answer->status >= 300) {
            return new Evidence(Outcome::NotAnswered, self::whyNotAnswered($answer, $rang), $this->log);
        }
        $far = self::soundOf($answer);
        $this->speaker = self::assertedIdentity($answer);
        $dialog = new CallDialog($answer, \sprintf('<sip:%s@%s>;tag=%s', $this->user, $host, $this->tag));
        $hop = $dialog->nextHop($host, $this->at);
        if (!$this->mayFollow(...$hop)) {
            $this->log[] = \sprintf('its answer wants what follows sent to %s:%d: not followed', ...$hop);
            $hop = [$host, $this->at];
        }
        if (null !== $this->invite) {
            $this->line->confirm($this->invite, $dialog->request('ACK', $this->line->via()), ...$hop);
        }
        $this->log[] = '> ACK';
        if (null !== $far && !$this->mayFollow($far->address, $far->port)) {
            $this->hangUp($dialog, $hop);

            return new Evidence(Outcome::NotAsked, new Message(
                'it answered, and wants the sound sent to {address}, port {port}, which is not of this job: nothing was sent there',
                ['address' => (string) $far->address, 'port' => $far->port],
            ), $this->log);
        }
        if (null !== $far) {
            $this->converse($far, $audio, $keys);
        }
        $this->hangUp($dialog, $hop);
        $this->log = [...$this->log, ...SoundReport::lines($audio, $this->fax)];

        return $this->judge($answer, $dialog->remote->host(), $wanted, $pbx, $audio);
    }

    /** @param bool $rang set where it rang before the answer */
    private function sendInvite(Ipv4 $host, string $number, AudioLine $audio, float $seconds, ?string $date, bool &$rang): ?SipMessage
    {
        $here = $this->line->socket;
        $uri = \sprintf('sip:%s@%s', $number, $host);
        $this->audio = $audio;
        $this->said = (new Session($here->address(), $audio->port(), [Session::PCMU, Session::PCMA]))->withKeys();

        return $this->request(
            $host,
            'INVITE',
            $uri,
            $uri,
            [
                ['Contact', \sprintf('<sip:%s@%s:%d>', $this->user, $here->address(), $here->port())],
                ['Allow', 'INVITE, ACK, BYE, CANCEL, OPTIONS, UPDATE'],
                ...(null === $date ? [] : [['Date', $date]]),
                ['Content-Type', 'application/sdp'],
            ],
            (string) $this->said,
            $seconds,
            static function (SipMessage $ringing) use (&$rang): void {
                $rang = $rang || 180 === $ringing->status;
            },
        );
    }

    private static function whyNotAnswered(?SipMessage $answer, bool $rang): Message
    {
        return match (true) {
            487 === $answer?->status => $rang
                ? new Message('it rang, but was not answered')
                : new Message('it was taken, and nothing rang'),
            $rang => new Message('it rang; {answer}', ['answer' => SipStatusText::words($answer->status ?? 0)]),
            default => SipStatusText::words($answer->status ?? 0),
        };
    }

    private static function soundOf(SipMessage $answer): ?Session
    {
        try {
            return Session::fromString($answer->body);
        } catch (ParseError) {
            return null;
        }
    }

    /** Sound both ways, keys, and a fax where the other end changes to one. */
    private function converse(Session $far, AudioLine $audio, string $keys): void
    {
        $audio->start($far->address, $far->port);
        $this->press($audio, $keys);
        $begun = hrtime(true);
        do {
            delay(5 * AudioLine::PACKET_SECONDS);
            $seconds = (hrtime(true) - $begun) / 1e9;
        } while (!$this->isLeft && $seconds < ($audio->isTwoWay(self::SOUND_LEAST) ? self::SOUND_SECONDS : self::SOUND_PATIENCE));
        $this->receiveFax();
    }

    /** @param array{Ipv4, int} $hop */
    private function hangUp(CallDialog $dialog, array $hop): void
    {
        $bye = $this->line->ask($dialog->request('BYE', $this->line->via(), 1), $hop[0], $hop[1], 4.0);
        $this->log[] = '> BYE  < '.($bye->status ?? 'nothing');
    }

    /**
     * @param string     $speaker the host that answered
     * @param list<Ipv4> $wanted
     */
    private function judge(SipMessage $answer, string $speaker, array $wanted, ?Ipv4 $pbx, AudioLine $audio): Evidence
    {
        $name = $answer->header('User-Agent');
        $at = [
            'name' => null === $name ? new Message('a device') : Sanitizer::text($name),
            'address' => Sanitizer::text($speaker),
        ];
        if (null !== $pbx && $speaker === (string) $this->access->seenAs($pbx)) {
            return new Evidence(Outcome::Voicemail, new Message('voicemail of the PBX answered: no pass'), $this->log);
        }
        $meant = array_map(fn (Ipv4 $one): string => (string) $this->access->seenAs($one), $wanted);
        if ([] !== $meant && !\in_array($speaker, $meant, true)) {
            return new Evidence(Outcome::OtherAnswers, new Message('answered by {name} at {address}', $at), $this->log);
        }
        if ($audio->isTwoWay(self::SOUND_LEAST)) {
            return new Evidence(Outcome::DeviceAnswers, new Message('answered by {name} at {address}, sound both ways', $at), $this->log);
        }

        return new Evidence(Outcome::OneWaySound, $audio->heard->receivedCount() < self::SOUND_LEAST
            ? new Message('answered by {name} at {address}, nothing heard here', $at)
            : new Message('answered by {name} at {address}, nothing heard there', $at), $this->log);
    }

    /** A call that was changed to a fax is listened to until something came, or nothing does. */
    private function receiveFax(): void
    {
        for (
            $until = microtime(true) + self::FAX_PATIENCE;
            (null !== $this->fax || $this->waitsForFax) && !$this->isLeft && microtime(true) < $until;
        ) {
            if (null !== $this->fax && $this->fax->receivedCount() >= self::FAX_LEAST) {
                return;
            }
            delay(FaxLine::PACKET_SECONDS);
        }
    }

    /** Presses one key after the other, each when another destination has answered since the one before, or none in time. */
    private function press(AudioLine $audio, string $keys): void
    {
        if ('' !== $keys) {
            foreach (str_split($keys) as $key) {
                $before = $this->speaker;
                delay(self::PROMPT_SECONDS);
                $audio->press($key);
                $until = microtime(true) + self::KEY_PATIENCE;
                while ($this->speaker === $before && !$this->isLeft && microtime(true) < $until) {
                    delay(0.1);
                }
                $this->log[] = \sprintf('key %s: %s speaks', $key, $this->speaker ?? '?');
            }
        }
    }

    /**
     * A request, repeated with the password if required.
     *
     * @param list<array{string, string}>    $headers
     * @param (callable(SipMessage): void)|null $provisional
     */
    private function request(
        Ipv4 $host,
        string $method,
        string $uri,
        string $to,
        array $headers,
        string $body,
        float $seconds,
        ?callable $provisional = null,
    ): ?SipMessage {
        $authorization = [];
        while (true) {
            ++$this->sequence;
            $request = SipMessage::request($method, $uri, [
                ['Via', $this->line->via()],
                ['Max-Forwards', '70'],
                ['From', \sprintf('<sip:%s@%s>;tag=%s', $this->user, $host, $this->tag)],
                ['To', 'REGISTER' === $method ? \sprintf('<sip:%s@%s>', $this->user, $host) : '<'.$to.'>'],
                ['Call-ID', $this->callId],
                ['CSeq', $this->sequence.' '.$method],
                ['User-Agent', 'Vorhut outpost'],
                ...$headers,
                ...$authorization,
            ], $body);
            $this->invite = 'INVITE' === $method ? $request : $this->invite;
            $provisioned = false;
            $answer = $this->line->ask(
                $request,
                $host,
                $this->at,
                $seconds,
                static function (SipMessage $ringing) use (&$provisioned, $provisional): void {
                    $provisioned = true;
                    if (null !== $provisional) {
                        $provisional($ringing);
                    }
                },
            );
            $this->log[] = '> '
                .$method
                .' '
                .$uri
                .('' === ($authorization[0][0] ?? '') ? '' : ' (with password)')
                .'  < '
                .(match (true) {
                    null !== $answer => $answer->status.' '.$answer->reason,
                    $provisioned => 'no final answer',
                    default => 'nothing',
                });
            if (null === $answer && 'INVITE' === $method && $provisioned) {
                $answer = $this->giveUp($request, $host);
            }
            if (null === $answer || !\in_array($answer->status, [401, 407], true) || [] !== $authorization) {
                return $answer;
            }
            $authorization = $this->authorization($answer, $method, $uri);
            if ([] === $authorization) {
                return $answer;
            }
        }
    }

    /** @return list<array{string, string}> the answer to the first challenge that is understood (RFC 8760 §2.4); none where none is */
    private function authorization(SipMessage $challenged, string $method, string $uri): array
    {
        [$challenge, $response] = 401 === $challenged->status
            ? ['WWW-Authenticate', 'Authorization']
            : ['Proxy-Authenticate', 'Proxy-Authorization'];
        foreach ($challenged->headers($challenge) as $offer) {
            $digest = Digest::tryFromString($offer);
            if (null !== $digest && $digest->isKnown()) {
                return [[$response, (string) $digest->answer($this->user, $this->secret, $method, $uri, bin2hex(random_bytes(8)))]];
            }
        }

        return [];
    }

    /**
     * Takes back an INVITE that was taken and not answered, so that no phone goes on ringing after the test (RFC 3261 §9.1: not
     * before a provisional answer).
     *
     * @return SipMessage|null its final answer: 487, or 200 if it was picked up in the same moment
     */
    private function giveUp(SipMessage $invite, Ipv4 $host): ?SipMessage
    {
        /** @var Future<SipMessage|null> $final */
        $final = async(fn (): ?SipMessage => $this->line->await($invite, self::CANCEL_SECONDS));
        $cancelled = $this->line->ask(SipMessage::cancel($invite), $host, $this->at, self::CANCEL_SECONDS);
        $this->log[] = '> CANCEL  < '.(null === $cancelled ? 'nothing' : $cancelled->status.' '.$cancelled->reason);

        $answer = $final->await();
        $this->log[] = '< '.(null === $answer ? 'nothing' : $answer->status.' '.$answer->reason);

        return $answer;
    }

    /** Where an answer sends us: only into networks of the job, and to no port at which something else than a call may listen. */
    private function mayFollow(Ipv4 $to, int $port): bool
    {
        return $port >= self::LEAST_PORT && $this->access->mayFollow($this->place, $to);
    }
}
