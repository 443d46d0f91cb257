<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use Amp\Socket\ServerSocket;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Analysis;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Plan;
use Vorhut\Lab\FrontPanel;
use Vorhut\Lab\Simulation;
use Vorhut\Lab\SocksGateway;
use Vorhut\Lab\StandIn;
use Vorhut\Outpost\Device\DeviceDoor;
use Vorhut\Outpost\Device\Readback;
use Vorhut\Outpost\Device\Reader;
use Vorhut\Outpost\Device\UnidentifiedDevice;
use Vorhut\Outpost\Probe\Adapter;
use Vorhut\Outpost\Probe\Http;
use Vorhut\Outpost\Probe\LabAccess;
use Vorhut\Outpost\Probe\VantagePoint;
use Vorhut\Outpost\Probe\VantagePoints;
use Vorhut\Socket\Loopback;
use Vorhut\Tests\Support\ElsewhereAccess;
use Vorhut\Tests\Support\Facts;
use Vorhut\Tests\Support\Jobs;

use function Amp\async;
use function Amp\delay;
use function Amp\Socket\listen;

/** Admin pages in every way that a kind can describe, from outside. */
final class DeviceDoorTest extends TestCase
{
    private Plan $plan;
    private Simulation $job;
    private LabAccess $access;
    private string $keep;
    /** @var \Closure(): void */
    private \Closure $shut;

    protected function setUp(): void
    {
        $this->keep = sys_get_temp_dir().'/vorhut-door-'.bin2hex(random_bytes(5)).'/job.json';
    }

    protected function tearDown(): void
    {
        $this->job->off();
        ($this->shut)();
    }

    public function testEveryPageInTheCatalogueIsReadAndWrittenByWhatItsKindSays(): void
    {
        $kinds = array_filter(Jobs::catalogue()->kinds(), static fn (Kind $kind): bool => null !== $kind->admin);
        $this->play(...array_keys($kinds));
        $shapes = $ways = [];
        foreach ($kinds as $code => $kind) {
            $door = $this->door($code);
            $password = 'A new "one" & more';
            $first = $this->standIn($code)->state->firstPassword;
            $field = $kind->admin->fields['adminPassword'] ?? null;
            if (null !== $field && $kind->login->exists()) {
                $response = $door->put($first, [$field => $password], false);
                self::assertTrue($door->took($response), $code.': '.$response->body);
                self::assertNull($this->door($code)->status($first), $code.' does not take the first one any more');
            } else {
                $password = $first;
            }
            $own = $kind->adminFields()['hostName'] ?? null;
            $status = $this->door($code)->status($password) ?? self::fail($code.' says nothing');
            self::assertSame([], array_diff(array_values($kind->adminFields()), array_keys($status), $this->secrets($kind)), $code);
            self::assertSame([], array_intersect($this->secrets($kind), array_keys($status)), $code.' tells no secret');
            if (null !== $own) {
                $this->door($code)->put($password, [$own => 'new-name']);
                delay(0.12);
                $this->waits($code);
                self::assertSame('new-name', $this->door($code)->status($password)[$own] ?? null, $code);
            }
            $shapes[$kind->admin?->status->as->value] = $ways[$kind->admin?->login->value] = true;
        }
        self::assertGreaterThanOrEqual(3, \count($shapes), 'of several shapes');
        self::assertGreaterThanOrEqual(4, \count($ways), 'and ways to log in');
    }

    public function testACertificateIsKnownFromFirstSightAndNothingIsSaidToAnother(): void
    {
        $this->play('video-bar');
        $reader = new Reader(new Http($this->access));
        $look = function () use ($reader): void {
            $device = $this->plan->devices['video-bar'];
            $read = $reader->read(new VantagePoints($this->plan, $this->access), $device, ['admin' => 'Bench-1'])
                ?? self::fail('it did not answer');
            $this->plan = $this->plan->with(Reader::change($this->plan, $device, $read));
        };
        $this->standIn('video-bar')->configure('adminPassword', 'Bench-1');
        $look();
        $seen = $this->plan->devices['video-bar']->setting('certificate')->seen;
        self::assertMatchesRegularExpression('/^[0-9a-f]{64}$/D', (string) $seen);
        self::assertSame('video-bar', $this->plan->devices['video-bar']->setting('hostName')->seen);
        $look();
        self::assertNull($this->plan->devices['video-bar']->setting('certificate')->odd, 'the same again');

        $this->standIn('video-bar')->reset();
        $this->address('video-bar');
        $this->standIn('video-bar')->configure('hostName', 'somebody-else');
        $this->standIn('video-bar')->restart();
        delay(0.1);
        $this->waits('video-bar');
        $look();
        $certificate = $this->plan->devices['video-bar']->setting('certificate');
        self::assertSame($seen, $certificate->seen, 'first sight stays');
        self::assertNotNull($certificate->odd);
        self::assertSame('video-bar', $this->plan->devices['video-bar']->setting('hostName')->seen, 'nothing was asked of it');
        $found = array_values(array_filter(
            (new Analysis($this->plan))->findings()->all,
            static fn (Finding $finding): bool => 'certificate-changed' === $finding->code,
        ));
        self::assertCount(1, $found);
        $cure = $found[0]->cure ?? self::fail('it can be taken as known');
        $this->plan = $this->plan->with(new Change($cure->why, $cure->edits));
        self::assertSame($certificate->odd, $this->plan->devices['video-bar']->setting('certificate')->seen);
    }

    public function testNobodyHearsAPasswordUnaskedAndARedirectIsNotFollowed(): void
    {
        $this->play();
        $heard = '';
        [$server, $port] = self::listens("HTTP/1.1 302 Found\r\nlocation: http://127.0.0.2:1/\r\n\r\n", $heard);
        $here = Ipv4::fromString('127.0.0.1');
        $plan = (new Jobs())->segment('v', '10.33.20.0/24')->device('x', 'ring-alerter', 'v')->plan();
        $door = DeviceDoor::of(
            new Http(new ElsewhereAccess($port)),
            new VantagePoint($plan, 'test', new Adapter('lo', $here)),
            $here,
            $plan->devices['x'],
        ) ?? self::fail('it has a page');
        self::assertNull($door->status('very secret'));
        self::assertSame(1, substr_count($heard, 'GET /status.json'));
        self::assertStringNotContainsString('authorization', strtolower($heard));
        $server->close();
    }

    /** @return iterable<string, array{string|null, string|null, int, string}> MAC in the roster, who holds the address; times; words */
    public static function holders(): iterable
    {
        yield 'it is the device' => ['02-00-5E-00-00-07', '02-00-5E-00-00-07', 1, ''];
        yield 'another holds the address' => ['02-00-5E-00-00-07', '02-00-5E-00-00-08', 0, 'belongs to 02-00-5E-00-00-08'];
        yield 'nobody can tell' => ['02-00-5E-00-00-07', null, 0, 'Nothing tells that it is X'];
        yield 'its MAC is not known' => [null, '02-00-5E-00-00-08', 0, 'Nothing tells that it is X'];
    }

    #[DataProvider('holders')]
    public function testAPasswordInTheClearIsForTheDeviceAlone(?string $mac, ?string $holder, int $times, string $says): void
    {
        $this->play();
        $heard = '';
        [$server, $port] = self::listens(
            "HTTP/1.1 401 No\r\nWWW-Authenticate: Basic realm=\"x\"\r\nContent-Length: 0\r\nConnection: close\r\n\r\n",
            $heard,
        );
        $here = Ipv4::fromString('127.0.0.1');
        $plan = (new Jobs())->segment('v', '10.33.20.0/24')->device('x', 'ring-alerter', 'v', [], ['mac' => $mac])->plan();
        $http = new Http(new ElsewhereAccess($port, null === $holder ? null : Mac::fromString($holder)));
        $door = DeviceDoor::of($http, new VantagePoint($plan, 'test', new Adapter('lo', $here)), $here, $plan->devices['x'])
            ?? self::fail('it has a page');
        $said = '';
        try {
            self::assertNull($door->status('very secret'));
        } catch (UnidentifiedDevice $e) {
            $said = (string) $e->message();
        }
        self::assertSame($times, substr_count($heard, base64_encode('admin:very secret')));
        self::assertStringContainsString($says, $said);
        self::assertNull($door->status('admin', false), 'what everybody knows may be tried');
        self::assertStringContainsString(base64_encode('admin:admin'), $heard);
        $server->close();
    }

    public function testWhoHoldsTheAddressInsteadIsAFindingUntilItIsReadAgain(): void
    {
        $this->play();
        $plan = (new Jobs())->segment('v', '10.33.20.0/24')->device('x', 'ring-alerter', 'v', [], ['mac' => '02-00-5E-00-00-07'])
            ->device('y', 'ring-alerter', 'v', [], ['mac' => '02-00-5E-00-00-09'])->plan();
        $found = static fn (Plan $plan): array => array_values(Facts::of($plan, 'stranger-at-address', 'odd-answer'));
        foreach ([
            '02-00-5E-00-00-08' => 'blocks mac=02-00-5E-00-00-08 tag=X',
            '02-00-5E-00-00-09' => 'blocks other=Y mac=02-00-5E-00-00-09 tag=X',
        ] as $mac => $what) {
            $plan = $plan->with(Reader::change($plan, $plan->devices['x'], new Readback([], '', Mac::fromString($mac))));
            self::assertSame([$what], $found($plan));
        }
        $again = new Readback(['lan.address' => '10.33.20.40'], 'admin');
        self::assertSame([], $found($plan->with(Reader::change($plan, $plan->devices['x'], $again))));
    }

    /** @return array{ServerSocket, int} somebody who answers everything alike, and the port */
    private static function listens(string $answer, string &$heard): array
    {
        $server = listen('127.0.0.1:0');
        async(static function () use ($server, $answer, &$heard): void {
            while (null !== $client = $server->accept()) {
                $heard .= $client->read();
                $client->write($answer);
                $client->close();
            }
        })->ignore();

        return [$server, (int) substr((string) strrchr($server->getAddress()->toString(), ':'), 1)];
    }

    /** @return list<string> its own names of what is secret */
    private function secrets(Kind $kind): array
    {
        return array_values(array_filter(
            $kind->adminFields(),
            static fn (string $own, string $local): bool => null !== $kind->locals()[$local]->secret,
            \ARRAY_FILTER_USE_BOTH,
        ));
    }

    private function play(string ...$kinds): void
    {
        $jobs = (new Jobs())->segment('v', '10.33.20.0/24', '10.33.20.1');
        foreach (array_values($kinds) as $n => $kind) {
            $jobs->device($kind, $kind, 'v', ['address' => '10.33.20.'.(100 + $n)], ['serial' => 'NM'.$n]);
        }
        $this->plan = $jobs->plan();
        $this->job = new Simulation($this->plan, 'http://127.0.0.1:1/', $this->keep, 2000.0, static function (string $said): void {
        }, new Loopback(33));
        $probe = listen('127.0.0.1:0');
        $port = (int) substr((string) strrchr($probe->getAddress()->toString(), ':'), 1);
        $probe->close();
        $this->shut = SocksGateway::open($port, fn (): array => [$this->job]);
        $this->access = new LabAccess($port, new Loopback(33));
        $this->job->follow($this->plan, []);
        foreach ($kinds as $kind) {
            $state = $this->standIn($kind)->state;
            $this->address($kind);
            if ('' === $state->firstPassword) {
                $state->firstPassword = 'of its label';
            }
            $state->put('adminPassword', $state->firstPassword);
            (new FrontPanel($this->standIn($kind)))->power(true);
            $this->waits($kind);
        }
    }

    private function address(string $key): void
    {
        foreach (['address' => $this->plan->devices[$key]->nic()?->setting('address')->planned, 'mask' => '/24'] as $name => $value) {
            $this->standIn($key)->configure($name, (string) $value);
        }
    }

    private function standIn(string $key): StandIn
    {
        return $this->job->standIn($key) ?? self::fail('nobody plays '.$key);
    }

    private function waits(string $key): void
    {
        for ($try = 0; $try < 150 && !$this->standIn($key)->isUp(); ++$try) {
            delay(0.02);
        }
    }

    private function door(string $key): DeviceDoor
    {
        $device = $this->plan->devices[$key];
        $address = $device->nic()?->plannedAddress() ?? self::fail();

        return DeviceDoor::of(new Http($this->access), (new VantagePoints($this->plan, $this->access))->on('v'), $address, $device)
            ?? self::fail($key.' has no page');
    }
}
