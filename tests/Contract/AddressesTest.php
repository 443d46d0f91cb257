<?php

declare(strict_types=1);

namespace Vorhut\Tests\Contract;

use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Symfony\Component\Process\Process;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;

/** IPv4 arithmetic against an independent party. */
final class AddressesTest extends TestCase
{
    public function testTenThousandSeededCases(): void
    {
        $random = new Randomizer(new Mt19937(20260301));
        $lines = [];
        for ($i = 0; $i < 10_000; ++$i) {
            $host = Ipv4::fromNumber($random->getInt(0, 0xFFFFFFFF));
            $network = Network::around($host, Mask::ofPrefix($i % 33));
            // Half of the probes near the network, where mistakes live.
            $probe = Ipv4::fromNumber(
                0 === $i % 2
                    ? $random->getInt(0, 0xFFFFFFFF)
                    : min(0xFFFFFFFF, max(0, $network->broadcast()->number + $random->getInt(-2, 2))),
            );
            $lines[] = implode(' ', [
                $host,
                $network->mask->prefix,
                $network->address,
                $network->broadcast(),
                $network->mask->toDotted(),
                $network->contains($probe) ? '1' : '0',
                $probe,
            ]);
        }
        $node = new Process(['node', __DIR__.'/addresses.mjs'], null, null, implode("\n", $lines)."\n");
        $node->mustRun();
        self::assertSame("10000 compared, 0 differ\n", $node->getOutput());
    }
}
