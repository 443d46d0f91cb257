<?php

declare(strict_types=1);

namespace Vorhut\Rehearsal;

use Amp\Socket\ServerSocket;
use Amp\Socket\Socket;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Voice\FileShape;
use Vorhut\Core\Voice\ProvisioningFile;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Lab\Simulation;
use Vorhut\Lab\SocksGateway;
use Vorhut\Outpost\Probe\LabAccess;
use Vorhut\Provisioning\Files;
use Vorhut\Socket\Background;
use Vorhut\Socket\Loopback;

use function Amp\Socket\listen;

/** Where a day is rehearsed: a lab of its own within this process, with the stand-ins of one plan and a server for the files of phones. */
final class LabEnvironment
{
    public readonly Simulation $lab;
    public readonly LabAccess $access;
    private readonly ServerSocket $files;
    private readonly string $keep;
    /** @var \Closure(): void */
    private readonly \Closure $shut;

    /**
     * @param \Closure(): Plan      $plan    as it stands now
     * @param array<string, string> $secrets account key → SIP secret, `devices/KEY` → password
     */
    public function __construct(
        private readonly \Closure $plan,
        private readonly array $secrets,
        private readonly Files $templates,
        float $pace,
        Loopback $loopback,
    ) {
        $this->keep = sys_get_temp_dir().'/vorhut-day-'.bin2hex(random_bytes(6)).'/day.json';
        $this->files = listen('127.0.0.1:0');
        Background::run('files of phones', function (): void {
            while (null !== $client = $this->files->accept()) {
                Background::run('files of phones', fn () => $this->serve($client));
            }
        });
        $this->lab = new Simulation(
            $plan(),
            'http://'.$this->files->getAddress()->toString().'/',
            $this->keep,
            $pace,
            static function (string $said): void {
            },
            $loopback,
        );
        $port = self::freePort();
        $this->shut = SocksGateway::open($port, fn (): array => [$this->lab]);
        $this->access = new LabAccess($port, $loopback);
    }

    /** Closes all connections and deletes the stored files. */
    public function close(): void
    {
        $this->lab->off();
        ($this->shut)();
        $this->files->close();
        foreach (array_merge(glob(\dirname($this->keep).'/certificates/*') ?: [], glob(\dirname($this->keep).'/*.json*') ?: []) as $file) {
            @unlink($file);
        }
        @rmdir(\dirname($this->keep).'/certificates');
        @rmdir(\dirname($this->keep));
    }

    private static function freePort(): int
    {
        $probe = listen('127.0.0.1:0');
        $port = (int) substr((string) strrchr($probe->getAddress()->toString(), ':'), 1);
        $probe->close();

        return $port;
    }

    private function serve(Socket $client): void
    {
        $asked = (string) $client->read();
        $mac = 1 === preg_match('#^GET /([0-9a-f]{12})\.(?:'.FileShape::ENDINGS.') #', $asked, $found) ? Mac::fromString($found[1]) : null;
        $response = new Response(404);
        $plan = ($this->plan)();
        foreach ($plan->devices as $device) {
            if (null === $mac || true !== $device->nic()?->mac?->equals($mac)) {
                continue;
            }
            $extension = $plan->extensionsOf($device->key)[0] ?? null;
            $account = null === $extension ? null : $plan->accountOf($extension->key);
            try {
                $response = new Response(200, [], $this->templates->render(ProvisioningFile::of(
                    $plan,
                    $device,
                    $this->secrets[$account->key ?? ''] ?? '',
                    $this->secrets[$device->record()] ?? '',
                )));
            } catch (Malformed) {
                $response = new Response(404);
            }
        }
        $client->write((string) $response);
        $client->close();
    }
}
