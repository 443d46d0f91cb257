<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\CancelledException;
use Amp\Future;
use Amp\Socket\ClientTlsContext;
use Amp\Socket\TlsException;
use Amp\TimeoutCancellation;
use Vorhut\Core\Lighting\Patch;
use Vorhut\Core\Media\GroupStream;
use Vorhut\Core\Media\PushTarget;
use Vorhut\Core\Media\Test\StreamTests;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Network\Test\RadiusTests;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Account;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Proof\CallTrial;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\CallBranches;
use Vorhut\Core\Voice\DirectCall;
use Vorhut\Core\Voice\Registration;
use Vorhut\Core\Wire\Mdns\Query;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Outpost\Device\CertificatePin;
use Vorhut\Outpost\Device\DeviceDoor;

use function Amp\async;
use function Amp\delay;
use function Amp\Future\await;

/** Runs one test from its place and brings home the evidence. Knows nothing of what is expected. */
final class Prover
{
    private const ANSWER_SECONDS = 2.0;
    /** How long a device of the lab is waited for, and from one look at it to the next. */
    private const START_SECONDS = 20.0;
    private const START_STEP = 0.5;
    /** Ports at which TLS begins at once: HTTPS, SIP over TLS (RFC 3261 §19.1.2). */
    private const SECURED = [443, 5061];
    /** A power of two: what one search asks at most. */
    private const RANGE_AT_MOST = 256;
    private const SEARCHED_AT_ONCE = 32;
    /** Whoever calls from outside in the lab (a number that is nobody's). */
    private const OUTSIDER = '+4700000000';

    /** @var array<string, Future<list<string>>> place, range and port → who answered */
    private array $swept = [];

    /** @param float $startSeconds how long a device of the lab that is still starting is waited for */
    public function __construct(
        private readonly NetworkAccess $access,
        private readonly Http $http,
        private readonly float $startSeconds = self::START_SECONDS,
    ) {
    }

    /** @param \Closure(string): ?string $secretOf account key → SIP secret */
    public function prove(VantagePoints $places, ProofTest $test, \Closure $secretOf): Evidence
    {
        $plan = $places->plan;
        $device = $plan->devices[$test->to] ?? null;
        if (null === $device || !$test->canBeAsked(!$this->access->isOnSite())) {
            return Evidence::notAsked(new Message('there is nothing here that a probe could ask'));
        }
        $trial = $this->access->isOnSite() ? null : $test->trial();
        try {
            if (null !== $trial) {
                return $this->attempt($places, $test, $trial, $secretOf);
            }
            $place = $places->on(substr($test->from, \strlen('outposts/')));
            $this->waitForStart($plan, $place, $test);

            return (match ($test->what) {
                'reach' => $this->reach($place, $device, $test->port ?? Port::tcp(80)),
                'discover' => $this->discover($plan, $place, $device),
                'stream' => $this->stream($plan, $place, $device, $test),
                'light' => $this->light($plan, $place, $test),
                'push' => $this->push($plan, $place, $device, $test),
                'heard' => $this->listen($plan, $place, $test),
                'clock' => (new ClockListener($this->access))->hear($place, $plan, $test),
                'radius' => $this->radius($place, $device, $test, $secretOf),
                'dial' => $this->dial($plan, $place, $test, $secretOf),
                'register' => $this->register($plan, $place, $test, $secretOf),
                'call' => null === $test->caller
                    ? $this->directCall($plan, $place, $test, $device)
                    : $this->call($plan, $place, $test, $secretOf),
                default => Evidence::notAsked(new Message('nobody knows how to prove this')),
            })->from($place);
        } catch (NoAnswer $e) {
            return Evidence::notAsked($e->message());
        }
    }

    /**
     * A device of the lab that is still starting says nothing about the plan: it is given some time.
     *
     * @throws NoAnswer where one is still starting then
     */
    private function waitForStart(Plan $plan, VantagePoint $place, ProofTest $test): void
    {
        $involved = [];
        for ($waited = 0.0; [] !== $starting = $this->access->starting($place->address); $waited += self::START_STEP) {
            $involved = [] === $involved ? self::involvedDevices($plan, $test) : $involved;
            $starting = array_values(array_intersect($starting, $involved));
            if ([] === $starting) {
                return;
            }
            if ($waited >= $this->startSeconds) {
                throw NoAnswer::notAsked(new Message(
                    'still starting: {devices}',
                    ['devices' => implode(', ', array_map(static fn (string $key): string => $plan->devices[$key]->tag, $starting))],
                ));
            }
            delay(self::START_STEP);
        }
    }

    /** @return list<string> the devices whose values the prediction of a test depends on */
    private static function involvedDevices(Plan $plan, ProofTest $test): array
    {
        $devices = [$test->to => true];
        foreach ($test->facts()->all() as $fact) {
            [$section, $key] = explode('/', explode('#', $fact->record())[0], 2) + [1 => ''];
            $device = match ($section) {
                'devices' => $key,
                'nics' => $plan->nics[$key]->device ?? '',
                'extensions' => $plan->extensions[$key]->phone ?? '',
                default => '',
            };
            $devices[$device] = true;
        }

        return array_values(array_filter(
            array_map(strval(...), array_keys($devices)),
            static fn (string $device): bool => isset($plan->devices[$device]),
        ));
    }

    private function light(Plan $plan, VantagePoint $place, ProofTest $test): Evidence
    {
        $universe = Patch::of($plan)->universes[(int) $test->called] ?? null;

        return null === $universe
            ? Evidence::notAsked(new Message('nobody sends this universe any more'))
            : (new LightListener($this->access))->hear($place, $universe);
    }

    private function push(Plan $plan, VantagePoint $place, Device $taker, ProofTest $test): Evidence
    {
        $target = PushTarget::all($plan)[$test->called ?? ''] ?? null;
        $address = self::addressOf($taker);
        if (null === $target || null === $address || !$place->mayAsk($address)) {
            return Evidence::notAsked(new Message('it has no address in a network of this job'));
        }

        return (new SrtCaller($this->access))->ask($place, $address, $target->port->number, $target->isSealed(), $target->url->latency());
    }

    private function listen(Plan $plan, VantagePoint $place, ProofTest $test): Evidence
    {
        $stream = $plan->streams[$test->called ?? ''] ?? null;
        $sent = null === $stream ? null : GroupStream::of($plan, $stream);

        return null === $sent
            ? Evidence::notAsked(new Message('nobody sends this stream to a group any more'))
            : (new StreamListener($this->access))->hear($plan, $place, $sent);
    }

    /**
     * @param \Closure(string): ?string $secretOf
     *
     * @throws NoAnswer
     */
    private function radius(VantagePoint $place, Device $server, ProofTest $test, \Closure $secretOf): Evidence
    {
        $address = self::addressOf($server);
        $at = ['tag' => $server->tag, 'address' => (string) $place->address];
        if (null === $address || !$place->mayAsk($address)) {
            return Evidence::notAsked(new Message('it has no address in a network of this job'));
        }
        if (!RadiusTests::isClient($server, $place->address)) {
            return Evidence::notAsked(new Message(
                '{tag} answers its clients alone: have {address} entered there as one, with our own secret',
                $at,
            ));
        }
        $secret = $secretOf($server->record().'#radius') ?? '';

        return '' === $secret
            ? Evidence::notAsked(new Message('nobody has written down the secret of our own entry at {tag}', $at))
            : (new RadiusAsker($this->access))->status($place, $address, $test->port->number ?? 1812, $secret);
    }

    private function reach(VantagePoint $place, Device $device, Port $port): Evidence
    {
        $address = self::addressOf($device);
        if (null === $address || !$place->mayAsk($address)) {
            return Evidence::notAsked(new Message('it has no address in a network of this job'));
        }
        $from = \sprintf('%s > %s:%s', $place->address, $address, $port);
        if (Transport::Udp === $port->transport) {
            // Over UDP only a protocol can say that somebody is there; the one that is asked here is SIP.
            $caller = new SipCaller($this->access, $place, 'outpost', '', $port->number);
            try {
                return $caller->alive($address);
            } finally {
                $caller->close();
            }
        }
        try {
            $isAdmin = 'admin' === $device->service($port)?->name;
            if ($isAdmin && (self::SECURED[0] !== $port->number || $device->kind->isSelfSigned())) {
                $trust = $device->kind->isSelfSigned() ? new CertificatePin($device->setting(DeviceDoor::CERTIFICATE)->seen) : null;
                $response = $this->http->ask($place, $address, $port->number, 'GET', '/', null, '', self::ANSWER_SECONDS, $trust);

                return new Evidence(
                    Outcome::Answers,
                    new Message('HTTP {status}, "{title}"', ['status' => $response->status, 'title' => $response->title()]),
                    [
                        $from,
                        'HTTP '.$response->status,
                        'title: '.$response->title(),
                        ...(null === $trust?->seen ? [] : ['certificate: '.$trust->seen]),
                    ],
                );
            }
            if (\in_array($port->number, self::SECURED, true)) {
                return $this->handshake($place, $address, $port, $from);
            }
            $this->access->connect($place->address, $address, $port->number, self::ANSWER_SECONDS)->close();

            return new Evidence(Outcome::Answers, new Message('the connection was taken'), [$from, 'connected']);
        } catch (NoAnswer $e) {
            return new Evidence($e->outcome, $e->message(), [$from, $e->getMessage()]);
        } catch (ParseError $e) {
            return new Evidence(Outcome::Answers, new Message('something answers that is no web page'), [$from, $e->getMessage()]);
        }
    }

    /**
     * Where TLS is spoken, a connection alone says little: the handshake is made, and the certificate held against what this machine
     * trusts (RFC 5280 §6). By an address no name can be checked.
     *
     * @throws NoAnswer
     */
    private function handshake(VantagePoint $place, Ipv4 $address, Port $port, string $from): Evidence
    {
        $socket = $this->access->connect(
            $place->address,
            $address,
            $port->number,
            self::ANSWER_SECONDS,
            (new ClientTlsContext())->withoutPeerNameVerification(),
        );
        try {
            $socket->setupTls(new TimeoutCancellation(self::ANSWER_SECONDS));
        } catch (TlsException $e) {
            if (str_contains($e->getMessage(), 'certificate verify failed')) {
                throw NoAnswer::badCertificate('nobody whom this machine trusts has signed it');
            }

            return new Evidence(Outcome::Answers, new Message('something answers that speaks no TLS'), [$from, $e->getMessage()]);
        } catch (CancelledException) {
            throw NoAnswer::silence(self::ANSWER_SECONDS);
        } finally {
            $socket->close();
        }

        return new Evidence(Outcome::Answers, new Message('the handshake was made, its certificate is trusted'), [$from, 'TLS']);
    }

    private function stream(Plan $plan, VantagePoint $place, Device $device, ProofTest $test): Evidence
    {
        $address = self::addressOf($device);
        $stream = $plan->streams[$test->called ?? ''] ?? null;
        if (null === $address || null === $stream || !$place->mayAsk($address)) {
            return Evidence::notAsked(new Message('it has no address in a network of this job'));
        }

        return (new RtspCaller($this->access, $place))->describe(
            $address,
            $test->port->number ?? RtspCaller::PORT,
            StreamTests::expectedFormat($plan, $stream),
        );
    }

    /** The group question first; then the range, address by address. */
    private function discover(Plan $plan, VantagePoint $place, Device $device): Evidence
    {
        $address = self::addressOf($device);
        $log = [];
        if (null !== $device->kind->discoveryService) {
            $found = $this->askGroup($place, $device->kind->discoveryService, $log);
            foreach ($found as $answer) {
                if (null !== $address && null !== $answer['address'] && $answer['address']->equals($address)) {
                    return new Evidence(
                        Outcome::FoundByGroup,
                        new Message('"{name}" answered the group question', ['name' => $answer['name']]),
                        $log,
                    );
                }
            }
        }
        if (null === $address) {
            return Evidence::notAsked(new Message('it has no address to look for'));
        }
        $range = self::rangeAround($plan->segmentOf($device), $address);
        $port = $device->serviceNamed('admin')->port->number ?? 80;
        $answers = $this->sweep($place, $range, $port);
        $log[] = \sprintf(
            'range %s (%d addresses), port %d: %s',
            $range,
            $range->count(),
            $port,
            [] === $answers ? 'nobody answered' : implode(', ', $answers).' answered',
        );

        return \in_array((string) $address, $answers, true)
            ? new Evidence(
                Outcome::FoundByRange,
                new Message(
                    '{n} of {all} addresses of the range answered, it among them',
                    ['n' => \count($answers), 'all' => $range->count()],
                ),
                $log,
            )
            : new Evidence(Outcome::NotFound, new Message('neither the group question nor the range of {all} addresses found it', [
                'all' => $range->count(),
            ]), $log);
    }

    /** What a program that searches a range would be given: the block of the plan, else the network, as far as one search goes. */
    private static function rangeAround(?Segment $segment, Ipv4 $address): Range
    {
        $range = null === $segment
            ? Range::of($address, $address)
            : Range::of($segment->network->firstHost(), $segment->network->lastHost());
        foreach ($segment->blocks ?? [] as $block) {
            if ($block['range']->contains($address)) {
                $range = $block['range'];
            }
        }
        if ($range->count() <= self::RANGE_AT_MOST) {
            return $range;
        }
        // Aligned, so that neighbours ask for the same range and one search serves them all.
        $first = $address->number & ~(self::RANGE_AT_MOST - 1);

        return Range::of(
            Ipv4::fromNumber(max($range->first->number, $first)),
            Ipv4::fromNumber(min($range->last->number, $first + self::RANGE_AT_MOST - 1)),
        );
    }

    /**
     * @param list<string> $log
     *
     * @return list<array{name: string, address: Ipv4|null}>
     */
    private function askGroup(VantagePoint $place, string $type, array &$log): array
    {
        $socket = $this->access->datagrams($place->address);
        $id = random_int(1, 65535);
        $this->access->group($socket, Ipv4::fromString(Query::GROUP), Query::PORT, Query::ask($type, $id));
        $found = [];
        for ($until = microtime(true) + 0.8; ($left = $until - microtime(true)) > 0;) {
            $received = $socket->receive($left);
            if (null === $received) {
                break;
            }
            try {
                $answer = Query::readAnswer($received[2]);
            } catch (ParseError) {
                continue;
            }
            if (null !== $answer && $answer['id'] === $id) {
                $found[] = ['name' => $answer['name'], 'address' => $answer['address']];
            }
        }
        $socket->close();
        $log[] = \sprintf(
            'group question for %s: %s',
            $type,
            [] === $found
                ? 'nobody answered'
                : implode(', ', array_map(static fn (array $one): string => $one['name'].' '.$one['address'], $found)),
        );

        return $found;
    }

    /**
     * Searched once for all tests of a round that want the same from the same place.
     *
     * @return list<string> addresses that answered
     */
    public function sweep(VantagePoint $place, Range $range, int $port): array
    {
        $key = $place->address.' '.$range.' '.$port;
        $this->swept[$key] ??= async(fn (): array => $this->search($place, $range, $port));

        /** @var list<string> $answers */
        $answers = $this->swept[$key]->await();

        return $answers;
    }

    /** @return list<string> */
    private function search(VantagePoint $place, Range $range, int $port): array
    {
        $answers = [];
        foreach (array_chunk(iterator_to_array($range->addresses(), false), self::SEARCHED_AT_ONCE) as $some) {
            $asked = [];
            foreach ($some as $address) {
                if ($place->mayAsk($address)) {
                    $asked[] = async(function () use ($place, $address, $port): ?string {
                        try {
                            $this->access->connect($place->address, $address, $port, 0.7)->close();
                        } catch (NoAnswer) {
                            return null;
                        }

                        return (string) $address;
                    });
                }
            }
            $answers = [...$answers, ...array_filter(await($asked), is_string(...))];
        }
        natsort($answers);

        return array_values($answers);
    }

    /**
     * @param \Closure(string): ?string $secretOf
     *
     * @throws NoAnswer
     */
    private function dial(Plan $plan, VantagePoint $place, ProofTest $test, \Closure $secretOf): Evidence
    {
        /** @return array{Device, Ipv4, string}|null */
        $end = static function (?string $number) use ($plan, $place, $secretOf): ?array {
            $device = $plan->devices[$plan->extensionNumbered((string) $number)->phone ?? ''] ?? null;
            $address = self::addressOf($device);
            $password = null === $device ? null : $secretOf($device->record());

            return null === $device || null === $address || null === $password || !$place->mayAsk($address)
                ? null
                : [$device, $address, $password];
        };
        $extension = $plan->extensionNumbered((string) $test->caller);
        $refused = null === $extension ? null : $this->refusesCall($plan, $extension, (string) $test->called);
        if (null !== $refused) {
            return Evidence::notAsked($refused);
        }
        $caller = $end($test->caller);
        $called = $end($test->called);

        return null === $caller
            ? Evidence::notAsked(new Message('nobody has written down an address and a password by which it could be told to call'))
            : (new PhoneCaller($this->http, $this->access->isOnSite() ? PhoneCaller::RINGS : PhoneCaller::RINGS_IN_THE_LAB))->call(
                $place,
                $caller,
                null === $called || null === $called[0]->kind->admin?->call ? null : $called,
                (string) $test->caller,
                (string) $test->called,
            );
    }

    /** @param \Closure(string): ?string $secretOf */
    private function register(Plan $plan, VantagePoint $place, ProofTest $test, \Closure $secretOf): Evidence
    {
        $extension = $plan->extensionNumbered((string) $test->caller);
        $account = null === $extension ? null : $plan->accountOf($extension->key);
        $holder = $plan->devices[$account->registrar ?? ''] ?? null;
        $registrar = self::addressOf($holder);
        if (null === $account || null === $registrar || !$place->mayAsk($registrar)) {
            return Evidence::notAsked(new Message('there is no account or no registrar to ask'));
        }
        $caller = $this->phone($place, $account, $holder, $secretOf);
        try {
            return $caller->register($registrar);
        } finally {
            $caller->close();
        }
    }

    /** @param \Closure(string): ?string $secretOf */
    private function call(Plan $plan, VantagePoint $place, ProofTest $test, \Closure $secretOf): Evidence
    {
        $extension = $plan->extensionNumbered((string) $test->caller);
        $account = null === $extension ? null : $plan->accountOf($extension->key);
        $holder = $plan->devices[$account->registrar ?? ''] ?? null;
        $pbx = self::addressOf($holder);
        $number = (string) $test->called;
        if (null === $account || null === $pbx || !$place->mayAsk($pbx)) {
            return Evidence::notAsked(new Message('there is no account or no PBX to call through'));
        }
        $refused = $this->refusesCall($plan, $extension, $number);
        if (null !== $refused) {
            return Evidence::notAsked($refused);
        }
        $caller = $this->phone($place, $account, $holder, $secretOf);
        try {
            return $caller->call(
                $pbx,
                $number,
                self::devicesOf($plan, $test),
                $pbx,
                $plan->job->int('voicemailAfter', 4) + 6.0,
            );
        } finally {
            $caller->close();
        }
    }

    /**
     * Why a probe does not make a call, asked once more just before it is made: on site every branch must end at a device of the job, in
     * the lab none may reach an emergency number.
     */
    private function refusesCall(Plan $plan, Extension $caller, string $digits): ?Message
    {
        $branches = CallBranches::ofCall($plan, $caller, $digits);
        if (!$this->access->isOnSite() && !$branches->reachesEmergency()) {
            return null;
        }

        return $branches->reasonForHand();
    }

    /** @return list<Ipv4> where those are of which one is to answer: a number may ring at several */
    private static function devicesOf(Plan $plan, ProofTest $test): array
    {
        $number = null === $test->called ? null : $plan->extensionNumbered($test->called);
        $devices = null === $number ? [$test->to] : [$test->to, ...$plan->ringing($number)];

        return array_values(array_filter(array_map(
            static fn (string $device): ?Ipv4 => self::addressOf($plan->devices[$device] ?? null),
            array_unique($devices),
        )));
    }

    /**
     * In the lab: as a phone of the job from its segment, or as somebody outside who calls by the far end of a trunk.
     *
     * @param \Closure(string): ?string $secretOf
     *
     * @throws NoAnswer
     */
    private function attempt(VantagePoints $places, ProofTest $test, CallTrial $trial, \Closure $secretOf): Evidence
    {
        $plan = $places->plan;
        $extension = $plan->extensionNumbered((string) $trial->caller);
        $account = null === $extension ? null : $plan->accountOf($extension->key);
        $outside = $plan->trunks[$trial->trunk ?? '']->address ?? null;
        $phone = $plan->devices[$extension->phone ?? ''] ?? null;
        $holder = $plan->devices[$account->registrar ?? ''] ?? null;
        $host = $outside ?? self::addressOf($holder);
        if (null === $host || (null === $outside && null === $phone)) {
            return Evidence::notAsked(new Message('there is no account or no PBX to call through'));
        }
        if ($plan->emergencyNumbers()->isMeant($trial->digits)) {
            return Evidence::notAsked(new Message('an emergency number: never dialled'));
        }
        $over = [];
        foreach (array_filter([$trial->trunk, ...$trial->trunks], is_string(...)) as $trunk) {
            $over[] = $plan->trunks[$trunk]->transport ?? 'udp';
        }
        if ([] !== $over && !\in_array('udp', $over, true)) {
            return Evidence::notAsked(new Message('the lab plays trunks over UDP only'));
        }
        $place = null === $outside
            ? $places->on($plan->segmentOf($phone)->key ?? '')
            : new VantagePoint($plan, (string) gethostname(), new Adapter('lab', $outside));
        $this->waitForStart($plan, $place, $test);
        $caller = null === $account || null !== $outside
            ? new SipCaller($this->access, $place, self::OUTSIDER, '')
            : $this->phone($place, $account, $holder, $secretOf);
        try {
            return $caller->attempt(
                $host,
                $trial,
                $plan->job->int('voicemailAfter', 4) + 12.0,
                \in_array('T.38', array_map(
                    static fn (string $device): ?string => self::faxOf($plan->devices[$device] ?? null),
                    $trial->needs,
                ), true),
            )->from($place);
        } finally {
            $caller->close();
        }
    }

    /** Dialled as a caller from there dials it: behind NAT at its outside address. */
    private function directCall(Plan $plan, VantagePoint $place, ProofTest $test, Device $codec): Evidence
    {
        $dialled = DirectCall::of(NetworkModel::of($plan, Face::Set), $test->from, $codec)->dialled;
        $address = $dialled ?? self::addressOf($codec);
        if (null === $address || !$place->mayAsk($address)) {
            return Evidence::notAsked(new Message('it has no address in a network of this job'));
        }
        $caller = new SipCaller($this->access, $place, 'outpost', '');
        try {
            // Behind NAT it may name its own address, or the one that it was told to announce.
            $named = [$address, self::addressOf($codec), Ipv4::tryFromString(
                null === $codec->kind->setting('announcedAddress') ? '' : $codec->setting('announcedAddress')->effective(Face::Set) ?? '',
            )];

            return $caller->call($address, 'room', array_values(array_filter($named)), null, 6.0);
        } finally {
            $caller->close();
        }
    }

    /**
     * In the place of the phone of an account, at its registrar.
     *
     * @param \Closure(string): ?string $secretOf
     */
    private function phone(VantagePoint $place, Account $account, ?Device $registrar, \Closure $secretOf): SipCaller
    {
        $at = Registration::hearsAt($registrar, Face::Set)->number;

        return new SipCaller($this->access, $place, $account->user, $secretOf($account->key) ?? '', $at);
    }

    /** How a device was told to carry a fax; null where it carries none. */
    private static function faxOf(?Device $device): ?string
    {
        return null === $device?->kind->setting('faxTransport') ? null : $device->setting('faxTransport')->effective(Face::Set);
    }

    private static function addressOf(?Device $device): ?Ipv4
    {
        return Ipv4::tryFromString($device?->nic()?->setting('address')->effective(Face::Set) ?? '');
    }
}
