<?php

declare(strict_types=1);

namespace Vorhut\Tests\Contract;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\ExecutableFinder;
use Symfony\Component\Process\Process;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Network\AdminSheet\AdminSheet;
use Vorhut\Core\Network\AdminSheet\DhcpConfiguration;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

/** What is handed to an administrator as the configuration of a DHCP server, its own check takes. */
final class DhcpServerTest extends TestCase
{
    /** @return iterable<string, array{Plan, list<string>}> */
    public static function jobs(): iterable
    {
        yield 'the port' => [JobDocument::fromJson(Jobs::demo('port'), Jobs::catalogue())->plan(Jobs::catalogue()), [
            'dhcp-range=set:hall,10.64.30.100,10.64.30.149,255.255.255.0,12h',
            'dhcp-host=00:00:5e:00:53:04,10.64.20.31',
            'dhcp-option=tag:voice,66,http://10.64.10.9/p/x/',
            'dhcp-option=tag:voice,120,01:0A:40:14:0A',
        ]];
        $odd = (new Jobs())->segment('s', '10.40.1.0/24', '10.40.1.1')->change('segments', 's', 'name', "Hall \"A\"\n# x")
            ->device('p', 'desk-phone-poe', 's', ['address' => '10.40.1.31'], ['mac' => '00-00-5E-00-53-01']);
        $odd->job['domain'] = 'av.example';
        yield 'a name that ends no line' => [$odd->plan(), ['dhcp-option=tag:s,15,av.example', '# Hall  A  x 10.40.1.0/24']];
        yield 'a pool without reservations' => [
            (new Jobs())->segment('s', '10.40.1.0/24', '10.40.1.1', ['pools' => ['10.40.1.100-149'], 'dns' => '10.40.1.53'])->plan(),
            ['dhcp-range=set:s,10.40.1.100,10.40.1.149', 'dhcp-option=tag:s,3,10.40.1.1', 'dhcp-option=tag:s,6,10.40.1.53'],
        ];
        yield 'without a gateway the server must not give its own address' => [
            (new Jobs())->segment('s', '10.40.1.0/24', null, ['pools' => ['10.40.1.100-149']])->plan(),
            ["dhcp-option=tag:s,3\n"],
        ];
        yield 'nobody waits' => [(new Jobs())->segment('s', '169.254.0.0/16')->plan(), ['dhcp-authoritative']];
    }

    /** @param list<string> $lines */
    #[DataProvider('jobs')]
    public function testItsOwnCheckTakesIt(Plan $plan, array $lines): void
    {
        $text = DhcpConfiguration::of($plan, AdminSheet::of($plan, 'http://10.64.10.9/p/x/'));
        foreach ($lines as $line) {
            self::assertStringContainsString($line, $text);
        }
        $dnsmasq = (new ExecutableFinder())->find('dnsmasq', null, ['/usr/sbin']);
        if (null === $dnsmasq) {
            self::markTestSkipped('No dnsmasq here to check it.');
        }
        $file = (string) tempnam(sys_get_temp_dir(), 'vorhut');
        try {
            file_put_contents($file, $text);
            $check = new Process([$dnsmasq, '--test', '--conf-file='.$file]);
            self::assertSame(0, $check->run(), $check->getErrorOutput());
            self::assertStringContainsString('syntax check OK', $check->getErrorOutput().$check->getOutput());
        } finally {
            unlink($file);
        }
    }
}
