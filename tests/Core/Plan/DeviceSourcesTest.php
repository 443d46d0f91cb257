<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Tests\Support\Jobs;

/** What is known elsewhere in the plan is not asked for again. */
final class DeviceSourcesTest extends TestCase
{
    private static function job(): Jobs
    {
        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->segment('out', '203.0.113.0/29', '203.0.113.1')
            ->router('r', ['s' => '10.64.30.1/24', 'out' => '203.0.113.2/29']);
    }

    /** @param array<string, string> $more */
    private static function at(string $kind, array $more = []): Jobs
    {
        return self::job()->device('d', $kind, 's', ['address' => '10.64.30.20'] + $more);
    }

    /** @param array<string, string|null> $nat */
    private static function codec(array $nat): Jobs
    {
        return self::at('room-codec')->row('translations', $nat + [
            'key' => 'n', 'router' => 'r', 'outside' => 'out', 'what' => 'static', 'position' => 1, 'transport' => 'any',
            'inside' => '10.64.30.20', 'address' => '203.0.113.5',
        ]);
    }

    /** @param array<string, string|int> $row */
    private static function stream(array $row): Jobs
    {
        return self::at('ptz-camera')->device('m', 'monitor-receiver', 's', ['address' => '10.64.30.21'])
            ->row('streams', $row + ['key' => 'x', 'name' => 'X', 'sender' => 'd', 'transport' => 'RTSP', 'cast' => 'unicast'])
            ->row('deliveries', ['key' => 'y', 'stream' => 'x', 'device' => 'm']);
    }

    /** @return iterable<string, array{Jobs, string, string, string|null}> job, device, setting, planned value */
    public static function values(): iterable
    {
        yield 'a program uses the address of its adapter' => [self::at('lighting-console'), 'd', 'programAddress', '10.64.30.20'];
        $typed = self::at('lighting-console', ['programAddress' => '10.64.30.99']);
        yield 'what is typed counts' => [$typed, 'd', 'programAddress', '10.64.30.99'];
        yield 'an adapter without an address' => [self::job()->device('d', 'lighting-console', 's'), 'd', 'programAddress', null];
        yield 'a local gateway is its own' => [self::at('presentation-gateway-local'), 'd', 'ownGateway', '10.64.30.20'];
        yield 'a mobile router serves its segment' => [self::at('mobile-router'), 'd', 'lanRange', '10.64.30.0/24'];
        yield 'a streamer is the source of its input' => [
            self::at('multi-room-streamer', ['cabledInput' => '5']), 'd', 'sourceNumber', '5',
        ];
        $bars = self::job()->device('d', 'touch-panel', 's', [], ['room' => 'Heron'])
            ->device('b', 'video-bar', 's', ['roomAccount' => 'a@b.example']);
        yield 'a panel belongs to the only bar' => [clone $bars, 'd', 'pairedWith', 'b'];
        yield 'and has its account' => [clone $bars, 'd', 'roomAccount', 'a@b.example'];
        $further = (clone $bars)->device('c', 'room-codec', 'out');
        yield 'none in another subnet' => [clone $further, 'd', 'pairedWith', 'b'];
        $further->device('e', 'room-codec', 's', ['roomAccount' => 'e@b.example'], ['room' => 'heron']);
        yield 'rather the one in its room' => [clone $further, 'd', 'roomAccount', 'e@b.example'];
        yield 'two in its room' => [(clone $further)->device('f', 'video-bar', 's', [], ['room' => 'Heron']), 'd', 'pairedWith', null];
        $unplaced = (clone $bars)->device('c', 'room-codec', null);
        yield 'rather the one in its subnet' => [$unplaced, 'd', 'pairedWith', 'b'];
        $elsewhere = self::job()->device('d', 'touch-panel', 's', [], ['room' => 'Heron'])
            ->device('b', 'video-bar', 's', [], ['room' => 'Birch']);
        yield 'none in another room' => [$elsewhere, 'd', 'pairedWith', null];
        $apart = self::job()->device('d', 'multi-room-streamer', 's')->device('c', 'multi-room-controller', 'out');
        yield 'a streamer has its controller in its subnet' => [$apart, 'd', 'controller', null];
        $point = self::job()->device('d', 'access-point', 's')->device('c', 'wireless-controller', 'out');
        yield 'one for the whole site may be anywhere' => [clone $point, 'd', 'joins', 'c'];
        yield 'of two for the site nobody knows' => [$point->device('e', 'wireless-controller', 's'), 'd', 'joins', null];
        $streamer = self::job()->device('d', 'multi-room-streamer', 's', [], ['room' => 'Bar'])
            ->device('c', 'multi-room-controller', 's', [], ['room' => 'Rack']);
        yield 'in any room' => [clone $streamer, 'd', 'controller', 'c'];
        yield 'of two nobody knows' => [$streamer->device('e', 'multi-room-controller', 's'), 'd', 'controller', null];
        yield 'analogue ports come with modules' => [self::at('on-site-pbx', ['module.1' => 'two phones']), 'd', 'analoguePorts', '2'];
        yield 'no module, no ports' => [self::at('on-site-pbx', ['module.1' => 'empty']), 'd', 'analoguePorts', '0'];

        yield 'NAT one to one' => [self::codec([]), 'd', 'announcedAddress', '203.0.113.5'];
        yield 'NAT of another device' => [self::codec(['inside' => '10.64.30.21']), 'd', 'announcedAddress', null];
        yield 'ports of the router' => [self::codec(['what' => 'forward', 'address' => null]), 'd', 'announcedAddress', '203.0.113.2'];
        yield 'source NAT says nothing' => [self::codec(['what' => 'source']), 'd', 'announcedAddress', null];
        yield 'two outside addresses' => [
            self::codec([])->row('translations', [
                'key' => 'm', 'router' => 'r', 'outside' => 'out', 'what' => 'static', 'position' => 2, 'transport' => 'any',
                'inside' => '10.64.30.20', 'address' => '203.0.113.6',
            ]),
            'd', 'announcedAddress', null,
        ];

        $fax = self::at('fax-server')->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.30.10']);
        yield 'one PBX is the gateway of faxes' => [$fax, 'd', 'gatewayHost', '10.64.30.10'];
        yield 'of two nothing is known' => [
            self::at('fax-server')->device('p', 'on-site-pbx', 's', ['address' => '10.64.30.10'])
                ->device('q', 'on-site-pbx', 's', ['address' => '10.64.30.11']),
            'd', 'gatewayHost', null,
        ];
        yield 'every controller is a client' => [
            self::at('authentication-server')->device('w', 'wireless-controller', 's', ['address' => '10.64.30.11'])
                ->device('v', 'wireless-controller', 's', ['address' => '10.64.30.9']),
            'd', 'clientAddresses', '10.64.30.9, 10.64.30.11',
        ];

        yield 'a receiver pulls from the sender' => [self::stream([]), 'm', 'source', 'd'];
        yield 'a camera sends what is planned' => [self::stream(['width' => 1280, 'height' => 720]), 'd', 'size', '1280x720'];
        yield 'its codec' => [self::stream(['codec' => 'H.265']), 'd', 'codec', 'H.265'];
        yield 'its bit rate' => [self::stream(['kbit' => 2600]), 'd', 'bitRate', '2600'];
        yield 'else its own default' => [self::stream([]), 'd', 'bitRate', '6000'];
        yield 'of two streams that differ' => [
            self::stream(['kbit' => 2600])->row('streams', [
                'key' => 'z', 'name' => 'Z', 'sender' => 'd', 'transport' => 'RTSP', 'cast' => 'unicast', 'kbit' => 900,
            ]),
            'd', 'bitRate', '6000',
        ];
        yield 'menus in the language of the job' => [self::at('room-codec')->fact('language', 'nb'), 'd', 'language', 'Norwegian Bokmål'];
        yield 'in English where it is not known' => [self::at('room-codec'), 'd', 'language', 'English'];
    }

    #[DataProvider('values')]
    public function testTheValueComesFromWhereItIsKnown(Jobs $jobs, string $device, string $setting, ?string $planned): void
    {
        self::assertSame($planned, $jobs->plan()->devices[$device]->setting($setting)->planned);
    }
}
