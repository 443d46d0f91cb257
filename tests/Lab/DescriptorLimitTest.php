<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Lab\Simulation;
use Vorhut\Socket\DescriptorLimit;
use Vorhut\Socket\Loopback;
use Vorhut\Tests\Support\Jobs;

use function Amp\delay;
use function Amp\Socket\connect;

/** More devices than a lab has sockets for: those that it plays it plays well, of the others it says so. */
final class DescriptorLimitTest extends TestCase
{
    public function testALabOfFourHundredCamerasStaysUp(): void
    {
        $jobs = (new Jobs())->segment('s', '10.180.40.0/23', '10.180.40.1');
        for ($n = 0; $n < 400; ++$n) {
            $address = '10.180.'.(40 + intdiv($n, 200)).'.'.(30 + $n % 200);
            $jobs->device("c$n", 'ptz-camera', 's', ['address' => $address, 'address.set' => $address, 'mask.set' => '/23']);
        }
        $said = [];
        $keep = sys_get_temp_dir().'/vorhut-room-'.bin2hex(random_bytes(5)).'.json';
        $lab = new Simulation($jobs->plan(), 'http://127.0.0.1:1/', $keep, 5000.0, static function (string $line) use (&$said): void {
            $said[] = $line;
        });
        try {
            $lab->handsOn($jobs->plan(), []);
            delay(1.5);
            self::assertGreaterThan(50, \count($said));
            self::assertStringContainsString('is not played: this lab has no more sockets', $said[0]);
            self::assertTrue(DescriptorLimit::isLeft(100));
            self::assertFalse(DescriptorLimit::isLeft(DescriptorLimit::MOST));
            $first = connect((new Loopback())->of(Ipv4::fromString('10.180.40.30')).':'.Loopback::port(80));
            $first->write("GET /status.json HTTP/1.1\r\nHost: x\r\n\r\n");
            self::assertStringStartsWith('HTTP/1.1 401', (string) $first->read(), 'who is played answers');
            $first->close();
        } finally {
            $lab->off();
            @unlink($keep);
        }
    }
}
