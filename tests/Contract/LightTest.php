<?php

declare(strict_types=1);

namespace Vorhut\Tests\Contract;

use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;
use Vorhut\Core\Wire\Sacn\SacnPacket;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\KernelNetwork;

/** Packets of light, written and read by an independent party. */
final class LightTest extends TestCase
{
    public function testAGroupIsHeardOnTheWireOfTheKernelAndAnotherIsNot(): void
    {
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
            $hears = static fn (string $host, string $universe, string $address) => $network->process($host, [
                'php', 'tests/Support/group.php', 'hear', $universe, $address,
            ]);
            $ears = [
                'who stands on its wire' => [$hears('b', '300', '10.99.2.20'), '10.99.2.10 Hall desk'],
                'another group' => [$hears('b', '301', '10.99.2.20'), 'nobody'],
                'behind a router' => [$hears('c', '300', '10.99.3.30'), 'nobody'],
            ];
            foreach ($ears as [$ear]) {
                $ear->start();
            }
            $network->process('a', ['php', 'tests/Support/group.php', 'send', '300', '10.99.2.10', 'Hall desk'])->mustRun();
            foreach ($ears as $who => [$ear, $heard]) {
                $ear->wait();
                self::assertSame($heard, $ear->getOutput(), $who.': '.$ear->getErrorOutput());
            }
        } finally {
            $network->close();
        }
    }

    public function testTheyReadOursAndWeReadTheirs(): void
    {
        $ours = new SacnPacket(str_repeat("\x11", 16), 'Hall desk', 140, 5, 777, "\x2A".str_repeat("\0", 511));
        $party = new Process(['node', __DIR__.'/light.mjs'], null, null, bin2hex((string) $ours));
        $party->mustRun();
        $said = json_decode($party->getOutput(), true);
        self::assertIsArray($said);
        self::assertSame(
            ['universe' => 777, 'priority' => 140, 'sequence' => 5, 'source' => 'Hall desk', 'first' => 42, 'count' => 513],
            $said['read'],
        );
        self::assertIsString($said['theirs']);
        $theirs = SacnPacket::fromString((string) hex2bin($said['theirs']));
        self::assertSame([321, 9, 130, 'Booth', "\xFF\x0C\0", 'M', str_repeat("\7", 16)], [
            $theirs->universe, $theirs->sequence, $theirs->priority, $theirs->source,
            substr($theirs->levels, 0, 3), $theirs->levels[511], $theirs->cid,
        ]);
    }
}
