<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use Amp\Socket\BindContext;
use Amp\Socket\Certificate;
use Amp\Socket\ServerTlsContext;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Outpost\Probe\Adapter;
use Vorhut\Outpost\Probe\Http;
use Vorhut\Outpost\Probe\NoAnswer;
use Vorhut\Outpost\Probe\SiteAccess;
use Vorhut\Outpost\Probe\TestRunner;
use Vorhut\Outpost\Probe\VantagePoint;
use Vorhut\Outpost\Probe\VantagePoints;
use Vorhut\Tests\Support\ElsewhereAccess;
use Vorhut\Tests\Support\Jobs;

use function Amp\async;
use function Amp\Socket\listen;

/** The real wire, on loopback: what leaves and what does not, and how no answer is told from no answer. */
final class SiteAccessTest extends TestCase
{
    public function testWhoHoldsAnAddressStandsInTheNeighbourTable(): void
    {
        $file = (string) tempnam(sys_get_temp_dir(), 'arp');
        file_put_contents($file, <<<'TABLE'
            IP address       HW type     Flags       HW address            Mask     Device
            192.0.2.7        0x1         0x2         02:00:5e:00:00:07     *        eth0
            192.0.2.70       0x1         0x6         02:00:5e:00:00:70     *        eth0
            192.0.2.8        0x1         0x0         00:00:00:00:00:00     *        eth0
            TABLE);
        $access = new SiteAccess($file);
        $holder = static fn (string $address): ?string => $access->holderOf(Ipv4::fromString($address))?->__toString();
        self::assertSame(
            ['02-00-5E-00-00-07', '02-00-5E-00-00-70', null, null],
            array_map($holder, ['192.0.2.7', '192.0.2.70', '192.0.2.8', '192.0.2.9']),
        );
        unlink($file);
        self::assertNull($access->holderOf(Ipv4::fromString('192.0.2.7')), 'no table, no word');
    }

    public function testNoAnswerIsToldByItsKind(): void
    {
        // Sockets of the kernel, so that the other end behaves as a device does.
        $listening = stream_socket_server('tcp://127.0.0.1:0') ?: self::fail('no port');
        $port = self::portOf($listening);
        self::assertSame(Outcome::Answers, self::outcome('127.0.0.1', '127.0.0.1', $port));
        fclose($listening);
        self::assertSame(Outcome::Refuses, self::outcome('127.0.0.1', '127.0.0.1', $port));
        self::assertSame(Outcome::NotAsked, self::outcome('192.0.2.7', '127.0.0.1', $port), 'an address that is not ours');
        self::assertSame(Outcome::NotAsked, self::outcome('127.0.0.1', '192.0.2.7', 80), 'loopback leads nowhere');
        // A queue of one that nobody empties: further handshakes get no answer at all.
        $full = socket_create(\AF_INET, \SOCK_STREAM, \SOL_TCP) ?: self::fail('no socket');
        socket_bind($full, '127.0.0.1');
        socket_listen($full, 0);
        socket_getsockname($full, $address, $port);
        self::assertIsInt($port);
        $waiting = [];
        for ($i = 0; $i < 3; ++$i) {
            $waiting[] = stream_socket_client("tcp://127.0.0.1:$port", $n, $r, 1, \STREAM_CLIENT_CONNECT | \STREAM_CLIENT_ASYNC_CONNECT);
        }
        self::assertSame(Outcome::Silent, self::outcome('127.0.0.1', '127.0.0.1', $port));
        socket_close($full);
    }

    public function testWhoTakesAConnectionAndBreaksItOffIsNoSilence(): void
    {
        $server = socket_create(\AF_INET, \SOCK_STREAM, \SOL_TCP) ?: self::fail('no socket');
        socket_bind($server, '127.0.0.1');
        socket_listen($server, 2);
        socket_getsockname($server, $address, $port);
        self::assertIsInt($port);
        async(static function () use ($server): void {
            // The HTTP client tries a GET three times.
            for ($try = 0; $try < 3; ++$try) {
                \Amp\delay(0.1);
                $client = socket_accept($server);
                if (false !== $client) {
                    // No lingering: the close is a reset (RFC 9293 §3.10.4).
                    socket_set_option($client, \SOL_SOCKET, \SO_LINGER, ['l_onoff' => 1, 'l_linger' => 0]);
                    socket_close($client);
                }
            }
        });
        $place = new VantagePoint((new Jobs())->plan(), 'here', new Adapter('lo', Ipv4::fromString('127.0.0.1')));
        try {
            (new Http(new SiteAccess()))->ask($place, Ipv4::fromString('127.0.0.1'), $port, 'GET', '/');
            self::fail('nothing was said');
        } catch (NoAnswer $e) {
            self::assertSame(Outcome::BrokenOff, $e->outcome);
        }
        socket_close($server);
    }

    public function testACertificateThatNobodyTrustsIsToldFromSilence(): void
    {
        $key = openssl_pkey_new(['private_key_bits' => 2048]) ?: self::fail('no key');
        $request = openssl_csr_new(['commonName' => 'device.example'], $key);
        \assert($request instanceof \OpenSSLCertificateSigningRequest && $key instanceof \OpenSSLAsymmetricKey);
        $certificate = openssl_csr_sign($request, null, $key, 2) ?: self::fail('not signed');
        $file = (string) tempnam(sys_get_temp_dir(), 'vorhut');
        openssl_x509_export($certificate, $public);
        openssl_pkey_export($key, $private);
        \assert(\is_string($public) && \is_string($private));
        file_put_contents($file, $public.$private);
        $server = listen('127.0.0.1:0', (new BindContext())->withTlsContext(
            (new ServerTlsContext())->withDefaultCertificate(new Certificate($file)),
        ));
        async(static function () use ($server): void {
            try {
                $server->accept()?->setupTls();
            } catch (\Amp\Socket\TlsException) {
                return; // it was not trusted
            }
        });
        $jobs = (new Jobs())->segment('s', '127.0.0.0/8', null, ['outpost' => '127.0.0.1']);
        $jobs->device('c', 'ptz-camera', 's', ['address' => '127.0.0.1']);
        $jobs->row('tests', [
            'key' => 't', 'what' => 'reach', 'from' => 's', 'to' => 'c', 'port' => '443/tcp',
        ]);
        $plan = $jobs->plan();
        $access = new ElsewhereAccess((int) substr($server->getAddress()->toString(), 10));
        $test = TestPlan::of($plan)->test('reach:s>c:443/tcp') ?? self::fail('the added test is missing');
        $evidence = (new TestRunner($access, new VantagePoints($plan, $access), static fn (): null => null))->probe($test);
        self::assertSame(
            [Outcome::BadCertificate, 'its certificate is not to be trusted: it is not signed by an authority that this machine trusts'],
            [$evidence->outcome, (string) $evidence->detail],
        );
        $server->close();
        unlink($file);
    }

    public function testItStandsOnAnAdapterInTheNetworkOrSaysThatItDoesNot(): void
    {
        $access = new SiteAccess();
        $adapter = $access->adapter(Network::fromString('127.0.0.0/8'), Ipv4::fromString('127.9.9.9'));
        self::assertSame(['lo', '127.0.0.1'], [$adapter->name, (string) $adapter->address]);
        try {
            $access->adapter(Network::fromString('198.51.100.0/24'), Ipv4::fromString('198.51.100.7'));
            self::fail('no machine stands there');
        } catch (NoAnswer $e) {
            self::assertSame(
                [Outcome::NotAsked, 'no adapter of this machine is in 198.51.100.0/24'],
                [$e->outcome, (string) $e->message()],
            );
        }
        try {
            $access->datagrams(Ipv4::fromString('198.51.100.7'));
            self::fail('it cannot be bound');
        } catch (NoAnswer $e) {
            self::assertSame(Outcome::NotAsked, $e->outcome);
        }
    }

    private static function outcome(string $from, string $to, int $port): Outcome
    {
        try {
            (new SiteAccess())->connect(Ipv4::fromString($from), Ipv4::fromString($to), $port, 0.4)->close();
        } catch (NoAnswer $e) {
            return $e->outcome;
        }

        return Outcome::Answers;
    }

    /** @param resource $server */
    private static function portOf($server): int
    {
        return (int) substr((string) stream_socket_get_name($server, false), 10);
    }
}
