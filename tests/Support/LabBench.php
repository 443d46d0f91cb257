<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Amp\Socket\ServerSocket;
use Amp\Socket\Socket;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Voice\ProvisioningFile;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Lab\InjectedFault;
use Vorhut\Lab\SealedFiles;
use Vorhut\Lab\Simulation;
use Vorhut\Lab\SocksGateway;
use Vorhut\Outpost\Probe\Evidence;
use Vorhut\Outpost\Probe\LabAccess;
use Vorhut\Outpost\Probe\TestRunner;
use Vorhut\Outpost\Probe\VantagePoints;
use Vorhut\Provisioning\Files;

use function Amp\async;
use function Amp\delay;
use function Amp\Socket\listen;

/** A small job in the lab within one process: stand-ins, a server for phone files, an outpost. */
final class LabBench
{
    public readonly Plan $plan;
    public readonly Simulation $job;
    /** @var \Closure(): void */
    private \Closure $shut;
    private ServerSocket $files;
    /** How often a phone asked for its file. */
    public int $taken = 0;
    private readonly int $port;
    private readonly string $keep;

    /**
     * @param int                        $net  third octet family, so that tests do not meet on loopback
     * @param (\Closure(Jobs): mixed)|null $more what the job has beside
     * @param SealedFiles|null           $sealed where files go over HTTPS
     */
    public function __construct(int $net, ?\Closure $more = null, ?SealedFiles $sealed = null)
    {
        $set = static fn (string $address, string $gateway): array => [
            'address' => $address,
            'address.set' => $address,
            'mask.set' => '/24',
            'gateway.set' => $gateway,
            'dns.set' => '',
        ];
        $jobs = (new Jobs())->segment('v', "10.$net.20.0/24", "10.$net.20.1")->segment('q', "10.$net.40.0/24", "10.$net.40.1")
            ->router('r', ['v' => "10.$net.20.1/24", 'q' => "10.$net.40.1/24"])
            ->device('pbx', 'on-site-pbx', 'v', $set("10.$net.20.10", "10.$net.20.1"))
            ->device('cam', 'ptz-camera', 'q', $set("10.$net.40.31", "10.$net.40.1"), ['controlledFrom' => 'v'])
            ->device('codec', 'room-codec', 'v', $set("10.$net.20.12", "10.$net.20.1"));
        $jobs->job += ['timeZone' => 'Europe/Oslo', 'voicemailAfter' => 2, 'emergencyNumbers' => ['112']];
        foreach ([
            'a' => ['v', "10.$net.20.31", "10.$net.20.1", '2101'],
            'b' => ['q', "10.$net.40.51", "10.$net.40.1", '2102'],
        ] as $key => [$segment, $address, $gateway, $number]) {
            $mac = '00-00-5E-00-53-'.substr($number, 2);
            $jobs->device(
                $key,
                'desk-phone-poe',
                $segment,
                $set($address, $gateway) + ['provisioning.set' => 'vorhut', 'provisioningUser.set' => ''],
                ['mac' => $mac],
            )
                ->number($number, $key, $mac, ['voicemail' => true, 'location' => 'x']);
        }
        if (null !== $more) {
            $more($jobs);
        }
        $this->plan = $jobs->plan();
        $this->files = listen('127.0.0.1:0');
        async(function (): void {
            while (null !== $client = $this->files->accept()) {
                async(fn () => $this->serve($client))->ignore();
            }
        })->ignore();
        $this->keep = sys_get_temp_dir().'/vorhut-lab-'.bin2hex(random_bytes(6)).'.json';
        $this->job = new Simulation(
            $this->plan,
            'http://'.$this->files->getAddress()->toString().'/',
            $this->keep,
            500.0,
            static function (string $said): void {
            },
        );
        $probe = listen('127.0.0.1:0');
        $this->port = (int) substr($probe->getAddress()->toString(), 10);
        $probe->close();
        $this->shut = SocksGateway::open($this->port, fn (): array => [$this->job]);
        $this->job->filesAt($sealed);
        $this->job->handsOn($this->plan, [
            'a2101' => 'secret-of-2101', 'a2102' => 'secret-of-2102', 'devices/pc#srt' => 'harbour-at-night',
        ]);
        $this->settle();
    }

    public function settle(float $seconds = 1.6): void
    {
        delay($seconds);
    }

    public function play(InjectedFault $fault, string $device): void
    {
        $why = $this->job->play($fault, $device);
        if (null !== $why) {
            throw new \LogicException($why);
        }
        $this->settle();
    }

    public function prove(string $test): Evidence
    {
        $access = new LabAccess($this->port);
        $one = TestPlan::of($this->plan)->test($test) ?? throw new \LogicException('There is no line '.$test);

        $isAdmin = static fn (string $owner): bool => 1 === preg_match('~^devices/[^#]+$~D', $owner);
        $secretOf = static fn (string $owner): string => $isAdmin($owner) ? 'admin' : 'secret-of-'.substr($owner, 1);

        return (new TestRunner($access, $this->places(), $secretOf))->probe($one);
    }

    /** @return array<mixed> what the lab keeps of a device */
    public function kept(string $device): array
    {
        $kept = json_decode((string) file_get_contents($this->keep), true);
        $one = \is_array($kept) ? $kept[$device] ?? [] : [];

        return \is_array($one) ? $one : [];
    }

    public function places(?Plan $plan = null): VantagePoints
    {
        return new VantagePoints($plan ?? $this->plan, $this->access());
    }

    public function port(): int
    {
        return $this->port;
    }

    public function access(): LabAccess
    {
        return new LabAccess($this->port);
    }

    public function close(): void
    {
        $this->job->off();
        ($this->shut)();
        $this->files->close();
        @unlink($this->keep);
        delay(0.05);
    }

    private function serve(Socket $client): void
    {
        $mac = 1 === preg_match(
            '#^GET /([0-9a-f]{12})\.(?:xml|ini|json) #',
            (string) $client->read(),
            $found,
        ) ? Mac::fromString($found[1]) : null;
        $file = $this->file($mac);
        if (null !== $file) {
            $client->write((string) new Response(200, [], $file));
        }
        $client->close();
    }

    public function file(?Mac $mac): ?string
    {
        ++$this->taken;
        foreach ($this->plan->devices as $device) {
            if (null !== $mac && true === $device->nic()?->mac?->equals($mac)) {
                $number = $this->plan->extensionsOf($device->key)[0]->number;

                return (new Files(\dirname(__DIR__, 2)))->render(ProvisioningFile::of($this->plan, $device, 'secret-of-'.$number, 'admin'));
            }
        }

        return null;
    }
}
