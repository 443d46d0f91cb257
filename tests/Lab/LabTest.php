<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use Amp\Socket\Certificate;
use Amp\Socket\ClientTlsContext;
use Amp\Socket\ConnectContext;
use Amp\Socket\SocketException;
use Amp\TimeoutCancellation;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Net\HostName;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Core\Wire\Tls\CertificateChain;
use Vorhut\Lab\InjectedFault;
use Vorhut\Lab\Phone;
use Vorhut\Lab\SealedFiles;
use Vorhut\Outpost\Device\DeviceDoor;
use Vorhut\Outpost\Device\NotWritten;
use Vorhut\Outpost\Device\Reader;
use Vorhut\Outpost\Device\RefetchTrigger;
use Vorhut\Outpost\Device\Writer;
use Vorhut\Outpost\Probe\Http;
use Vorhut\Secrets\Authority;
use Vorhut\Socket\Loopback;
use Vorhut\Socket\SealedDoor;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\LabBench;

use function Amp\delay;
use function Amp\Socket\connect;
use function Amp\Socket\listen;

/** The lab from outside, by real probes and calls. */
final class LabTest extends TestCase
{
    private const REACH = 'reach:v>cam:80/tcp';
    private const CALL = 'call:2101>2102';

    public function testARightJobIsProvedLineByLine(): void
    {
        $bench = new LabBench(101);
        $seen = [];
        foreach ([self::REACH, 'discover:v>cam', 'discover:v>codec', 'register:2101', self::CALL, 'direct:v>codec'] as $test) {
            $seen[$test] = $bench->prove($test)->outcome;
        }
        self::assertSame(
            [
                Outcome::Answers,
                Outcome::FoundByRange,
                Outcome::FoundByGroup,
                Outcome::Registered,
                Outcome::DeviceAnswers,
                Outcome::DeviceAnswers,
            ],
            array_values($seen),
        );
        $bench->close();
    }

    public function testAPhoneWithoutACodecOfTheCallersRefusesAndThatWasForeseen(): void
    {
        $bench = new LabBench(103, static fn (Jobs $jobs): Jobs => $jobs->row('settings', [
            'key' => 'devices/b#codecs', 'planned' => 'G.722', 'set' => 'G.722',
        ]));
        $foreseen = TestPlan::of($bench->plan)->test(self::CALL)?->expectedOutcome();
        self::assertSame([Outcome::NotAnswered, Outcome::NotAnswered], [$foreseen, $bench->prove(self::CALL)->outcome]);
        $bench->close();
    }

    public function testARegistrarMayHearAtAnotherPort(): void
    {
        $bench = new LabBench(104, static function (Jobs $jobs): Jobs {
            foreach (['pbx#sipPort', 'a#registrarPort', 'b#registrarPort'] as $slot) {
                $jobs->row('settings', ['key' => 'devices/'.$slot, 'planned' => '5080', 'set' => '5080']);
            }

            return $jobs;
        });
        $foreseen = TestPlan::of($bench->plan)->test(self::CALL)?->expectedOutcome();
        self::assertSame([Outcome::DeviceAnswers, Outcome::DeviceAnswers], [$foreseen, $bench->prove(self::CALL)->outcome]);
        $bench->close();
    }

    /** @return iterable<string, array{InjectedFault, string, string, Outcome}> */
    public static function faults(): iterable
    {
        yield 'wrong gateway' => [InjectedFault::WrongGateway, 'cam', self::REACH, Outcome::Silent];
        yield 'swapped digits' => [InjectedFault::SwappedDigits, 'cam', self::REACH, Outcome::Silent];
        yield 'not rebooted' => [InjectedFault::NotRebooted, 'cam', self::REACH, Outcome::Silent];
        yield 'wrong mask' => [InjectedFault::WrongMask, 'cam', self::REACH, Outcome::Silent];
        yield 'slow boot' => [InjectedFault::SlowBoot, 'cam', self::REACH, Outcome::Silent];
        yield 'wrong SIP password' => [InjectedFault::WrongSipPassword, 'b', self::CALL, Outcome::Voicemail];
        yield 'voicemail answers' => [InjectedFault::VoicemailAnswers, 'b', self::CALL, Outcome::Voicemail];
    }

    #[DataProvider('faults')]
    public function testEachFaultShowsFromOutsideAndOnlyWhereItIs(
        InjectedFault $fault,
        string $device,
        string $test,
        Outcome $outcome,
    ): void {
        $bench = new LabBench(110 + (int) array_search($fault, InjectedFault::cases(), true));
        $bench->play($fault, $device);
        if (InjectedFault::WrongSipPassword === $fault) {
            $bench->settle(8.0); // until the binding that was made with the right one runs out
        }
        if (InjectedFault::SlowBoot === $fault) {
            $bench->settle(1.0);
            self::assertSame(Outcome::Answers, $bench->prove($test)->outcome, 'by now it is up');
            $bench->job->play($fault, $device);
        }
        self::assertSame($outcome, $bench->prove($test)->outcome);
        self::assertSame(Outcome::Registered, $bench->prove('register:2101')->outcome);
        $bench->close();
    }

    private static function island(int $net): LabBench
    {
        return new LabBench($net, static function (Jobs $jobs) use ($net): Jobs {
            foreach (['card' => 'console-card', 'fx' => 'processing-server', 'rx' => 'processing-server'] as $key => $kind) {
                $n = ['card' => 71, 'fx' => 72, 'rx' => 73][$key];
                $clock = 'card' === $key ? 'leader' : 'automatic';
                $jobs->device(
                    $key,
                    $kind,
                    'v',
                    ['address' => "10.$net.20.$n", 'address.set' => "10.$net.20.$n", 'mask.set' => '/24', 'clockRole' => $clock],
                    ['mac' => "00-00-5E-00-53-$n"],
                );
            }
            $jobs->change('settings', 'devices/card#clockRole', 'set', 'leader');
            foreach (['one' => '239.192.1.1', 'two' => '239.192.1.2'] as $key => $address) {
                $jobs->row('groups', ['key' => $key, 'name' => $key, 'address' => $address, 'sender' => 'card'])
                    ->row('streams', ['key' => $key, 'name' => $key, 'sender' => 'card', 'transport' => 'AES67', 'cast' => 'multicast',
                        'group' => $key, 'channels' => 'one' === $key ? 8 : 2])
                    ->row('deliveries', ['key' => $key, 'stream' => $key, 'device' => 'fx']);
            }

            return $jobs;
        });
    }

    public function testStreamsToAGroupAreCountedAndTheClockIsHeard(): void
    {
        $bench = self::island(140);
        $said = static function (string $test) use ($bench): array {
            $heard = $bench->prove($test);

            return [$heard->outcome, (string) $heard->detail];
        };
        foreach (['one' => 9216, 'two' => 2304] as $stream => $kbit) {
            [$outcome, $detail] = $said("heard:$stream:v");
            self::assertSame(Outcome::Heard, $outcome, $detail);
            self::assertMatchesRegularExpression('~ from CARD 10.140.20.71, played at 1:[0-9]+; 0 of [0-9]+ packets lost, ~', $detail);
            self::assertEqualsWithDelta($kbit, (int) $detail, $kbit / 10);
        }
        self::assertStringContainsString('CARD 10.140.20.71 leads', $said('clock:v')[1]);
        $bench->play(InjectedFault::WrongRate, 'card');
        [$outcome, $detail] = $said('heard:one:v');
        self::assertSame(Outcome::OtherHeard, $outcome);
        self::assertStringContainsString('9216 were planned', $detail);
        $bench->play(InjectedFault::LeaderMissing, 'card');
        self::assertSame('FX 10.140.20.72 leads, and was not meant', $said('clock:v')[1], 'the next of them does');
        $bench->play(InjectedFault::LeaderMissing, 'fx');
        $bench->play(InjectedFault::LeaderMissing, 'rx');
        $bench->play(InjectedFault::NoQuerier, 'pbx');
        self::assertStringContainsString('no clock leader was heard', $said('clock:v')[1]);
        self::assertStringContainsString('no sender to 239.192.1.2:5004 was heard', $said('heard:two:v')[1]);
        $bench->close();
    }

    /** @return iterable<string, array{string, string, Outcome, string}> */
    public static function pushes(): iterable
    {
        yield 'as planned' => ['nothing', 'nothing', Outcome::Takes, 'it would take the stream, with a latency of 300 ms'];
        yield 'with a passphrase' => ['a passphrase', 'a passphrase', Outcome::Takes, 'it asks for a passphrase; which one was not asked'];
        yield 'open, and planned with one' => [
            'a passphrase', 'nothing', Outcome::TakesOtherwise, 'it takes streams without a passphrase, and one was planned',
        ];
        yield 'with one that nobody planned' => [
            'nothing', 'a passphrase', Outcome::TakesOtherwise, 'it asks for a passphrase, and none was planned',
        ];
    }

    #[DataProvider('pushes')]
    public function testAStreamThatIsPushedIsTaken(string $pushes, string $takes, Outcome $outcome, string $said): void
    {
        $net = 141 + (int) array_search([$pushes, $takes, $outcome, $said], array_values(iterator_to_array(self::pushes())), true);
        $bench = new LabBench($net, static function (Jobs $jobs) use ($net, $pushes, $takes): Jobs {
            $at = static fn (int $n): array => ['address' => "10.$net.20.$n", 'address.set' => "10.$net.20.$n", 'mask.set' => '/24'];
            $url = "srt://10.$net.20.82:9040?mode=caller&latency=300";

            return $jobs->device('enc', 'streaming-encoder', 'v', $at(81) + [
                'pushProtocol' => 'SRT', 'pushProtocol.set' => 'SRT', 'pushUrl' => $url, 'pushUrl.set' => $url, 'pushesWith' => $pushes,
                'pushesWith.set' => $pushes,
            ])->device('pc', 'production-computer', 'v', $at(82) + [
                'takePort' => '9040', 'takePort.set' => '9040', 'takesWith' => $takes, 'takesWith.set' => $takes,
            ]);
        });
        $line = TestPlan::of($bench->plan)->test('push:enc');
        $evidence = $bench->prove('push:enc');
        self::assertSame([$outcome, $said], [$evidence->outcome, (string) $evidence->detail], implode("\n", $evidence->lines));
        self::assertSame($outcome, $line?->expectedOutcome());
        $bench->close();
    }

    public function testATelephoneCallsAnotherByItself(): void
    {
        $bench = new LabBench(146);
        $line = 'dial:2101>2102';
        self::assertSame(Outcome::DeviceAnswers, TestPlan::of($bench->plan)->test($line)?->expectedOutcome());
        $found = $bench->prove($line);
        self::assertSame(Outcome::DeviceAnswers, $found->outcome, implode("\n", $found->lines));
        self::assertMatchesRegularExpression('/^A and B speak; [2-9][0-9] packets sent, [2-9][0-9] heard$/', (string) $found->detail);
        $bench->settle(0.6);
        self::assertSame('idle', $bench->job->standIn('b')?->callsOut()?->call()['state'], 'it was hung up');
        // The other way in the same moment: nothing of the first call is left.
        self::assertSame(Outcome::DeviceAnswers, $bench->prove('dial:2102>2101')->outcome);
        $bench->play(InjectedFault::VoicemailAnswers, 'b');
        $found = $bench->prove($line);
        self::assertSame(Outcome::OtherAnswers, $found->outcome, implode("\n", $found->lines));
        self::assertStringContainsString('B is in no call with it', (string) $found->detail);
        $bench->close();
    }

    public function testATelephoneThatIsNotAllowedToCallSaysSo(): void
    {
        $bench = new LabBench(147);
        $bench->play(InjectedFault::WrongSipPassword, 'a');
        $found = $bench->prove('dial:2101>2102');
        self::assertSame(Outcome::NotAnswered, $found->outcome, implode("\n", $found->lines));
        $bench->play(InjectedFault::WrongAdminPassword, 'b');
        self::assertSame(Outcome::NotAsked, $bench->prove('dial:2102>2101')->outcome, 'whose page refuses us was not asked');
        $bench->close();
    }

    public function testAPhoneTakesItsFileOverHttpsFromWhomItTrustsAndFromNobodyElse(): void
    {
        $folder = sys_get_temp_dir().'/vorhut-tls-'.bin2hex(random_bytes(6));
        mkdir($folder, 0o700);
        $host = HostName::fromString('files.site.example');
        $authority = Authority::fresh('the lab');
        $server = $authority->issue($host);
        file_put_contents($folder.'/authority.pem', $authority->certificate);
        file_put_contents($folder.'/server.pem', $server->certificate.$server->key);
        $stranger = Authority::fresh('the lab')->issue($host);
        file_put_contents($folder.'/stranger.pem', $stranger->certificate.$stranger->key);
        $asked = [];
        /** @var \ArrayObject<int, LabBench> $ready the bench, once it stands */
        $ready = new \ArrayObject();
        $probe = listen('127.0.0.1:0');
        $at = $probe->getAddress()->toString();
        $probe->close();
        $door = new SealedDoor($at, static function (Request $request) use (&$asked, $ready): Response {
            $asked[] = $request->headers['host'] ?? '';
            while (0 === \count($ready)) {
                delay(0.02);
            }
            $file = $ready[0]?->file(Mac::tryFromString(substr($request->path, 1, 12)));

            return new Response(null === $file ? 404 : 200, [], (string) $file);
        });
        $door->show([(string) $host => new Certificate($folder.'/server.pem')], null);
        $known = CertificateChain::fromPem($authority->certificate)->authority();
        $bench = new LabBench(
            148,
            static fn (Jobs $jobs): Jobs => $jobs
                ->row('settings', ['key' => 'devices/a#authority', 'set' => $known])
                ->row('settings', ['key' => 'devices/b#authority', 'set' => str_repeat('b', 64)]),
            new SealedFiles((string) $host, $at, FileAddress::PORT, $known, $folder.'/authority.pem'),
        );
        $ready->append($bench);
        $bench->settle(0.6);
        $stands = static fn (string $phone): ?string => $bench->job->standIn($phone)?->state->get(Phone::REGISTRATION);
        self::assertSame(['registered', 'not registered'], [$stands('a'), $stands('b')]);
        self::assertSame([(string) $host], array_unique($asked));
        $count = \count($asked);
        // Under the same name somebody else, whom its own authority vouches for.
        $door->show([(string) $host => new Certificate($folder.'/stranger.pem')], null);
        $bench->job->standIn('a')?->restart();
        $bench->settle();
        self::assertSame('not registered', $stands('a'));
        self::assertCount($count, $asked, 'nothing was even asked of a stranger');
        $door->close();
        $bench->close();
        array_map(unlink(...), glob($folder.'/*') ?: []);
        rmdir($folder);
    }

    public function testAPhoneTakesItsFileAgainWhenItsPageIsToldSo(): void
    {
        $bench = new LabBench(149);
        $refetcher = new RefetchTrigger(new Http($bench->access()));
        $phone = $bench->plan->devices['a'];
        $before = $bench->taken;
        $said = $refetcher->tell($bench->places(), $phone, ['factory' => 'wrong', 'admin' => 'admin']);
        self::assertStringContainsString('told to take its file again', (string) $said);
        $bench->settle();
        self::assertSame(1 + $before, $bench->taken, 'it starts anew and takes its file');
        self::assertSame('registered', $bench->job->standIn('a')?->state->get(Phone::REGISTRATION));
        $door = DeviceDoor::of(
            new Http($bench->access()),
            $bench->places()->on('v'),
            Ipv4::fromString((string) $phone->nic()?->setting('address')->planned),
            $phone,
        );
        $call = $phone->kind->admin->call ?? throw new \LogicException();
        $door?->dial($call, 'admin', '2102');
        $bench->settle(0.4);
        try {
            $refetcher->tell($bench->places(), $phone, ['admin' => 'admin']);
            self::fail('it was in a call');
        } catch (NotWritten $e) {
            self::assertStringContainsString('is in a call', $e->getMessage());
        }
        $door?->dial($call, 'admin', '');
        foreach ([
            ['a', ['admin' => 'wrong'], 'refused every password'],
            ['cam', ['admin' => 'admin'], 'cannot be told'],
        ] as [$device, $passwords, $why]) {
            try {
                $refetcher->tell($bench->places(), $bench->plan->devices[$device], $passwords);
                self::fail($why);
            } catch (NotWritten $e) {
                self::assertStringContainsString($why, $e->getMessage());
            }
        }
        $bench->close();
    }

    public function testADeviceThatRefusesTheLoginTakesNothingAndIsNoOtherDevice(): void
    {
        $bench = new LabBench(109);
        $bench->play(InjectedFault::WrongAdminPassword, 'cam');
        self::assertSame(Outcome::Answers, $bench->prove(self::REACH)->outcome, 'it is there all the same');
        $http = new Http($bench->access());
        $before = $bench->kept('cam')['settings'] ?? [];
        try {
            (new Writer($bench->access(), $http, new Reader($http)))->write(
                $bench->places(),
                $bench->plan->devices['cam'],
                ['factory' => 'admin'],
            );
            self::fail('it took what it was sent');
        } catch (NotWritten $e) {
            self::assertStringContainsString('Nothing was written into CAM. At 10.109.40.31 it refused every password', $e->getMessage());
        }
        self::assertSame($before, $bench->kept('cam')['settings'] ?? []);
        $bench->close();
    }

    public function testReadBackTellsAWrongGatewayAndWritingMendsIt(): void
    {
        $bench = new LabBench(130);
        $bench->play(InjectedFault::WrongGateway, 'cam');
        $http = new Http($bench->access());
        $reader = new Reader($http);
        $camera = $bench->plan->devices['cam'];
        self::assertSame('10.130.40.101', $reader->read($bench->places(), $camera, ['factory' => 'admin'])?->seen['lan.gateway'] ?? null);
        self::assertNull($reader->read($bench->places(), $camera, ['admin' => 'guess']), 'not without the password');

        $result = (new Writer($bench->access(), $http, $reader))->write($bench->places(), $camera, ['factory' => 'admin']);
        self::assertSame('10.130.40.1', $result['seen']?->seen['lan.gateway'] ?? null, (string) $result['said']);
        self::assertSame(Outcome::Answers, $bench->prove(self::REACH)->outcome);
        $settings = $bench->kept('cam')['settings'] ?? [];
        self::assertIsArray($settings);
        self::assertSame('10.130.40.1', $settings['lan.gateway'] ?? null, 'and the lab keeps it over its own restart');
        $bench->close();
    }

    public function testAnOutpostAsksOnlyInNetworksOfTheJob(): void
    {
        $bench = new LabBench(131);
        $place = $bench->places()->on('v');
        self::assertTrue($place->mayAsk(Ipv4::fromString('10.131.40.31')));
        foreach (['192.0.2.1', '10.131.40.0', '10.131.40.255'] as $never) {
            self::assertFalse($place->mayAsk(Ipv4::fromString($never)), $never);
        }
        $bench->close();
    }

    #[TestWith(['udp', 132])]
    #[TestWith(['tcp', 133])]
    public function testAnIndependentPartyRegistersAndCalls(string $transport, int $net): void
    {
        $bench = new LabBench($net);
        $pbx = (string) (new Loopback())->of(Ipv4::fromString("10.$net.20.10"));
        $party = new Process(['node', \dirname(__DIR__).'/Contract/party.mjs', $pbx, '2101', 'secret-of-2101', '2102', $transport]);
        $party->start();
        for ($i = 0; $i < 200 && $party->isRunning(); ++$i) {
            delay(0.1);
        }
        $seen = json_decode($party->getOutput(), true);
        self::assertIsArray($seen, $party->getOutput().$party->getErrorOutput());
        self::assertSame([403, 200, true, 200, 200, 404], [
            $seen['wrong'],
            $seen['right'],
            $seen['bound'],
            $seen['call'],
            $seen['bye'] ?? null,
            $seen['unknown'],
        ]);
        self::assertContains(180, (array) $seen['statuses']);
        self::assertStringContainsString("127.$net.40.51", \is_string($seen['answeredBy']) ? $seen['answeredBy'] : '');
        self::assertGreaterThan(20, $seen['heard'] ?? 0, 'and hears the phone');
        $bench->close();
    }

    public function testAPbxThatWasToldToSpeaksSipOverTls(): void
    {
        $net = 136;
        $told = static fn (string $transport): \Closure => static fn (Jobs $jobs): Jobs => $jobs
            ->row('settings', ['key' => 'devices/pbx#transport', 'planned' => $transport, 'set' => $transport, 'setBy' => 'Jo',
                'setAt' => '2026-03-01T09:00:00Z']);
        $bench = new LabBench($net, $told('udp, tls'));
        $host = (string) (new Loopback())->of(Ipv4::fromString("10.$net.20.10"));
        $tls = (new ClientTlsContext())->withoutPeerVerification();
        $socket = connect("$host:5061", (new ConnectContext())->withConnectTimeout(3)->withTlsContext($tls));
        $socket->setupTls();
        $socket->write((string) SipMessage::request('REGISTER', "sips:$host", [
            ['Via', 'SIP/2.0/TLS 127.0.0.1:5061;branch=z9hG4bKtls;rport'],
            ['Max-Forwards', '70'],
            ['From', "<sips:2101@$host>;tag=1"],
            ['To', "<sips:2101@$host>"],
            ['Call-ID', 'tls'],
            ['CSeq', '1 REGISTER'],
            ['Contact', '<sips:2101@127.0.0.1:5061>'],
        ]));
        for ($asked = ''; !str_contains($asked, "\r\n\r\n") && null !== $more = $socket->read(new TimeoutCancellation(4));) {
            $asked .= $more;
        }
        self::assertStringStartsWith('SIP/2.0 401', $asked);
        self::assertStringContainsString('Via: SIP/2.0/TLS 127.0.0.1:5061;branch=z9hG4bKtls', $asked);
        $bench->close();
        $deaf = new LabBench(137, $told('udp'));
        $this->expectException(SocketException::class);
        try {
            connect((new Loopback())->of(Ipv4::fromString('10.137.20.10')).':5061', (new ConnectContext())->withConnectTimeout(2));
        } finally {
            $deaf->close();
        }
    }

    public function testAThousandPhonesThatStartAtOnceAllRegister(): void
    {
        $net = 138;
        $many = 1000;
        $bench = new LabBench($net, static function (Jobs $jobs) use ($many): void {
            for ($n = 3000; $n < 3000 + $many; ++$n) {
                $mac = \sprintf('00-00-5E-01-%02X-%02X', intdiv($n, 256), $n % 256);
                $jobs->row('extensions', ['key' => 'x'.$n, 'number' => (string) $n, 'pbx' => 'pbx', 'terminal' => 'sip'])
                    ->row('accounts', ['key' => 'a'.$n, 'extension' => 'x'.$n, 'registrar' => 'pbx', 'user' => (string) $n]
                        + ['macEntered' => $mac]);
            }
        });
        $secrets = [];
        for ($n = 3000; $n < 3000 + $many; ++$n) {
            $secrets['a'.$n] = 'secret-of-'.$n;
        }
        $bench->job->handsOn($bench->plan, $secrets);
        $before = memory_get_usage();
        $host = (string) (new Loopback())->of(Ipv4::fromString("10.$net.20.10"));
        $storm = new Process(['node', \dirname(__DIR__).'/Contract/storm.mjs', $host, '3000', (string) $many]);
        $storm->setTimeout(90)->start();
        for ($i = 0; $i < 800 && $storm->isRunning(); ++$i) {
            delay(0.1);
        }
        $seen = json_decode($storm->getOutput(), true);
        self::assertIsArray($seen, $storm->getOutput().$storm->getErrorOutput());
        self::assertSame([$many, 0, 0], [$seen['registered'], $seen['refused'], $seen['silent']], $storm->getOutput());
        self::assertLessThan(60, $seen['seconds']);
        self::assertLessThan(30_000_000, memory_get_usage() - $before);
        $bench->close();
    }

    public function testAFurtherTerminalAnswersForItsNumber(): void
    {
        $net = 135;
        $bench = new LabBench($net, static function (Jobs $jobs) use ($net): void {
            $held = static fn (string $name, string $value): array => ['key' => $name, 'planned' => $value, 'set' => $value]
                + ['setBy' => 'Jo', 'setAt' => '2026-03-01T09:00:00Z'];
            $jobs->device('c', 'desk-phone-poe', 'v', ['address' => "10.$net.20.33"], ['mac' => '00-00-5E-00-53-33'])
                ->row('settings', $held('nics/c.lan#mask', '/24'))
                ->row('settings', $held('nics/c.lan#gateway', "10.$net.20.1"))
                ->row('settings', $held('devices/c#provisioning', 'vorhut'))
                ->change('settings', 'nics/c.lan#address', 'set', "10.$net.20.33")
                ->row('terminals', ['key' => 't', 'extension' => 'x2102', 'device' => 'c', 'macEntered' => '00-00-5E-00-53-33']);
        });
        $bench->play(InjectedFault::VoicemailAnswers, 'b');
        $found = $bench->prove('call:2101>2102');
        self::assertSame(Outcome::DeviceAnswers, $found->outcome, implode("\n", [(string) $found->detail, ...$found->lines]));
        self::assertStringContainsString("127.$net.20.33", (string) $found->detail);
        $bench->close();
    }

    public function testASenderOfPicturesSaysWhatItHas(): void
    {
        $set = ['set' => '25', 'planned' => '25', 'setBy' => 'Jo', 'setAt' => '2026-03-01T09:00:00Z'];
        $bench = new LabBench(134, static fn (Jobs $jobs): Jobs => $jobs
            ->row('streams', ['key' => 'st', 'name' => 'Hall', 'sender' => 'cam', 'transport' => 'RTSP', 'cast' => 'unicast'])
            ->row('deliveries', ['key' => 'd', 'stream' => 'st', 'device' => 'codec'])
            ->row('settings', ['key' => 'devices/cam#frameRate'] + $set));
        $found = $bench->prove('stream:st:v');
        self::assertSame(Outcome::Pictures, $found->outcome, implode("\n", [(string) $found->detail, ...$found->lines]));
        self::assertSame('it has H.264 1920×1080 25 fps', (string) $found->detail);
        $bench->job->standIn('cam')?->configure('codec', 'H.265');
        $other = $bench->prove('stream:st:v');
        self::assertSame(
            [Outcome::OtherPictures, 'it has H.265 1920×1080 25 fps, and H.264 1920×1080 25 fps was planned'],
            [$other->outcome, (string) $other->detail],
        );
        $bench->job->standIn('cam')?->off();
        self::assertSame(Outcome::Silent, $bench->prove('stream:st:v')->outcome, 'and switched off it says nothing');
        $bench->close();
    }
}
