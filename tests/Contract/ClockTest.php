<?php

declare(strict_types=1);

namespace Vorhut\Tests\Contract;

use PHPUnit\Framework\TestCase;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\KernelNetwork;

/** The clock of an independent party, heard in a network of the kernel. */
final class ClockTest extends TestCase
{
    public function testWhoLeadsIsHeardOnItsWireAndNotBehindARouter(): void
    {
        if (!is_executable('/usr/sbin/ptp4l')) {
            self::markTestSkipped('ptp4l is not here.');
        }
        $network = KernelNetwork::make(['r' => ['hall', 'yard']], ['a' => 'hall', 'b' => 'hall', 'c' => 'yard']);
        if (\is_string($network)) {
            self::markTestSkipped($network);
        }
        try {
            $jobs = (new Jobs())->segment('hall', '10.99.2.0/24', '10.99.2.1')->segment('yard', '10.99.3.0/24', '10.99.3.1')
                ->router('r', ['hall' => '10.99.2.1/24', 'yard' => '10.99.3.1/24'])
                ->device('a', 'laptop', 'hall', ['address' => '10.99.2.10'])->device('b', 'laptop', 'hall', ['address' => '10.99.2.20'])
                ->device('c', 'laptop', 'yard', ['address' => '10.99.3.30']);
            $network->put($jobs->plan());
            $here = $network->process('b', ['php', 'tests/Support/group.php', 'clock', '0', '10.99.2.20']);
            $behind = $network->process('c', ['php', 'tests/Support/group.php', 'clock', '0', '10.99.3.30']);
            $here->start();
            $behind->start();
            $theirs = $network->process('a', ['timeout', '11', '/usr/sbin/ptp4l', '-i', 'eth0', '-4', '-S', '--priority1', '100', '-m']);
            $theirs->start();
            $here->wait();
            $theirs->stop(0);
            self::assertMatchesRegularExpression('/^10\.99\.2\.10 [0-9a-f]{12} 100$/', $here->getOutput(), $here->getErrorOutput());
            $behind->wait();
            self::assertSame('', $behind->getOutput());
        } finally {
            $network->close();
        }
    }
}
