<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Walk;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Discovery\Delivery;
use Vorhut\Core\Network\Discovery\Findable;
use Vorhut\Core\Network\Discovery\Method;
use Vorhut\Core\Network\Discovery\MulticastGroup;
use Vorhut\Core\Network\Walk\Fault;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Tests\Support\Jobs;

/** A wireless device that is not let in has no network, whatever its addresses say. */
final class WirelessAccessTest extends TestCase
{
    private const HANDSET = ['networkName' => 'Voice', 'wirelessSecurity' => 'WPA2-Enterprise', 'eapMethod' => 'PEAP'];
    private const CONTROLLER = ['networkName' => 'Voice', 'wirelessSecurity' => 'WPA2-Enterprise', 'authServer' => 'v'];
    private const SERVER = ['methods' => 'PEAP', 'clientAddresses' => '10.40.0.20'];

    /**
     * @param array<string, string> $handset
     * @param array<string, string> $controller
     * @param array<string, string> $server
     */
    private static function jobs(array $handset, array $controller, array $server): Jobs
    {
        return (new Jobs())
            ->segment('s', '10.40.0.0/24', '10.40.0.1')
            ->segment('t', '10.40.1.0/24', '10.40.1.1')
            ->router('r', ['s' => '10.40.0.1/24', 't' => '10.40.1.1/24'])
            ->device('h', 'wireless-handset', 't', ['address' => '10.40.1.31'] + $handset + self::HANDSET)
            ->device('c', 'wireless-controller', 's', ['address' => '10.40.0.20'] + $controller + self::CONTROLLER)
            ->device('v', 'authentication-server', 't', ['address' => '10.40.1.10'] + $server + self::SERVER)
            ->device('p', 'desk-phone-poe', 's', ['address' => '10.40.0.31']);
    }

    private static function walk(Jobs $jobs, string $from = 'p', string $to = 'h'): Walk
    {
        return Walker::between(NetworkModel::of($jobs->plan(), Face::Set), $from, $to, Port::udp(5060));
    }

    /**
     * @param array<string, string> $handset
     * @param array<string, string> $controller
     * @param array<string, string> $server
     */
    #[DataProvider('accepted')]
    public function testItIsLetIn(array $handset, array $controller = [], array $server = []): void
    {
        $jobs = self::jobs($handset, $controller, $server);
        self::assertTrue(self::walk($jobs)->holds());
        self::assertTrue(self::walk($jobs, 'h', 'p')->holds());
    }

    /** @return iterable<string, array{0: array<string, string>, 1?: array<string, string>, 2?: array<string, string>}> */
    public static function accepted(): iterable
    {
        yield 'all agree' => [[]];
        yield 'one of several methods' => [['eapMethod' => 'EAP-TLS'], [], ['methods' => 'PEAP, EAP-TLS']];
        yield 'one of several clients' => [[], [], ['clientAddresses' => '10.40.0.9, 10.40.0.20']];
        yield 'no controller has a name yet' => [[], ['networkName' => '']];
        yield 'no server is chosen yet' => [['eapMethod' => 'EAP-TLS'], ['authServer' => '']];
        yield 'clients are not known yet' => [[], [], ['clientAddresses' => '']];
        $personal = ['wirelessSecurity' => 'WPA2-Personal'];
        yield 'nobody asks a server' => [$personal + ['eapMethod' => 'EAP-TLS'], $personal, ['clientAddresses' => '10.40.0.9']];
    }

    /**
     * @param array<string, string> $handset
     * @param array<string, string> $controller
     * @param array<string, string> $server
     */
    #[DataProvider('refused')]
    public function testItIsKeptOut(string $why, array $handset, array $controller = [], array $server = []): void
    {
        $jobs = self::jobs($handset, $controller, $server);
        foreach ([self::walk($jobs), self::walk($jobs, 'h', 'p')] as $walk) {
            self::assertSame(Fault::NotAuthenticated, $walk->brokenHop()?->fault);
            self::assertSame($why, (string) $walk->brokenHop()->text);
            self::assertSame('h', $walk->culprit?->device);
        }
        self::assertTrue(self::walk($jobs, 'c', 'p')->holds(), 'who is wired needs no leave');
        $outside = Walker::entering(NetworkModel::of($jobs->plan(), Face::Set), Ipv4::fromString('192.0.2.1'), 'h', Port::udp(5060));
        self::assertFalse($outside->holds());
    }

    /** @return iterable<string, array{0: string, 1: array<string, string>, 2?: array<string, string>, 3?: array<string, string>}> */
    public static function refused(): iterable
    {
        yield 'another name' => [
            'H is set to the Wi-Fi network voice, which no controller offers. Offered: Voice.',
            ['networkName' => 'voice'],
        ];
        yield 'no network name at all' => ['H is set to no Wi-Fi network. Offered: Voice.', ['networkName' => '']];
        yield 'another security' => ['H uses WPA3-Enterprise, C uses WPA2-Enterprise.', ['wirelessSecurity' => 'WPA3-Enterprise']];
        yield 'another method' => [
            'H uses the EAP method EAP-TLS; V accepts only PEAP.',
            ['eapMethod' => 'EAP-TLS'],
        ];
        yield 'an unknown client' => [
            'V drops requests of C from 10.40.0.20, which is not in its client list (10.40.0.9, 10.40.0.21).',
            [],
            [],
            ['clientAddresses' => '10.40.0.9, 10.40.0.21'],
        ];
        yield 'a server out of reach' => [
            'C gets no answer from V: The request arrives, the answer cannot leave: '
                .'V has no gateway, and 10.40.0.20 is not in its 10.40.1.0/24.',
            [],
            [],
            ['gateway' => ''],
        ];
    }

    public function testWhoIsKeptOutIsFoundByNoMethod(): void
    {
        foreach (['Voice' => true, 'voice' => false] as $name => $found) {
            $model = NetworkModel::of(self::jobs(['networkName' => $name], [], [])->plan(), Face::Set);
            $ways = array_filter(
                array_filter(Method::all(), static fn (Method $one): bool => Method::NAME !== $one->reach),
                static fn (Method $one): bool => true === Findable::by($model, 't', $model->plan->devices['h'], $one)->found,
            );
            self::assertSame($found, \count($ways) > 1, implode(' ', array_keys($ways)));
            if (!$found) {
                self::assertSame([], $ways);
            }
        }
    }

    public function testOneOfSeveralControllersIsEnough(): void
    {
        $jobs = self::jobs([], [], ['clientAddresses' => '10.40.0.21']);
        self::assertFalse(self::walk($jobs)->holds());
        $jobs->device('c2', 'wireless-controller', 's', ['address' => '10.40.0.21'] + self::CONTROLLER);
        self::assertTrue(self::walk($jobs)->holds());
    }

    public function testWhatWasReadIsNamed(): void
    {
        $walk = self::walk(self::jobs(['eapMethod' => 'EAP-TTLS'], [], []));
        self::assertContains('devices/h:eapMethod=EAP-TTLS', $walk->facts->texts());
        self::assertContains('devices/v:methods=PEAP', $walk->facts->texts());
    }

    public function testOnTheBenchNobodyAsksForAccess(): void
    {
        $plan = self::jobs(['networkName' => 'voice'], [], [])->plan();
        self::assertNull(NetworkModel::outOfTheBox($plan)->refusal('h'));
        self::assertNotNull(NetworkModel::of($plan, Face::Set)->refusal('h'));
        self::assertNull(NetworkModel::of($plan, Face::Set)->refusal('c'));
    }

    public function testANameThatIsNotKnownYetKeepsNobodyOut(): void
    {
        $jobs = self::jobs([], [], [])->change('settings', 'devices/h#networkName', 'planned', null);
        self::assertTrue(self::walk($jobs)->holds());
    }

    public function testNoGroupComesToWhoIsKeptOut(): void
    {
        foreach (['Voice' => 'arrives', 'voice' => 'not'] as $name => $verdict) {
            $plan = self::jobs(['networkName' => $name], [], [])
                ->row('groups', ['key' => 'g', 'name' => 'Paging', 'address' => '239.192.1.1', 'sender' => 'v', 'ttl' => 8])
                ->row('joins', ['key' => 'j', 'group' => 'g', 'device' => 'h'])->plan();
            $delivery = Delivery::of(
                $plan,
                MulticastGroup::all($plan)[0],
                $plan->devices['h'],
                NetworkModel::of($plan, Face::Set),
            );
            self::assertSame($verdict, $delivery->verdict);
            $codes = array_map(static fn (Finding $one): string => $one->code, Findings::of($plan, ShippedRules::all())->all);
            self::assertSame('not' === $verdict, \in_array('group-not-heard', $codes, true));
        }
    }
}
