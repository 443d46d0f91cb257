<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Finding;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Net\NearMiss;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Core\Voice\SwitchingTest;
use Vorhut\Tests\Support\Jobs;

final class RulesTest extends TestCase
{
    private static function job(): Jobs
    {
        $jobs = (new Jobs())
            ->segment('s', '10.64.30.0/24', '10.64.30.1', ['pools' => ['10.64.30.100-10.64.30.149']])
            ->router('r', ['s' => '10.64.30.1/24']);
        $jobs->job += [
            'timeZone' => 'Europe/Oslo',
            'extensionFirst' => '2100',
            'extensionLast' => '2199',
            'emergencyNumbers' => ['112'],
            'outsideDigit' => '0',
        ];

        return $jobs;
    }

    private static function phone(
        Jobs $jobs,
        string $mac = '00-00-5E-00-53-01',
        ?string $entered = '00-00-5E-00-53-01',
        bool $voicemail = false,
        ?string $location = 'Hall',
    ): Jobs {
        return $jobs->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.30.10'])
            ->device(
                'p',
                'desk-phone-poe',
                's',
                ['address' => '10.64.30.31', 'provisioning' => 'vorhut', 'provisioning.set' => 'vorhut'],
                ['mac' => $mac],
            )
            ->number('2101', 'p', $entered, ['voicemail' => $voicemail, 'location' => $location]);
    }

    /** @param array<string, string> $values */
    private static function camera(array $values): Jobs
    {
        return self::job()->device('c', 'ptz-camera', 's', $values + ['address' => '10.64.30.31']);
    }

    /**
     * @param array<string, string> $from
     * @param array<string, string> $to
     */
    private static function push(array $from, array $to = []): Jobs
    {
        return (new Jobs())->segment('s', '10.0.0.0/24')
            ->device('enc', 'streaming-encoder', 's', $from + ['address' => '10.0.0.11', 'pushProtocol' => 'SRT', 'frameRate' => '25'])
            ->device('pc', 'production-computer', 's', $to + ['address' => '10.0.0.12', 'hostName' => 'pc']);
    }

    /** @return iterable<string, array{list<string>, Jobs, bool}> codes that must be found, the job, whether a cure is offered */
    public static function mistakes(): iterable
    {
        $cam = self::camera(...);
        $changed = ['key' => 'c.admin', 'owner' => 'devices/c', 'purpose' => 'admin', 'state' => 'changed'];
        $set = ['address.set' => '10.64.30.31'];
        $laptop = self::job()
            ->device('l', 'laptop', 's', ['address' => '10.64.30.50', 'address.set' => '192.168.7.20', 'mask.set' => '/24'])
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31']);
        $laptop->job['laptop'] = 'l';
        yield '1 laptop outside the factory subnet' => [['laptop-outside-factory-subnet'], $laptop, true];
        yield '2 same factory address powered' => [
            ['same-factory-address'],
            $cam([])->device('d', 'ptz-camera', 's', ['address' => '10.64.30.32'])->done('c', 'hook-up')->done('d', 'hook-up'),
            false,
        ];
        $wakes = static fn (): Jobs => (new Jobs())->segment('s', '192.168.1.0/24', '192.168.1.1')
            ->device('x', 'on-site-pbx', 's', ['address' => '192.168.1.100'])
            ->device('c', 'ptz-camera', 's', ['address' => '192.168.1.31']);
        yield '2 one is to live where another wakes up' => [['lives-where-another-wakes'], $wakes(), false];
        yield '2 it lives there by now' => [['lives-where-another-wakes'], $wakes()->done('x', 'hook-up', 'address'), false];
        yield '4 swapped digits' => [
            ['typed-other-than-planned', 'not-written-down'],
            $cam($set + ['gateway.set' => '10.46.30.1'])->row('credentials', $changed),
            true,
        ];
        yield '5 gateway blank' => [
            ['gateway-blank', 'not-written-down'],
            $cam($set + ['gateway.set' => ''])->row('credentials', $changed),
            true,
        ];
        yield '5 gateway planned blank' => [['gateway-blank'], $cam(['gateway' => '']), true];
        yield '5 a router on the segment, and no gateway in the plan' => [
            ['gateway-blank'],
            (new Jobs())
                ->segment('s', '10.64.30.0/24')
                ->router('r', ['s' => '10.64.30.1/24'])
                ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31']),
            true,
        ];
        yield '7 masks differ' => [['masks-differ', 'mask-other-than-network'], $cam(['mask' => '/16']), true];
        yield '4 an address of another wire in the plan' => [['address-off-its-network'], $cam(['address' => '10.46.30.31']), false];
        yield '4 the last address of the network' => [['address-off-its-network'], $cam(['address' => '10.64.30.255']), false];
        yield 'the address of the DNS server' => [['address-in-use'], $cam([])->fact('dns', '10.64.30.31'), true];
        yield 'the address of a trunk\'s far end' => [
            ['address-in-use', 'trunk-does-not-go-out'],
            $cam([])->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.30.10'])
                ->row('trunks', ['key' => 't', 'name' => 'T', 'pbx' => 'pbx', 'address' => '10.64.30.31']),
            true,
        ];
        yield '4 a gateway that no router holds' => [['gateway-not-found'], $cam(['gateway' => '10.64.30.9']), true];
        $wired = static fn (string $here = '10.64.30.1/24', string $gateway = '10.64.30.1'): Jobs => (new Jobs())
            ->segment('s', '10.64.30.0/24', $gateway)
            ->segment('t', '10.64.31.0/24', '10.64.31.1')
            ->router('r', ['s' => $here, 't' => '10.64.31.1/24'])
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31'], ['controlledFrom' => 't']);
        yield 'nothing wrong with the wires' => [[], $wired(), false];
        yield 'the router holds another address than the gateway' => [['gateway-not-found'], $wired('10.64.30.4/24'), true];
        yield 'the segment names another gateway than the router holds' => [
            ['gateway-not-found'],
            $wired('10.64.30.1/24', '10.64.30.7'),
            true,
        ];
        yield 'the interface has another mask' => [['router-off-its-network'], $wired('10.64.30.1/28'), true];
        $route = static fn (string $to, string $via): Jobs => $wired()
            ->row('routes', ['key' => 'r-x', 'router' => 'r', 'destination' => $to, 'via' => $via]);
        yield 'a route by nobody' => [['route-without-router'], $route('10.9.0.0/16', '10.64.31.9'), false];
        yield 'a route by a network that is not there' => [['route-without-router'], $route('10.9.0.0/16', '192.0.2.9'), false];
        yield 'a route by itself' => [['route-without-router'], $route('10.9.0.0/16', '10.64.31.1'), false];
        yield 'a route out of the site' => [[], $route('0.0.0.0/0', '10.64.31.9'), false];
        $denied = ['key' => 'f', 'router' => 'r', 'position' => 1, 'from' => 't', 'to' => 's', 'transport' => 'tcp', 'action' => 'deny'];
        $voice = SwitchingTest::job(...);
        $sound = static fn (): Jobs => $voice()->row('settings', ['key' => 'devices/pbx#announcedAddress', 'planned' => '203.0.113.2'])
            ->row('translations', ['key' => 'm', 'router' => 'r', 'outside' => 'up', 'what' => 'forward', 'position' => 2,
                'inside' => '10.64.20.10', 'transport' => 'udp', 'portFirst' => 40000, 'portLast' => 40099])
            ->change('ringGroups', 'g', 'members', ['2101', '2102'])
            ->row('inboundRoutes', ['key' => 'fax', 'trunk' => 't1', 'position' => 5, 'map' => '4721000099', 'to' => '2901']);
        yield 'calls with nothing wrong' => [['no-emergency-location'], $sound(), false];
        $with = static fn (string $code, Jobs $jobs, bool $cure = false): array => [['no-emergency-location', $code], $jobs, $cure];
        yield '38 no sound through a translation' => $with(
            'trunk-without-sound',
            $sound()->change('translations', 'm', 'portLast', 40098),
        );
        yield '38 a private address announced' => $with(
            'trunk-without-sound',
            $sound()->change('settings', 'devices/pbx#announcedAddress', 'planned', '10.64.20.10'),
            true,
        );
        yield 'a trunk that nobody answers by' => $with('trunk-does-not-go-out', $sound()->change('trunks', 'tf', 'transport', 'tls'));
        yield 'a trunk that nothing comes in by' => $with('trunk-does-not-come-in', $sound()->change('trunks', 't1', 'registers', false));
        yield 'a member that is nobody' => $with('call-leads-nowhere', $sound()->change('ringGroups', 'g', 'members', ['2101', '2777']));
        yield 'a menu key that leads nowhere' => $with('call-leads-nowhere', $sound()->change('menus', 'm', 'choices', ['1 2199']));
        yield 'led in a circle' => $with('call-led-in-a-circle', $sound()->change('ringGroups', 'g', 'otherwise', '2200')
            ->change('menus', 'm', 'otherwise', '2300'));
        yield 'out by the trunk and in again' => $with('call-led-in-a-circle', $sound()->change('menus', 'm', 'choices', ['1 021000000']));
        yield '39 no number to ring back' => $with('no-callback-number', $sound()->change('trunks', 't1', 'callerId', null));
        yield '39 emergency denied' => $with('emergency-blocked', $sound()->change('trunks', 't1', 'emergency', false));
        yield '39 emergency altered' => $with('emergency-blocked', $sound()->change('callRoutes', 'emergency0', 'strip', 0));
        yield '39 not for all callers' => $with('emergency-blocked', $sound()->change('callRoutes', 'emergency', 'callers', '210[12]'));
        yield '39 an emergency route by office hours' => $with(
            'emergency-blocked',
            $sound()->change('callRoutes', 'emergency', 'timeFrame', 'day'),
        );
        yield 'analogue, and nobody knows where' => [['no-emergency-location'], self::job()
            ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.30.10', 'analoguePorts' => '2'])
            ->row('extensions', ['key' => 'an', 'number' => '2150', 'pbx' => 'pbx', 'terminal' => 'analogue']), false];
        yield '39 a number of elsewhere' => [['no-emergency-location', 'emergency-number-foreign', 'emergency-blocked'], $sound()
            ->fact('emergencyNumbers', ['112', '999']), false];
        yield 'a route that is never reached' => $with('route-never-reached', $sound()->row('callRoutes', ['key' => 'z', 'name' => 'Z',
            'pbx' => 'pbx', 'position' => 60, 'map' => '00049x.', 'needs' => 'international', 'trunk' => 't2']), true);
        yield 'an emergency call passes by who has no trunk for it' => [['no-emergency-location'], $sound()->row(
            'callRoutes',
            ['key' => 'z', 'name' => 'Z', 'pbx' => 'pbx', 'position' => 1, 'map' => '1xx', 'trunk' => 'tf'],
        ), false];
        yield 'two routes overlap' => $with('routes-overlap', $sound()->row('callRoutes', ['key' => 'z', 'name' => 'Z', 'pbx' => 'pbx',
            'position' => 60, 'map' => '00049x.|05x.', 'needs' => 'international', 'trunk' => 't2']));
        $opened = static fn (string $from, array $addresses = []): Jobs => (new Jobs())
            ->segment('s', '10.64.30.0/24', '10.64.30.1')->segment('t', '10.64.31.0/24', '10.64.31.1')
            ->segment('g', '10.64.32.0/24', '10.64.32.1')
            ->router('r', ['s' => '10.64.30.1/24', 't' => '10.64.31.1/24', 'g' => '10.64.32.1/24'])
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31'], ['controlledFrom' => 't'])
            ->row('filters', ['key' => 'f', 'router' => 'r', 'position' => 1, 'from' => $from, 'to' => 's', 'transport' => 'tcp',
                'portFirst' => 80, 'portLast' => 90, 'toAddresses' => array_values($addresses), 'action' => 'allow']);
        yield 'an admin page is opened to guests' => [['admin-page-opened'], $opened('g'), true];
        yield 'an admin page is opened to those who manage it' => [[], $opened('t'), false];
        yield 'a rule opens another address' => [[], $opened('g', ['10.64.30.99']), false];
        yield 'the location stayed behind' => [['emergency-location-elsewhere'], self::phone(self::job())
            ->device('w', 'projector', null, [], ['room' => 'Workshop'])
            ->change('extensions', 'x2101', 'location', 'Harbour street 4, ground floor, workshop')
            ->change('devices', 'p', 'room', 'Kitchen'), false];
        yield 'the location names the room' => [[], self::phone(self::job())
            ->device('w', 'projector', null, [], ['room' => 'Hall'])
            ->change('extensions', 'x2101', 'location', 'Harbour street 4, Hall, north')
            ->change('devices', 'p', 'room', 'Hall, north'), false];
        yield 'a room is no part of a word' => [[], self::phone(self::job())
            ->device('w', 'projector', null, [], ['room' => 'Hall'])
            ->change('extensions', 'x2101', 'location', 'Hallgate 4, kitchen')
            ->change('devices', 'p', 'room', 'Canteen'), false];
        yield 'a rule denies what is needed' => [['needed-way-broken'], $wired()->row('filters', $denied), true];
        $joined = static function (string ...$rooms): Jobs {
            $jobs = self::phone(self::job());
            foreach ($rooms as $key => $room) {
                $own = ['room' => $room, 'mac' => "00-00-5E-00-53-7$key"];
                $jobs->device("j$key", 'desk-phone-poe', 's', ['address' => "10.64.30.6$key"], $own)
                    ->row('terminals', ['key' => "j$key", 'extension' => array_key_first($jobs->plan()->extensions), 'device' => "j$key",
                        'macEntered' => "00-00-5E-00-53-7$key"]);
            }

            return $jobs;
        };
        $hosted = static function (bool $letOut): Jobs {
            $jobs = SwitchingTest::job()->device('h', 'hosted-registrar', null)
                ->device('hp', 'desk-phone-poe', 'v', ['address' => '10.64.20.77', 'transport' => 'tls'], ['mac' => '00-00-5E-00-53-77'])
                ->row('settings', ['key' => 'devices/pbx#announcedAddress', 'planned' => '203.0.113.2'])
                ->row('translations', ['key' => 'm', 'router' => 'r', 'outside' => 'up', 'what' => 'forward', 'position' => 2,
                    'inside' => '10.64.20.10', 'transport' => 'udp', 'portFirst' => 40000, 'portLast' => 40099])
                ->change('ringGroups', 'g', 'members', ['2101', '2102'])
                ->row('inboundRoutes', ['key' => 'fax', 'trunk' => 't1', 'position' => 5, 'map' => '4721000099', 'to' => '2901'])
                ->row('extensions', ['key' => 'xh', 'number' => '2180', 'pbx' => 'h', 'terminal' => 'sip', 'phone' => 'hp'])
                ->row('accounts', ['key' => 'ah', 'extension' => 'xh', 'registrar' => 'h', 'user' => 'v']
                    + ['macEntered' => '00-00-5E-00-53-77']);

            return $letOut ? $jobs : $jobs->row('filters', ['key' => 'no', 'router' => 'r', 'position' => 1, 'from' => 'v', 'to' => 'up',
                'transport' => 'tcp', 'action' => 'deny']);
        };
        yield 'no number for faxes' => $with('fax-without-inbound-route', $sound()->change('inboundRoutes', 'fax', 'to', '2101'));
        yield 'a fax server that registers beside its trunk' => $with(
            'fax-server-registers',
            $sound()->row('settings', ['key' => 'devices/fx#trunkMode', 'planned' => 'registration']),
        );
        $skipped = static fn (string $step): Jobs => self::camera([])
            ->row('marks', ['key' => 'c.'.$step, 'device' => 'c', 'step' => $step, 'state' => 'skipped', 'note' => 'x', 'by' => 'Jo'])
            ->row('marks', ['key' => 'c.verify', 'device' => 'c', 'step' => 'verify', 'state' => 'done', 'by' => 'Jo']);
        yield 'hooking up was skipped' => [['step-skipped'], $skipped('hook-up'), false];
        yield 'a restart was skipped' => [['step-skipped'], $skipped('restart'), false];
        yield 'another step was skipped' => [[], $skipped('unpack'), false];
        $handset = static fn (?string $snooping): Jobs => self::job()
            ->segment('w', '10.64.52.0/24', '10.64.52.1', ['wireless' => true, 'snooping' => $snooping])
            ->row('routerPorts', ['key' => 'r-w', 'router' => 'r', 'segment' => 'w', 'address' => '10.64.52.1', 'mask' => '/24'])
            ->device('h', 'wireless-handset', 'w', ['address' => '10.64.52.20', 'talkGroup' => '239.255.10.1']);
        yield 'a talk group without snooping' => [['wireless-without-snooping'], $handset('no'), false];
        yield 'a talk group with snooping' => [[], $handset('yes'), false];
        $licence = static fn (?string $until): Jobs => self::camera([])->fact('startsOn', '2026-06-01')->row('licences', [
            'key' => 'l', 'device' => 'c', 'feature' => 'x', 'quantity' => 1, 'temporary' => true, 'validUntil' => $until,
        ]);
        yield 'a temporary licence without an end' => [['temporary-licence-ends'], $licence(null), false];
        yield 'a temporary licence that is over before work begins' => [['temporary-licence-ends'], $licence('2026-05-31'), false];
        yield 'a temporary licence for the time of the work' => [[], $licence('2026-07-01'), false];
        yield 'a trunk that is wider than its server' => $with(
            'trunk-wider-than-server',
            $sound()->change('trunks', 'tf', 'channels', 4),
            true,
        );
        yield 'a phone of a provider, whose emergency calls are the provider\'s' => [['no-emergency-location'], $hosted(true), false];
        yield 'a phone of a provider that does not get out' => [
            ['hosted-phone-kept-in', 'no-emergency-location'],
            $hosted(false),
            false,
        ];
        $keys = static fn (string $dial): Jobs => self::phone(self::job())
            ->row('settings', ['key' => 'devices/p#speedKeys', 'planned' => $dial])
            ->row('extensions', ['key' => 'x2102', 'number' => '2102', 'pbx' => 'pbx', 'terminal' => 'none']);
        yield 'keys that dial numbers of the house' => [[], $keys('2102, 2101'), false];
        yield 'a key that dials nobody' => [['key-dials-unknown-number'], $keys('2102, 2177'), false];
        $light = static fn (string $there): Jobs => (new Jobs())
            ->segment('s', '10.0.0.0/24', '10.0.0.1')->segment('t', '10.0.1.0/24', '10.0.1.1')
            ->router('r', ['s' => '10.0.0.1/24', 't' => '10.0.1.1/24'])
            ->device('desk', 'lighting-console', 's', ['address' => '10.0.0.11', 'universesSent' => '3', 'programAddress' => '10.0.0.11'])
            ->device('n', 'lighting-node', $there, ['address' => 's' === $there ? '10.0.0.21' : '10.0.1.21', 'universe.1' => '3']);
        yield 'a node on the wire of its desk' => [[], $light('s'), false];
        yield 'a node behind a router' => [['light-not-heard'], $light('t'), false];
        yield 'a push that is taken' => [[], self::push(['pushUrl' => 'srt://10.0.0.12:9000?mode=caller']), false];
        yield 'a push by name, with a passphrase at both ends' => [
            [],
            self::push(['pushUrl' => 'srt://pc:9000', 'pushesWith' => 'a passphrase'], ['takesWith' => 'a passphrase']),
            false,
        ];
        yield 'a push out of the site' => [[], self::push(['pushUrl' => 'srt://198.51.100.7:9000']), false];
        foreach ([
            'a push to another port' => [['pushUrl' => 'srt://10.0.0.12:9001'], []],
            'a push to nobody' => [['pushUrl' => 'srt://10.0.0.99:9000'], []],
            'a push to who takes none' => [['pushUrl' => 'srt://10.0.0.13:9000'], []],
            'both wait' => [['pushUrl' => 'srt://10.0.0.12:9000?mode=listener'], []],
            'a passphrase at one end' => [['pushUrl' => 'srt://10.0.0.12:9000', 'pushesWith' => 'a passphrase'], []],
            'a passphrase at the other end' => [['pushUrl' => 'srt://10.0.0.12:9000'], ['takesWith' => 'a passphrase']],
        ] as $what => [$from, $to]) {
            yield $what => [
                ['push-ends-apart'],
                self::push($from, $to)->device('cam', 'ptz-camera', 's', ['address' => '10.0.0.13', 'frameRate' => '25']),
                'a push to another port' === $what,
            ];
        }
        yield 'three terminals of a number' => [[], $joined('', ''), false];
        yield 'more terminals than the registrar keeps' => [['too-many-terminals'], $joined('', '', ''), true];
        yield 'a terminal of a phone that stands nowhere yet' => [[], $joined('Loft'), false];
        yield 'a terminal in the same room' => [[], $joined('Gate')->change('devices', 'p', 'room', 'Gate'), false];
        yield 'a terminal elsewhere, where no location is said' => [
            ['no-emergency-location'],
            $joined('Loft')->change('devices', 'p', 'room', 'Gate')->change('extensions', 'x2101', 'location', null),
            false,
        ];
        yield '39 a terminal in another room' => [['terminal-elsewhere'], $joined('Loft')->change('devices', 'p', 'room', 'Gate'), false];
        yield '8 static in the pool' => [['static-inside-pool'], $cam(['address' => '10.64.30.120']), true];
        yield '13 provisioned before entry' => [['provisioned-before-entry'], self::phone(self::job(), entered: null), true];
        yield '13 another MAC entered' => [['registrar-entry'], self::phone(self::job(), entered: '00-00-5E-00-53-09'), true];
        $bare = self::job();
        $bare
            ->device('p', 'desk-phone-poe', 's', ['address' => '10.64.30.31', 'provisioning' => 'vorhut'])
            ->done('p', 'server');
        yield '13 provisioned without a number' => [['provisioned-before-entry'], $bare, false];
        $two = self::job()->segment('t', '10.64.31.0/24', '10.64.31.1')->device('v', 'media-server', 's', ['address' => '10.64.30.20']);
        yield '6 a gateway on each of two ports' => [
            ['two-gateways'],
            (clone $two)->port('v', 'nic2', 't', ['address' => '10.64.31.20', 'gateway' => '10.64.31.1']),
            true,
        ];
        yield '6 both ports in one subnet' => [
            ['ports-in-one-segment'],
            (clone $two)->port('v', 'nic2', 's', ['address' => '10.64.30.21']),
            false,
        ];
        yield 'a value that the kind does not know' => [
            ['stray-setting'],
            $cam([])->row('settings', ['key' => 'devices/c#colour', 'planned' => 'red']),
            true,
        ];
        yield '14 old provisioning user' => [
            ['old-provisioning'],
            self::phone(self::job())->row('settings', ['key' => 'devices/p#provisioningUser', 'set' => 'oldco']),
            true,
        ];
        $sealed = static fn (): Jobs => self::phone(self::job())->fact('filesHost', 'files.site.example')
            ->fact('filesAuthority', str_repeat('a', 64))->fact('dns', '10.64.30.5');
        $trusts = static fn (string $whom, string $face = 'set'): array => ['key' => 'devices/p#authority', $face => str_repeat($whom, 64)];
        yield '14 nobody told it whom to trust' => [['authority-unknown'], $sealed(), false];
        yield '14 it trusts somebody else' => [['authority-unknown'], $sealed()->row('settings', $trusts('b')), false];
        yield '14 it was read off that it trusts whom it should' => [[], $sealed()->row('settings', $trusts('a', 'seen')), false];
        yield '14 it trusts whom it should' => [[], $sealed()->row('settings', $trusts('a')), false];
        yield '14 a name that nobody resolves for it' => [
            ['file-server-not-found'],
            $sealed()->fact('dns', '')->row('settings', $trusts('a')),
            false,
        ];
        yield '14 an address needs nobody' => [
            [],
            $sealed()->fact('dns', '')->fact('filesHost', '10.64.30.9')->row('settings', $trusts('a')),
            false,
        ];
        yield '14 a certificate that ends before it is needed' => [
            ['files-certificate-ends'],
            $sealed()->row('settings', $trusts('a'))->fact('startsOn', '2027-03-01')->fact('filesUntil', '2027-02-28'),
            false,
        ];
        yield '14 one that ends later' => [
            [],
            $sealed()->row('settings', $trusts('a'))->fact('startsOn', '2027-03-01')->fact('filesUntil', '2027-03-01'),
            false,
        ];
        yield '17 outside the range' => [
            ['extension-outside-range'],
            self::job()->row('extensions', ['key' => 'y', 'number' => '1001', 'terminal' => 'none', 'factoryMade' => true]),
            true,
        ];
        yield '18 modules that give another number' => [
            ['modules-miscounted'],
            self::job()->device('x', 'on-site-pbx', 's', [
                'address' => '10.64.30.9',
                'module.1' => 'two phones',
                'module.2' => 'one of each',
                'analoguePorts' => '2',
            ]),
            true,
        ];
        yield '18 analogue without port' => [
            ['analogue-without-port'],
            self::job()
                ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.30.10'])
                ->row('extensions', ['key' => 'y', 'number' => '2150', 'pbx' => 'pbx', 'terminal' => 'analogue', 'location' => 'Lift']),
            false,
        ];
        yield '19 saved, not applied' => [
            ['saved-not-applied', 'not-written-down'],
            $cam($set + ['gateway.set' => '10.64.30.1', 'gateway.seen' => '10.64.30.2'])->row('credentials', $changed),
            false,
        ];
        yield '23 transports differ' => [
            ['transports-differ'],
            self::phone(self::job())->row('settings', ['key' => 'devices/p#transport', 'planned' => 'tls']),
            true,
        ];
        yield '23 another transport typed than planned' => [
            ['typed-other-than-planned'],
            self::phone(self::job())->row('settings', ['key' => 'devices/p#transport', 'set' => 'tls']),
            true,
        ];
        yield 'a login that the customer holds' => [
            ['not-written-down'],
            self::job()->device('v', 'authentication-server', 's', [
                'address' => '10.64.30.20', 'address.set' => '10.64.30.20', 'mask.set' => '/24', 'gateway.set' => '10.64.30.1',
            ])->row('credentials', ['key' => 'c', 'owner' => 'devices/v', 'purpose' => 'admin', 'user' => 'x', 'state' => 'default',
                'length' => 0, 'heldBy' => 'the customer']),
            false,
        ];
        yield '36 default password' => [['default-password', 'not-written-down'], $cam($set), false];
        yield '36 weak secret' => [
            ['weak-secret'],
            self::phone(self::job())->row('credentials', [
                'key' => 'a.sip',
                'owner' => 'accounts/a',
                'purpose' => 'sip',
                'user' => '2101',
                'state' => 'changed',
                'weakness' => 'it is the extension',
            ]),
            false,
        ];
        yield 'short secret' => [
            ['weak-secret'],
            self::phone(self::job())->row('credentials', [
                'key' => 'a.sip', 'owner' => 'accounts/a', 'purpose' => 'sip', 'user' => '2101', 'state' => 'changed', 'length' => 11,
            ]),
            false,
        ];
        yield '37 ends in voicemail' => [
            ['call-ends-in-voicemail', 'provisioned-before-entry'],
            self::phone(self::job(), entered: null, voicemail: true),
            true,
        ];
        yield '39 no location' => [['no-emergency-location'], self::phone(self::job(), location: null), false];
        yield '40 not written down' => [['not-written-down'], $cam($set)->row('credentials', $changed), false];
        yield 'segments that overlap' => [['segments-overlap'], self::job()->segment('t', '10.64.30.128/25', '10.64.30.129'), false];
        yield 'duplicate address' => [['duplicate-address'], $cam([])->device('d', 'ptz-camera', 's', ['address' => '10.64.30.31']), true];
        yield 'duplicate address of a router' => [['duplicate-address'], $cam(['address' => '10.64.30.1']), false];
        yield 'duplicate MAC' => [
            ['duplicate-mac'],
            self::job()
                ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31'], ['mac' => '00-00-5E-00-53-01'])
                ->device('d', 'ptz-camera', 's', ['address' => '10.64.30.32'], ['mac' => '00-00-5E-00-53-01']),
            false,
        ];
        yield 'duplicate host name' => [
            ['duplicate-host-name'],
            $cam(['hostName' => 'cam'])->device('d', 'ptz-camera', 's', ['address' => '10.64.30.32', 'hostName' => 'CAM']),
            false,
        ];
        foreach ([
            'a gateway on another network' => ['gateway' => '10.64.31.1'],
            'a gateway that is no host' => ['gateway' => '10.64.30.255'],
            'an outpost outside' => ['gateway' => '10.64.30.1', 'outpost' => '10.64.31.9'],
            'a pool half outside' => ['gateway' => '10.64.30.1', 'pools' => ['10.64.30.200-10.64.31.10']],
            'a reserved range in a pool' => [
                'gateway' => '10.64.30.1',
                'pools' => ['10.64.30.100-149'],
                'reserved' => [['range' => '10.64.30.149-150', 'for' => 'others']],
            ],
            'a block under a wide one' => [
                'gateway' => '10.64.30.1',
                'blocks' => [
                    ['range' => '10.64.30.10-90', 'for' => 'ptz-camera'],
                    ['range' => '10.64.30.20-29', 'for' => 'room-codec'],
                ],
            ],
            'a block of no kind' => ['gateway' => '10.64.30.1', 'blocks' => [['range' => '10.64.30.10-19', 'for' => 'teapot']]],
        ] as $name => $segment) {
            yield 'the segment contradicts itself: '.$name => [
                ['segment-contradicts-itself'],
                (new Jobs())->segment('x', '10.64.30.0/24', $segment['gateway'], $segment),
                false,
            ];
        }
        $dns = self::job()->segment('t', '10.64.31.0/24', '10.64.31.1', ['dns' => '10.64.30.53']);
        $dns->job['dns'] = '10.64.30.35';
        yield 'DNS servers that differ by swapped digits' => [['dns-near-miss'], $dns, false];
        yield 'an answer that cannot be' => [
            ['odd-answer'],
            $cam([])->row('settings', ['key' => 'nics/c.lan#gateway', 'odd' => '10.64.30.999', 'seenBy' => 'Outpost']),
            false,
        ];
        yield 'another certificate than at first sight' => [
            ['certificate-changed'],
            self::job()->device('bar', 'video-bar', 'a', [])->row('settings', [
                'key' => 'devices/bar#certificate', 'seen' => str_repeat('a', 64), 'odd' => str_repeat('b', 64), 'seenBy' => 'Outpost',
            ]),
            true,
        ];
        yield 'a step that failed' => [
            ['step-failed'],
            $cam([])->row('marks', [
                'key' => 'c.reach', 'device' => 'c', 'step' => 'reach', 'state' => 'failed', 'by' => 'Jo', 'note' => 'No page.',
            ]),
            false,
        ];
        $nobody = static fn (string $terminal = 'sip', string $forward = ''): Jobs => self::job()->row(
            'extensions',
            ['key' => 'y', 'number' => '2150', 'name' => 'Y', 'terminal' => $terminal, 'forwardAlways' => $forward],
        );
        yield 'a number of nobody' => [['unassigned-number'], $nobody(), false];
        yield 'one that leads on' => [[], $nobody('sip', '2160')->row(
            'extensions',
            ['key' => 'z', 'number' => '2160', 'terminal' => 'none'],
        ), false];
        yield 'one for nothing but its own sake' => [[], $nobody('none'), false];
        $fax = static fn (string $name, string $kept): array => [
            '2' === $kept ? ['fax-channels-kept'] : [],
            self::job()->device('f', 'fax-server', 's', ['address' => '10.64.30.44', 'channels' => '2', $name => $kept,
                'gatewayHost' => '10.64.30.10', 'mailServer' => 'mail', 'defaultRecipient' => 'fax@site.example']),
            false,
        ];
        yield 'all channels kept for sending' => $fax('keptForSending', '2');
        yield 'all channels kept for receiving' => $fax('keptForReceiving', '2');
        yield 'one of two channels kept' => $fax('keptForSending', '1');
        yield 'duplicate extension' => [
            ['duplicate-extension'],
            self::job()
                ->row('extensions', ['key' => 'y', 'number' => '2150', 'terminal' => 'none'])
                ->row('extensions', ['key' => 'z', 'number' => '2150', 'terminal' => 'none']),
            false,
        ];
        $push = static fn (string $url, string $by = 'SRT'): Jobs => (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('e', 'streaming-encoder', 's', ['address' => '10.64.30.10', 'pushProtocol' => $by, 'pushUrl' => $url]);
        yield 'pushes nowhere' => [['push-nowhere'], $push(''), false];
        yield 'pushes to what is no address' => [['push-unreadable'], $push('srt://192.0.2.9'), false];
        yield 'pushes by another protocol' => [['push-other-protocol'], $push('rtmps://192.0.2.9/app'), false];
        yield 'a latency in another unit' => [['push-odd'], $push('srt://192.0.2.9:9000?latency=200000'), false];
        yield 'a key in the plan' => [['push-key-shown'], $push('srt://192.0.2.9:9000?passphrase=1234567890'), false];
        yield 'two things odd about it' => [['push-odd'], $push('srt://192.0.2.9:9000?latency=20&pbkeylen=20'), false];
        yield 'pushes as it should' => [[], $push('srt://192.0.2.9:9000?latency=200'), false];
        yield 'pushes not at all' => [[], $push('srt://192.0.2.9', 'off'), false];
        yield 'extension is an emergency number' => [
            ['duplicate-extension', 'extension-outside-range'],
            self::job()->row('extensions', ['key' => 'y', 'number' => '112', 'terminal' => 'none']),
            true,
        ];
        foreach ([
            'begins with one' => ['1125', '1'],
            'begins with what leads outside' => ['0125', '0'],
            'begins as one does' => ['1135', '1'],
        ] as $how => [$n, $at]) {
            $jobs = self::job()->row('extensions', ['key' => 'y', 'number' => $n, 'terminal' => 'none'])
                ->fact('extensionFirst', $at.'000')->fact('extensionLast', $at.'999');
            yield 'extension '.$how => ['1135' === $n ? [] : ['duplicate-extension'], $jobs, false];
        }
    }

    /** @param list<string> $codes */
    #[DataProvider('mistakes')]
    public function testTheMistakeIsFoundAloneAndItsCureMendsIt(array $codes, Jobs $jobs, bool $curable): void
    {
        $findings = Findings::of($jobs->plan(), ShippedRules::all());
        self::assertSame([], array_diff($codes, self::codes($findings)));
        self::assertSame([], array_diff(self::codes($findings), $codes), 'and no other');
        $cured = 0;
        foreach ($findings->all as $finding) {
            self::assertNotSame('', (string) $finding->what.$finding->why.$finding->todo);
            self::assertStringNotContainsString('{', (string) $finding->what, 'every place is filled');
            if (null !== $finding->cure) {
                self::assertNull(
                    Findings::of($jobs->plan()->with($finding->cure), ShippedRules::all())->find($finding->key()),
                    (string) $finding->cure->why,
                );
                ++$cured;
            }
        }
        self::assertSame($curable, $cured > 0);
    }

    public function testARuleThatOpensTooMuchIsLimitedToWhatNeedsIt(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->segment('g', '10.64.32.0/24', '10.64.32.1')
            ->router('r', ['s' => '10.64.30.1/24', 'g' => '10.64.32.1/24'], false)
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31'])
            ->device('d', 'ptz-camera', 's', ['address' => '10.64.30.32'])
            ->device('m', 'monitor-receiver', 'g', ['address' => '10.64.32.40', 'source' => 'd'])
            ->row('filters', ['key' => 'f', 'router' => 'r', 'position' => 1, 'from' => 'g', 'to' => 's', 'transport' => 'tcp',
                'portFirst' => 80, 'portLast' => 600, 'action' => 'allow'])->plan();
        $finding = Findings::of($plan, ShippedRules::all())->find('admin-page-opened:filters/f+devices/r+devices/c#f');
        self::assertSame('Limit rule 1 of R to 10.64.30.32.', (string) $finding?->todo);
        $after = $plan->with($finding->cure ?? self::fail('no cure'));
        self::assertSame(['10.64.30.32'], $after->row('filters', 'f')['toAddresses'] ?? null);
        self::assertSame(
            array_values(array_diff(self::codes(Findings::of($plan, ShippedRules::all())), ['admin-page-opened'])),
            self::codes(Findings::of($after, ShippedRules::all())),
            'nothing that is needed is stopped',
        );
    }

    public function testTwoRulesThatDenyAreTwoFindings(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->segment('g', '10.64.32.0/24', '10.64.32.1')
            ->router('r', ['s' => '10.64.30.1/24', 'g' => '10.64.32.1/24'])
            ->device('d', 'ptz-camera', 's', ['address' => '10.64.30.32'])
            ->device('m', 'monitor-receiver', 'g', ['address' => '10.64.32.40', 'source' => 'd']);
        foreach ([80, 554] as $n => $port) {
            $plan->row('filters', ['key' => 'f'.$n, 'router' => 'r', 'position' => $n + 1, 'from' => 'g', 'to' => 's',
                'transport' => 'tcp', 'portFirst' => $port, 'portLast' => $port, 'action' => 'deny']);
        }
        $said = array_map(
            static fn (Finding $one): string => (string) $one->what,
            array_filter(
                Findings::of($plan->plan(), ShippedRules::all())->all,
                static fn (Finding $one): bool => 'needed-way-broken' === $one->code,
            ),
        );
        self::assertSame([
            'M does not reach D on 80/tcp: Rule 1 of the filter of R denies 80/tcp from G to S.',
            'M does not reach D on 554/tcp: Rule 2 of the filter of R denies 554/tcp from G to S.',
        ], array_values($said));
    }

    public function testALeftOverNumberGoesWithItsOwnAccountAndNoOther(): void
    {
        $plan = self::phone(self::job())
            ->row('extensions', ['key' => 'y', 'number' => '1001', 'terminal' => 'none', 'factoryMade' => true])
            ->row('accounts', ['key' => 'b', 'extension' => 'y', 'registrar' => 'pbx', 'user' => '1001'])
            ->plan();
        $cure = Findings::of($plan, ShippedRules::all())->find('extension-outside-range:extensions/y')?->cure;
        self::assertNotNull($cure);
        $after = $plan->with($cure);
        self::assertSame([['x2101'], ['a2101']], [array_keys($after->extensions), array_keys($after->accounts)]);
    }

    public function testTheEffectOfAWrongGatewayIsNotThatOfAWrongPool(): void
    {
        $why = static fn (string $gateway, string $pool): string => (string) Findings::of(
            (new Jobs())->segment('x', '10.64.30.0/24', $gateway, ['pools' => [$pool]])->plan(),
            ShippedRules::all(),
        )->all[0]->why;
        self::assertNotSame($why('10.64.31.1', '10.64.30.200-10.64.30.209'), $why('10.64.30.1', '10.64.30.200-10.64.31.10'));
    }

    public function testWhoLivesWhereAnotherWakesIsWorseTheFurtherItHasCome(): void
    {
        $severity = static function (string ...$marks): ?string {
            $jobs = (new Jobs())->segment('s', '192.168.1.0/24', '192.168.1.1')
                ->device('x', 'on-site-pbx', 's', ['address' => '192.168.1.100'])
                ->device('c', 'ptz-camera', 's', ['address' => '192.168.1.31']);
            foreach ($marks as $mark) {
                [$device, $step] = explode(' ', $mark, 2) + [1 => ''];
                $jobs->done($device, $step);
            }

            return Findings::of($jobs->plan(), ShippedRules::all())
                ->find('lives-where-another-wakes:devices/x+devices/c')?->severity->value;
        };
        self::assertSame('note', $severity());
        self::assertSame('risk', $severity('x address'));
        self::assertSame('blocks', $severity('x address', 'c hook-up'));
        self::assertNull($severity('x address', 'c hook-up', 'c address'));
    }

    public function testOfTwoGatewaysTheFirstStays(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->segment('t', '10.64.31.0/24', '10.64.31.1')
            ->device('v', 'media-server', 's', ['address' => '10.64.30.20'])
            ->port('v', 'nic2', 't', ['address' => '10.64.31.20', 'gateway' => '10.64.31.1'])->plan();
        $found = Findings::of($plan, ShippedRules::all())->find('two-gateways:devices/v+nics/v.nic1+nics/v.nic2')
            ?? array_values(array_filter(
                Findings::of($plan, ShippedRules::all())->all,
                static fn (Finding $one): bool => 'two-gateways' === $one->code,
            ))[0];
        self::assertMatchesRegularExpression('/nic1.*|.*nic1/', (string) $found->todo);
        self::assertStringNotContainsString('nic2 keeps', (string) $found->todo);
        $after = $plan->with($found->cure ?? throw new \LogicException());
        self::assertSame(['10.64.30.1', ''], array_map(
            static fn (string $nic): ?string => $after->nics[$nic]->setting('gateway')->planned,
            ['v.nic1', 'v.nic2'],
        ));
    }

    public function testNearMissesAreNamedAsWhatTheyAre(): void
    {
        self::assertSame('two neighbours swapped.', NearMiss::of('10.64.30.12', '10.64.30.21')?->label());
        self::assertSame('one digit is wrong.', NearMiss::of('10.64.30.12', '10.64.30.13')?->label());
        self::assertSame('one digit is missing.', NearMiss::of('10.64.30.12', '10.64.30.1')?->label());
        self::assertSame('one digit too many.', NearMiss::of('10.64.30.1', '10.64.30.11')?->label());
        self::assertNull(NearMiss::of('10.64.30.12', '192.0.2.7'));
        self::assertNull(NearMiss::of('10.64.30.11', '10.64.30.11'), 'two equal digits swapped are no slip');
    }

    public function testThePortHasItsPlantedMistakesAndNoOtherTheMuseumNone(): void
    {
        self::assertSame([], self::codes(Findings::of(self::demo('museum'), ShippedRules::all())));
        self::assertSame([
            'needed-way-broken:devices/r-core+devices/mr-01+devices/enc-01#filtered nics/mr-01.lan customs-av>hall',
            'gateway-blank:devices/ra-01+nics/ra-01.lan',
            'same-factory-address:devices/cam-02+devices/cam-03',
            'typed-other-than-planned:devices/cam-01+nics/cam-01.lan#lan.gateway',
            'analogue-without-port:extensions/x2190+devices/pbx-01',
            'contact-mode:devices/va-01+devices/rd-01',
            'light-not-heard:devices/ln-01+devices/lc-01+devices/sc-01#1',
            'network-names-differ:devices/wh-03+devices/wh-01+devices/wh-02+devices/wh-04+devices/wc-01',
            'no-emergency-location:extensions/x2107+devices/ph-07',
            'panel-account:devices/tp-01+devices/vb-01',
            'patch-overlap:devices/ft-01+devices/ft-02',
            'poe-over-budget:devices/sw-02',
            'provisioned-before-entry:devices/ph-05+extensions/x2105+accounts/a2105',
            'sample-rates-differ:devices/fx-s2+devices/cc-01+devices/fx-s1',
            'trunk-without-sound:trunks/provider+trunks/spare+devices/pbx-01#a484c64a',
            'duplicate-host-name:devices/vc-01+devices/vc-02',
            'licence-short:devices/ac-01#installer',
            'licence-short:devices/fx-01#fax-channels',
            'static-inside-pool:devices/enc-01+nics/enc-01.lan',
            'extension-outside-range:extensions/x1001',
            'link-too-full:cables/customs+streams/lesson+streams/bay-north+streams/bay-south',
            'mains-frequencies-differ:devices/cam-04+devices/cam-01+devices/cam-02+devices/cam-03+devices/cam-05',
        ], array_map(static fn (Finding $finding): string => $finding->key(), Findings::of(self::demo('port'), ShippedRules::all())->all));
    }

    private static function demo(string $name): Plan
    {
        return JobDocument::fromJson(
            (string) file_get_contents(\dirname(__DIR__, 3)."/demo/$name.json"),
            Jobs::catalogue(),
        )->plan(Jobs::catalogue());
    }

    /** @return list<string> */
    private static function codes(Findings $findings): array
    {
        $codes = array_values(array_unique(array_map(static fn (Finding $finding): string => $finding->code, $findings->all)));
        sort($codes);

        return $codes;
    }
}
