<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Consistency;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Catalogue\Agreement;
use Vorhut\Core\Catalogue\Relation;
use Vorhut\Core\Consistency\Agreed;
use Vorhut\Core\Consistency\Agreements;
use Vorhut\Core\Consistency\Comparison;
use Vorhut\Core\Consistency\Standing;
use Vorhut\Core\Consistency\Subject;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\TrackedValue;
use Vorhut\Tests\Support\Jobs;

final class AgreementsTest extends TestCase
{
    /** @return iterable<string, array{Relation, string|null, list<string|null>, Standing}> */
    public static function relations(): iterable
    {
        yield 'equal' => [Relation::Equal, '48', ['48'], Standing::Holds];
        yield 'not equal' => [Relation::Equal, '48', ['96'], Standing::Broken];
        yield 'lists are equal in any order' => [Relation::Equal, 'udp, tcp', ['tcp, udp'], Standing::Holds];
        yield 'part of a list is not equal' => [Relation::Equal, 'udp', ['tcp, udp'], Standing::Broken];
        yield 'member of' => [Relation::MemberOf, 'tls, udp', ['tcp, udp'], Standing::Holds];
        yield 'member of none' => [Relation::MemberOf, 'tls', ['tcp, udp'], Standing::Broken];
        yield 'member of one of several' => [Relation::MemberOf, '10.0.0.2', ['10.0.0.1', '10.0.0.2'], Standing::Holds];
        yield 'at most, as numbers' => [Relation::AtMost, '9', ['10'], Standing::Holds];
        yield 'at most, the same' => [Relation::AtMost, '10', ['10'], Standing::Holds];
        yield 'more' => [Relation::AtMost, '10.5', ['10'], Standing::Broken];
        yield 'at least' => [Relation::AtLeast, '10', ['9'], Standing::Holds];
        yield 'less' => [Relation::AtLeast, '8', ['9'], Standing::Broken];
        yield 'a size within another' => [Relation::AtMost, '1280x720', ['1920x1080'], Standing::Holds];
        yield 'as wide and higher' => [Relation::AtMost, '1920x1200', ['1920x1080'], Standing::Broken];
        yield 'a size and a number' => [Relation::AtMost, '1280x720', ['1920'], Standing::Broken];
        yield 'no number' => [Relation::AtLeast, 'many', ['few'], Standing::Broken];
        yield 'different' => [Relation::Different, '100', ['90'], Standing::Holds];
        yield 'not different' => [Relation::Different, '100', ['100'], Standing::Broken];
        yield 'complementary' => [Relation::Complementary, 'caller', ['listener'], Standing::Holds];
        yield 'complementary, the other way' => [Relation::Complementary, 'listener', ['caller'], Standing::Holds];
        yield 'two callers' => [Relation::Complementary, 'caller', ['caller'], Standing::Broken];
        yield 'blank is a value' => [Relation::Equal, '', ['48'], Standing::Broken];
        yield 'not known on the left' => [Relation::Equal, null, ['48'], Standing::Unknown];
        yield 'not known on the right' => [Relation::MemberOf, '48', [null], Standing::Unknown];
    }

    /** @param list<string|null> $right */
    #[DataProvider('relations')]
    public function testEveryRelationSaysWhatItsNameSays(Relation $relation, ?string $left, array $right, Standing $standing): void
    {
        $subject = static fn (?string $value): Subject => new Subject('x', 'devices/x', 'X', 'x', 'X', new TrackedValue($value));

        self::assertSame(
            $standing,
            Comparison::between(
                $relation,
                $subject($left),
                array_map($subject, $right),
                Face::Set,
                [['caller', 'listener'], ['rendezvous', 'rendezvous']],
            ),
        );
    }

    private static function audio(string $one, string $other, string $third = '48'): Jobs
    {
        return (new Jobs())->segment('a', '169.254.0.0/16')
            ->device('card', 'console-card', 'a', ['sampleRate' => $one])
            ->device('fx', 'processing-server', 'a', ['sampleRate' => $other])
            ->device('fx2', 'processing-server', 'a', ['sampleRate' => $third]);
    }

    private static function rooms(string $source = '3', string $at3 = '3', string $cable = '3', string $is = 'streamer'): Jobs
    {
        return (new Jobs())->segment('a', '10.64.60.0/24', '10.64.60.1')
            ->device('ctl', 'multi-room-controller', 'a', ['address' => '10.64.60.10', 'inputSource.3' => $at3, 'inputType.3' => $is])
            ->device('str', 'multi-room-streamer', 'a', [
                'address' => '10.64.60.11',
                'controller' => 'ctl',
                'sourceNumber' => $source,
                'cabledInput' => $cable,
            ]);
    }

    private static function phone(
        string $phone = 'udp',
        string $pbx = 'udp',
        string $entered = '00-00-5E-00-53-01',
        string $codecs = 'G.711',
        string $hearsAt = '5060',
    ): Jobs {
        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.30.10', 'transport' => $pbx, 'sipPort' => $hearsAt])
            ->device(
                'p',
                'desk-phone-poe',
                's',
                ['address' => '10.64.30.31', 'transport' => $phone, 'ringOutput' => 'speaker', 'codecs' => $codecs],
                ['mac' => '00-00-5E-00-53-01'],
            )
            ->device('ra', 'ring-alerter', 's', ['address' => '10.64.30.41', 'listensTo' => 'p', 'detectorSocket' => 'headset'])
            ->number('2101', 'p', $entered, ['location' => 'Hall']);
    }

    private static function wireless(string $client): Jobs
    {
        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('au', 'authentication-server', 's', ['address' => '10.64.30.11', 'clientAddresses' => $client])
            ->device('wc', 'wireless-controller', 's', ['address' => '10.64.30.12', 'authServer' => 'au']);
    }

    private static function standby(string $switch): Jobs
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24')->device('sw', 'managed-switch', 's')->device('sw2', 'managed-switch', 's')
            ->device('a', 'processing-server', 's')->device('b', 'processing-server', 's', ['standbyFor' => 'a']);
        foreach (['a' => 'sw', 'b' => $switch] as $device => $at) {
            $jobs->row('cables', ['key' => $device, 'device' => $device, 'switch' => $at, 'port' => '1']);
        }

        return $jobs;
    }

    private static function server(string $second, string $address = '10.64.31.20'): Jobs
    {
        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->segment('t', '10.64.31.0/24')
            ->device('srv', 'media-server', 's', ['address' => '10.64.30.20'])
            ->port('srv', 'nic2', $second, ['address' => $address]);
    }

    /**
     * @return iterable<string, array{
     *     string, Jobs, list<string>, bool,
     * }> agreement, job that breaks it, who is out of step, whether it can be cured
     */
    public static function broken(): iterable
    {
        yield 'mask' => [
            'masks-differ',
            (new Jobs())->segment('s', '10.64.30.0/24')->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31', 'mask' => '/16']),
            ['C'],
            true,
        ];
        yield 'registrar entry' => ['registrar-entry', self::phone(entered: '00-00-5E-00-53-09'), ['2101'], true];
        yield 'transport' => ['transports-differ', self::phone('tls', 'udp, tcp'), ['P'], true];
        yield 'SIP port' => ['sip-ports-differ', self::phone(hearsAt: '5080'), ['P'], true];
        yield 'SIP port of a fax server' => ['fax-gateway-port', self::phone(hearsAt: '5080')->device('f', 'fax-server', 's'), ['F'], true];
        yield 'ring output' => ['ring-output', self::phone(), ['P'], true];
        $zone = (new Jobs())->segment('s', '10.64.30.0/24')->device('c', 'ptz-camera', 's', ['timeZone' => 'Europe/Rome']);
        $zone->job['timeZone'] = 'Europe/Oslo';
        yield 'time zone' => ['time-zones-differ', $zone, ['C'], true];
        yield 'ports in one segment' => ['ports-in-one-segment', self::server('s', '10.64.30.21'), ['SRV nic2'], false];
        yield 'ports in one network by their addresses' => ['ports-in-one-segment', self::server('t', '10.64.30.21'), ['SRV nic2'], false];
        yield 'control program' => [
            'program-address',
            (new Jobs())->segment('s', '10.64.30.0/24')->device('l', 'laptop', 's', [
                'address' => '10.64.30.5',
                'programAddress' => '192.168.7.2',
            ]),
            ['L'],
            true,
        ];
        yield 'input number' => ['input-number', self::rooms(at3: '4'), ['CTL'], true];
        yield 'what is at an input' => ['input-type', self::rooms(is: 'built-in streamer'), ['CTL'], true];
        yield 'codecs' => ['codecs-apart', self::phone(codecs: 'G.729, Opus'), ['P'], true];
        yield 'called number of a fax' => [
            'fax-called-number',
            (new Jobs())->segment('s', '10.64.30.0/24')->device('f', 'fax-server', 's', ['calledFrom' => 'Diversion'])
                ->device('x', 'on-site-pbx', 's'),
            ['F'],
            true,
        ];
        yield 'a client that the server does not know' => ['authentication-clients', self::wireless('10.64.30.9'), ['AU'], true];
        yield 'standby on the same switch' => ['standby-on-another-switch', self::standby('sw'), ['B'], false];
        yield 'cabled input' => ['cabled-input', self::rooms('2', '2', '3'), ['STR'], true];
        yield 'panel and codec' => ['panel-and-codec', (new Jobs())->segment('s', '10.64.30.0/24')->segment('t', '10.64.31.0/24')
            ->device('vc', 'room-codec', 's', ['address' => '10.64.30.11'])->device(
                'tp',
                'touch-panel',
                't',
                ['address' => '10.64.31.12', 'pairedWith' => 'vc'],
            ), ['TP'], true];
        $one = static fn (): Jobs => (new Jobs())
            ->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->segment('t', '10.64.31.0/24', '10.64.31.1');
        yield 'room account' => [
            'panel-account',
            $one()->device('vb', 'video-bar', 's', ['roomAccount' => 'hall@site.example'])
                ->device('tp', 'touch-panel', 's', ['pairedWith' => 'vb', 'roomAccount' => 'hal@site.example']),
            ['TP'],
            true,
        ];
        yield 'contact input' => [
            'contact-mode',
            $one()->device('va', 'visual-alerter', 's', ['contactMode' => 'button'])
                ->device('rd', 'ring-detector', null, ['drives' => 'va']),
            ['VA'],
            true,
        ];
        yield 'EAP method' => [
            'eap-methods',
            $one()->device('h', 'wireless-handset', 's', ['eapMethod' => 'EAP-TLS'])
                ->device('as', 'authentication-server', 's', ['methods' => 'PEAP, EAP-TTLS']),
            ['H'],
            true,
        ];
        yield 'largest mail' => [
            'fax-mail-limit',
            $one()->device('f', 'fax-server', 's', ['faxMailLimit' => '40'])->device('m', 'site-mail-server', 's'),
            ['F'],
            true,
        ];
        yield 'gateway of the fax' => [
            'fax-gateway',
            $one()->device('f', 'fax-server', 's', ['gatewayHost' => '10.64.30.11'])
                ->device('x', 'on-site-pbx', 's', ['address' => '10.64.30.10']),
            ['F'],
            true,
        ];
        yield 'frame rate' => ['mains-and-frame-rate', $one()->device('c', 'ptz-camera', 's', ['frameRate' => '30']), ['C'], true];
        yield 'racks' => [
            'racks-and-channels',
            $one()->device('k', 'console-card', 's', ['channels' => '8'])
                ->device('fx', 'processing-server', 's', ['card' => 'k', 'racks' => '12']),
            ['FX'],
            true,
        ];
        yield 'latency' => [
            'receiver-latency',
            $one()->device('e', 'streaming-encoder', 's')
                ->device('m', 'monitor-receiver', 's', ['source' => 'e', 'latency' => '120']),
            ['M'],
            true,
        ];
        yield 'size of a picture' => [
            'receiver-size',
            $one()->device('e', 'streaming-encoder', 's', ['size' => '3840x2160', 'latency' => '200'])
                ->device('m', 'monitor-receiver', 's', ['source' => 'e']),
            ['E'],
            true,
        ];
        foreach (['own-gateway' => 'ownGateway', 'own-dns' => 'ownDns'] as $code => $setting) {
            yield $setting => [
                $code,
                $one()->device('g', 'presentation-gateway-local', 's', ['address' => '10.64.30.20', $setting => '10.64.30.1']),
                ['G'],
                true,
            ];
        }
        yield 'projector' => [
            'projector-and-server',
            $one()->device('p', 'projector', 't', ['address' => '10.64.31.20'])
                ->device('v', 'media-server', 's', ['address' => '10.64.30.20', 'projector' => 'p']),
            ['P'],
            true,
        ];
        $three = static fn (string $kind, string $setting, string ...$values): Jobs => array_reduce(
            array_keys($values),
            static fn (Jobs $jobs, int|string $i): Jobs => $jobs->device('d'.$i, $kind, 's', [$setting => $values[$i]], ['room' => 'Hall']),
            $one(),
        );
        yield 'network name' => [
            'network-names-differ',
            $three('wireless-handset', 'networkName', 'Voice', 'voice', 'Voice'),
            ['D1'],
            true,
        ];
        yield 'security' => [
            'wireless-security-differs',
            $three('wireless-handset', 'wirelessSecurity', 'WPA2-Personal', 'WPA2-Enterprise', 'WPA2-Enterprise'),
            ['D0'],
            true,
        ];
        yield 'talk group' => [
            'talk-groups-differ',
            $three('wireless-handset', 'talkGroup', '239.64.1.1', '239.64.1.1', '239.64.1.2'),
            ['D2'],
            true,
        ];
        yield 'remote numbers' => ['remote-numbers', $three('ptz-camera', 'remoteNumber', '1', '2', '1'), ['D2'], false];
        yield 'mains' => [
            'mains-frequencies-differ',
            $one()->device('c', 'ptz-camera', 's')->device('d', 'ptz-camera', 's')
                ->device('e', 'ptz-camera', 's', ['mainsFrequency' => '60', 'frameRate' => '30']),
            ['E'],
            true,
        ];
        yield 'sample rate: the one that is alone' => ['sample-rates-differ', self::audio('48', '96'), ['FX'], true];
        yield 'sample rate: of two the later' => ['sample-rates-differ', self::audio('96', '48', '96'), ['FX'], true];
    }

    /** @param list<string> $odd */
    #[DataProvider('broken')]
    public function testWhatIsBrokenIsFoundOnceWithWhoIsOutOfStepAndItsCureMendsIt(string $code, Jobs $jobs, array $odd, bool $cured): void
    {
        $plan = $jobs->plan();
        $agreed = self::of($plan, $code);
        self::assertCount(1, $agreed);
        self::assertSame($odd, array_map(static fn (Subject $one): string => $one->name, $agreed[0]->odd));
        $found = array_values(array_filter(Findings::of($plan, ShippedRules::all())->all, static fn ($one): bool => $one->code === $code));
        self::assertCount(1, $found);
        foreach ([$found[0]->what, $found[0]->why, $found[0]->todo] as $text) {
            self::assertStringNotContainsString('{', (string) $text);
        }
        self::assertSame($cured, null !== $found[0]->cure);
        if (null !== $found[0]->cure) {
            $after = $plan->with($found[0]->cure);
            self::assertSame([], self::of($after, $code), (string) $found[0]->cure->why);
            self::assertNotSame($agreed[0]->facts->texts(), self::all($after, $code)[0]->facts->texts(), 'what it stands on has moved');
        }
    }

    public function testOfAGroupWhoseValuesMustDifferOnlyThoseThatShareOneAreNamed(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1');
        foreach (['1', '2', '1', '3', '4'] as $i => $number) {
            $jobs->device('c'.$i, 'ptz-camera', 's', ['remoteNumber' => $number]);
        }
        self::assertSame('C0, C2', self::of($jobs->plan(), 'remote-numbers')[0]->broken->with['names']);
    }

    public function testEveryShippedAgreementIsBrokenInOneOfTheseJobs(): void
    {
        $tried = array_unique(array_column(iterator_to_array(self::broken()), 0));
        self::assertEqualsCanonicalizing(array_keys(Jobs::catalogue()->agreements), array_values($tried));
    }

    public function testWhereEverythingAgreesNothingIsFound(): void
    {
        foreach ([
            self::audio('48', '48'), self::rooms(), self::server('t'), self::wireless('10.64.30.12'), self::standby('sw2'),
        ] as $jobs) {
            $agreements = Agreements::of($jobs->plan());
            self::assertSame([], $agreements->with(Standing::Broken));
            self::assertNotSame([], $agreements->with(Standing::Holds));
        }
    }

    public function testAPortWithoutAnAddressOverlapsWithNone(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->segment('t', '10.64.31.0/24')
            ->device('srv', 'media-server', 's', ['address' => '10.64.30.20'])->port('srv', 'nic2', 't', []);
        self::assertSame([], Agreements::of($jobs->plan())->with(Standing::Broken));
    }

    public function testAnAgreementNeedsTwoEndsOfWhichTheFirstSelects(): void
    {
        $data = ['name' => 'Some agreement', 'relation' => 'equal', 'broken' => 'x', 'why' => 'x', 'todo' => 'x'];
        foreach ([
            ['a' => ['every' => 'device', 'setting' => 'x']],
            ['a' => ['setting' => 'x'], 'b' => ['of' => 'a', 'by' => 'device', 'setting' => 'x']],
        ] as $between) {
            try {
                Agreement::fromArray('x', $data + ['between' => $between]);
                self::fail('it was taken');
            } catch (Malformed $e) {
                self::assertStringContainsString('two ends', $e->getMessage());
            }
        }
    }

    public function testATypingErrorIsFoundAsThatAndNotTwice(): void
    {
        $plan = self::audio('48', '48')->row('settings', ['key' => 'devices/x#none'])->plan();
        $typed = $plan->with(new \Vorhut\Core\Plan\Change(new \Vorhut\Core\Text\Message(''), [
            \Vorhut\Core\Plan\Edit::setting('devices/fx#sampleRate', Face::Set, null, '96'),
        ]));
        self::assertTrue(self::of($typed, 'sample-rates-differ')[0]->typing);
        self::assertSame(
            ['typed-other-than-planned'],
            array_map(static fn ($one): string => $one->code, Findings::of($typed, ShippedRules::all())->all),
        );
    }

    public function testItReadsInProportionToTheRoster(): void
    {
        $read = static function (int $devices): int {
            $jobs = (new Jobs())->segment('v', '10.64.0.0/16')->device('pbx', 'on-site-pbx', 'v', ['address' => '10.64.0.10']);
            for ($i = 0; $i < $devices; ++$i) {
                $jobs->phone('p'.$i, 'v', '10.64.'.(1 + intdiv($i, 200)).'.'.(1 + $i % 200), (string) (2000 + $i))
                    ->device('c'.$i, 'ptz-camera', 'v', ['address' => '10.64.'.(101 + intdiv($i, 200)).'.'.(1 + $i % 200)]);
            }

            return array_sum(array_map(
                static fn (Agreed $one): int => \count($one->facts->texts()) + \count($one->subjects),
                Agreements::of($jobs->plan())->all,
            ));
        };
        $few = $read(100);
        self::assertGreaterThan(1000, $few);
        self::assertLessThanOrEqual(2 * $few + 20, $read(200), 'twice the roster, twice the facts');
    }

    public function testItIsAboutItsEndsAndNobodyElse(): void
    {
        $plan = self::audio('48', '96')->device('by', 'ptz-camera', null)->plan();
        $agreed = self::all($plan, 'sample-rates-differ')[0];
        self::assertTrue($agreed->isAbout('fx'));
        self::assertFalse($agreed->isAbout('by'));
    }

    public function testItSaysOnWhatItStands(): void
    {
        $stands = static fn (Jobs $jobs): Face => self::all($jobs->plan(), 'sample-rates-differ')[0]->standsOn();
        $jobs = static fn (string $face): Jobs => (new Jobs())->segment('a', '169.254.0.0/16')
            ->device('card', 'console-card', 'a', ['sampleRate.seen' => '48', 'sampleRate.set' => '48'])
            ->device('fx', 'processing-server', 'a', ['sampleRate.'.$face => '48']);
        self::assertSame(Face::Planned, $stands($jobs('planned')));
        self::assertSame(Face::Set, $stands($jobs('set')));
        self::assertSame(Face::Seen, $stands($jobs('seen')));
    }

    /** @return list<Agreed> */
    private static function of(Plan $plan, string $code): array
    {
        return array_values(array_filter(self::all($plan, $code), static fn (Agreed $one): bool => Standing::Broken === $one->standing));
    }

    /** @return list<Agreed> */
    private static function all(Plan $plan, string $code): array
    {
        return array_values(array_filter(Agreements::of($plan)->all, static fn (Agreed $one): bool => $one->agreement->code === $code));
    }
}
