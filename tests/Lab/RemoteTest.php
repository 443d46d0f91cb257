<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;
use Vorhut\Outpost\Probe\NoAccess;
use Vorhut\Outpost\Remote\Remote;
use Vorhut\Outpost\Remote\ServerAway;
use Vorhut\Outpost\Remote\ServerClient;
use Vorhut\Tests\Support\Jobs;

/** An outpost whose server does not take what it says. */
final class RemoteTest extends TestCase
{
    /** @return iterable<string, array{int, bool}> */
    public static function statuses(): iterable
    {
        yield 'dismissed' => [401, true];
        yield 'deleted' => [410, true];
        yield 'busy' => [503, false];
        yield 'not understood' => [400, false];
    }

    #[DataProvider('statuses')]
    public function testOnlyADismissedOutpostEnds(int $status, bool $ends): void
    {
        $router = sys_get_temp_dir().'/vorhut-server-'.bin2hex(random_bytes(4)).'.php';
        file_put_contents($router, "<?php http_response_code($status);");
        $port = self::freePort();
        $server = new Process([\PHP_BINARY, '-S', '127.0.0.1:'.$port, $router]);
        $server->start();
        try {
            for ($tries = 0; $tries < 100 && false === @fsockopen('127.0.0.1', $port); ++$tries) {
                usleep(20_000);
            }
            $said = [];
            $remote = new Remote(
                new ServerClient('http://127.0.0.1:'.$port, 'token'),
                new NoAccess(),
                Jobs::catalogue(),
                static function (string $line) use (&$said): void {
                    $said[] = $line;
                },
            );
            if ($ends) {
                $this->expectException(ServerAway::class);
                $this->expectExceptionMessage("($status): pair it anew");
            }
            $remote->run(1);
            self::assertCount(1, $said, 'a server that is away is reported once');
            self::assertStringContainsString((string) $status, $said[0]);
        } finally {
            $server->stop(0);
            unlink($router);
        }
    }

    private static function freePort(): int
    {
        $server = stream_socket_server('tcp://127.0.0.1:0');
        self::assertIsResource($server);
        $port = (int) substr((string) strrchr((string) stream_socket_get_name($server, false), ':'), 1);
        fclose($server);

        return $port;
    }
}
