<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Plan;
use Vorhut\Lab\AddressSpaces;
use Vorhut\Lab\Simulation;
use Vorhut\Lab\SocksGateway;
use Vorhut\Outpost\Probe\LabAccess;
use Vorhut\Outpost\Probe\NoAnswer;
use Vorhut\Socket\Loopback;
use Vorhut\Tests\Support\Jobs;

use function Amp\delay;
use function Amp\Socket\listen;

/** Several jobs in one lab. */
final class AddressSpacesTest extends TestCase
{
    private static function plan(string $network, string $address): Plan
    {
        return (new Jobs())->segment('v', $network)->device('cam', 'desk-phone-poe', 'v', ['address' => $address])->plan();
    }

    public function testJobsOnOneSubnetGetDifferentPartsOfLoopback(): void
    {
        $spaces = new AddressSpaces(0);
        $plan = self::plan('10.91.20.0/24', '10.91.20.31');
        self::assertSame(0, $spaces->assign(1, $plan, 0));
        self::assertSame(1, $spaces->assign(2, $plan, 0));
        self::assertSame(1, $spaces->assign(2, $plan, 1), 'a job keeps its part');
        self::assertSame(0, $spaces->assign(1, $plan, 0));
        $spaces->release(1);
        self::assertSame(0, $spaces->assign(3, $plan, 0));
    }

    public function testFactoryAndLinkLocalAddressesAreApartToo(): void
    {
        $spaces = new AddressSpaces(0);
        $kind = 'ptz-camera';
        $factory = Jobs::catalogue()->kind($kind)?->factoryStates[0]->address;
        self::assertNotNull($factory);
        $used = [];
        foreach ([1, 2, 3] as $job) {
            $plan = (new Jobs())->segment('v', "10.$job.20.0/24")->device('cam', $kind, 'v', ['address' => "10.$job.20.31"])->plan();
            $shift = $spaces->assign($job, $plan, 0);
            self::assertNotNull($shift);
            foreach ([(string) $factory, '169.254.7.7', "10.$job.20.31"] as $address) {
                $used[] = (string) (new Loopback($shift))->of(Ipv4::fromString($address));
            }
        }
        self::assertSame($used, array_unique($used));
    }

    public function testNoJobIsPutWhereTheMachineItselfListens(): void
    {
        // 10.0.0.31 would be 127.0.0.31 without a shift.
        self::assertSame(1, (new AddressSpaces(0))->assign(1, self::plan('10.0.0.0/24', '10.0.0.31'), 0));
        self::assertSame(0, (new AddressSpaces(0))->assign(1, self::plan('10.0.9.0/24', '10.0.9.31'), 0));
        self::assertSame(0, (new AddressSpaces(7))->assign(1, self::plan('10.0.0.0/24', '10.0.0.31'), 0));
        self::assertNull((new AddressSpaces(0))->assign(1, self::everywhere(), 0));
    }

    private static function everywhere(): Plan
    {
        $jobs = new Jobs();
        for ($octet = 0; $octet < 256; ++$octet) {
            $jobs->segment('s'.$octet, "10.$octet.0.0/24");
        }

        return $jobs->plan();
    }

    public function testAQuestionOfOneJobIsAnsweredByItsOwnDevice(): void
    {
        $plan = self::plan('10.91.20.0/24', '10.91.20.31');
        $spaces = [new Loopback(0), new Loopback(1)];
        $labs = [];
        foreach ($spaces as $n => $space) {
            $keep = sys_get_temp_dir().'/vorhut-spaces-'.bin2hex(random_bytes(5)).'.json';
            $labs[$n] = new Simulation($plan, 'http://127.0.0.1:1/', $keep, 5000.0, static function (string $said): void {
            }, $space);
            $labs[$n]->follow($plan, []);
        }
        $probe = listen('127.0.0.1:0');
        $port = (int) substr((string) strrchr($probe->getAddress()->toString(), ':'), 1);
        $probe->close();
        $shut = SocksGateway::open($port, static fn (): array => $labs);
        try {
            // Only in the second job the device is set and on.
            $standIn = $labs[1]->standIn('cam') ?? self::fail('nobody plays it');
            $standIn->configure('address', '10.91.20.31');
            $standIn->configure('mask', '/24');
            $standIn->state->powered = true;
            $standIn->restart();
            delay(1.0);
            self::assertSame(['silent', 'answered'], array_map(
                static fn (Loopback $space): string => self::asked(new LabAccess($port, $space)),
                $spaces,
            ));
        } finally {
            $shut();
            array_map(static fn (Simulation $lab) => $lab->off(), $labs);
        }
    }

    private static function asked(LabAccess $access): string
    {
        try {
            $access->connect(Ipv4::fromString('10.91.20.254'), Ipv4::fromString('10.91.20.31'), 80, 1.0)->close();

            return 'answered';
        } catch (NoAnswer) {
            return 'silent';
        }
    }
}
