<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Catalogue\Admin;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Removal;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

final class SettingsTest extends TestCase
{
    /**
     * @return iterable<string, array{
     *     array<string, mixed>, string, string|null,
     * }> what is true of it, what is typed, what is kept; null where it is refused
     */
    public static function typed(): iterable
    {
        yield 'number with a unit' => [['type' => 'number', 'unit' => 'kbit/s'], '04500', '4500'];
        yield 'number with a comma' => [['type' => 'number'], '29,970', '29.97'];
        yield 'nothing behind the point' => [['type' => 'number'], '25.00', '25'];
        yield 'minus nothing' => [['type' => 'number'], '-0', '0'];
        yield 'below the least' => [['type' => 'number', 'least' => 1, 'most' => 8], '0', null];
        yield 'the least itself' => [['type' => 'number', 'least' => 1, 'most' => 8], '1', '1'];
        yield 'the most itself' => [['type' => 'number', 'least' => 1, 'most' => 8], '8', '8'];
        yield 'above the most' => [['type' => 'number', 'least' => 1, 'most' => 8], '8.5', null];
        yield 'no number' => [['type' => 'number'], 'many', null];
        yield 'a choice, however it is written' => [['type' => 'choice', 'choices' => ['Headset', 'speaker']], 'HEADSET', 'Headset'];
        yield 'no choice' => [['type' => 'choice', 'choices' => ['a', 'b']], 'c', null];
        yield 'a list in one form' => [['type' => 'list', 'choices' => ['udp', 'tcp']], 'UDP;tcp', 'udp, tcp'];
        yield 'a list with a stranger' => [['type' => 'list', 'choices' => ['udp', 'tcp']], 'udp, sctp', null];
        yield 'yes' => [['type' => 'yes-no'], 'On', 'yes'];
        yield 'neither' => [['type' => 'yes-no'], 'perhaps', null];
        yield 'mask' => [['type' => 'mask'], '255.255.254.0', '/23'];
        yield 'port' => [['type' => 'port'], '05060', '5060'];
        yield 'a port of one digit' => [['type' => 'port'], '7', '7'];
        yield 'no port' => [['type' => 'port'], '65536', null];
        yield 'url' => [['type' => 'url'], 'srt://192.0.2.7:9000?mode=caller', 'srt://192.0.2.7:9000?mode=caller'];
        yield 'no url' => [['type' => 'url'], '192.0.2.7', null];
        yield 'time zone' => [['type' => 'timezone'], 'Moon/Sea', null];
        yield 'blank where it may be' => [['type' => 'address', 'blank' => true], ' ', ''];
        yield 'blank where it may not' => [['type' => 'address'], ' ', null];
        yield 'a control character' => [['type' => 'text'], "a\x07b", null];
        yield 'bytes that are no text' => [['type' => 'text'], "Ger\xe4t", null];
        yield 'as long as is kept' => [['type' => 'text'], str_repeat('x', Setting::LONGEST), str_repeat('x', Setting::LONGEST)];
        yield 'longer' => [['type' => 'text'], str_repeat('x', Setting::LONGEST + 1), null];
    }

    /** @param array<string, mixed> $data */
    #[DataProvider('typed')]
    public function testWhatIsTypedIsKeptInOneFormOrRefused(array $data, string $typed, ?string $kept): void
    {
        $setting = Setting::fromArray('x', $data);
        if (null === $kept) {
            $this->expectException(Malformed::class);
        }
        self::assertSame($kept, $setting->read($typed));
        self::assertSame($kept, $setting->read((string) $kept), 'and reads back');
    }

    /** @return iterable<string, array{string, string|null}> */
    public static function addresses(): iterable
    {
        yield 'of a port' => ['nics/cam-1.lan#address', 'nics/cam-1.lan'];
        yield 'of a device' => ['devices/cam-1#hostName', 'devices/cam-1'];
        yield 'of one of several' => ['devices/mixer-1#inputSource.12', 'devices/mixer-1'];
        yield 'of an account' => ['accounts/a2101#sipSecret', 'accounts/a2101'];
        yield 'of what has none' => ['segments/quay#address', null];
        yield 'without a name' => ['devices/cam-1', null];
        yield 'number nought' => ['devices/cam-1#x.0', null];
        yield 'two numbers' => ['devices/cam-1#x.1.2', null];
        yield 'a capital in the key' => ['devices/CAM#x', null];
    }

    #[DataProvider('addresses')]
    public function testASettingHasOneAddress(string $text, ?string $record): void
    {
        $ref = SettingRef::tryFromString($text);
        self::assertSame($record, $ref?->record());
        self::assertSame(null === $record ? '' : $text, (string) $ref);
    }

    public function testAPortIsSilentUntilItHasAnAddressAndOneOfSeveralTakesTheGateway(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->segment('t', '10.64.31.0/25', '10.64.31.1')
            ->device('srv', 'media-server', 's', ['address' => '10.64.30.20'])->port('srv', 'nic2', 't', ['address' => '10.64.31.20']);
        $nics = $jobs->plan()->devices['srv']->activeNics();
        self::assertSame(['/24', '10.64.30.1'], [$nics[0]->setting('mask')->planned, $nics[0]->setting('gateway')->planned]);
        self::assertSame(
            ['/25', null],
            [$nics[1]->setting('mask')->planned, $nics[1]->setting('gateway')->planned],
            'a host has one way out',
        );
        self::assertTrue($nics[0]->setting('gateway')->inherited);
        self::assertNull($nics[0]->setting('gateway')->own(Face::Planned), 'what is inherited is nobody\'s word');
    }

    public function testWhereNoRouterIsTheGatewayIsBlankAndWhereNobodySaidItIsNotKnown(): void
    {
        $gateway = static fn (?string $said): ?string => (new Jobs())
            ->segment('s', '10.64.30.0/24', $said)
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31'])
            ->plan()->nics['c.lan']
            ->setting('gateway')->planned;
        self::assertSame(['', null, '10.64.30.1'], [$gateway('none'), $gateway(null), $gateway('10.64.30.1')]);
    }

    public function testTheJobSpeaksWhereTheDeviceIsSilentAndTheKindWhereTheJobIs(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24')->device('p', 'desk-phone-poe', 's')->device('card', 'console-card', null);
        $jobs->job += ['timeZone' => 'Europe/Oslo'];
        $plan = $jobs->plan();
        self::assertSame(['Europe/Oslo', 'udp', null], [
            $plan->devices['p']->setting('timeZone')->planned,
            $plan->devices['p']->setting('transport')->planned,
            $plan->devices['p']->setting('timeServer')->planned,
        ]);
        self::assertSame('48', $plan->devices['card']->setting('sampleRate')->planned);
    }

    public function testAnAccountHasSettingsOfItsOwnByItsNumber(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.20.0/24')
            ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.20.10'])
            ->device('p', 'desk-phone-poe', 's', ['address' => '10.64.20.31']);
        foreach (['2101', '2102'] as $number) {
            $jobs->number($number, 'p');
        }
        $jobs->row('settings', ['key' => 'accounts/a2102#lineLabel', 'planned' => 'Night bell'])
            ->row('settings', ['key' => 'accounts/a2101#colour', 'planned' => 'red']);
        $plan = $jobs->plan();
        $phone = $plan->devices['p'];
        $labels = [];
        foreach ($plan->settings()->slots($phone) as $slot) {
            if ('lineLabel' === $slot->setting->name) {
                $labels[] = $slot->which().': '.($slot->value->planned ?? '–');
            }
        }
        self::assertSame(['2101: –', '2102: Night bell'], $labels);
        self::assertSame('Night bell', $plan->settings()->value('accounts/a2102#lineLabel')->planned);
        self::assertSame('accounts/a2102#lineLabel', (string) $plan->settings()->slot($phone, '2102.lineLabel')?->ref);
        self::assertSame('2101.lineLabel', $plan->settings()->slot($phone, 'lineLabel')?->local, 'without a number the first');
        self::assertNull($plan->settings()->slot($phone, '2109.lineLabel'));
        self::assertNull($plan->settings()->slot($phone, '2101.hostName'), 'which is no account\'s');
        self::assertSame(['accounts/a2101#colour'], array_map(strval(...), $plan->settings()->strays($phone)));
        $after = $plan->with(new Change(new Message(''), [
            ...Removal::dependents($plan, 'extensions', 'x2102'),
            Edit::remove('extensions', $plan->row('extensions', 'x2102') ?? []),
        ]));
        self::assertNull($after->row('settings', 'accounts/a2102#lineLabel'), 'it goes with its account');
    }

    public function testAnAdminPageNamesTheSettingsOfItsPortsAndItems(): void
    {
        $admin = Admin::fromArray(['fields' => ['mask' => 'netmask', 'gateway' => 'gw-{port}', 'nic2.dns' => 'dns2', 'gain' => 'g{n}']]);
        $port = static fn (string $name): Setting => Setting::fromArray(
            $name,
            ['label' => $name, 'type' => 'address', 'scope' => 'port'],
        );
        self::assertSame('netmask', $admin->own('nic1.mask', $port('mask'), true));
        self::assertNull($admin->own('nic2.mask', $port('mask'), false), 'the page shows the first port only');
        self::assertSame(['gw-nic1', 'gw-nic2'], [
            $admin->own('nic1.gateway', $port('gateway'), true),
            $admin->own('nic2.gateway', $port('gateway'), false),
        ]);
        self::assertSame('dns2', $admin->own('nic2.dns', $port('dns'), false));
        self::assertNull($admin->own('nic1.dns', $port('dns'), true));
        $gain = Setting::fromArray('gain', ['label' => 'Gain', 'type' => 'number', 'scope' => 'item', 'count' => 4]);
        self::assertSame('g3', $admin->own('gain.3', $gain, false));
        self::assertNull($admin->own('level', Setting::fromArray('level', ['label' => 'Level', 'type' => 'number']), true));
    }

    public function testEverySettingOfEveryPortIsListedAndFoundByItsLocalName(): void
    {
        $plan = (new Jobs())->device('srv', 'media-server', null)->device('ctl', 'multi-room-controller', null)->plan();
        $locals = static fn (string $key): array => array_map(
            static fn ($slot): string => $slot->local,
            $plan->settings()->slots($plan->devices[$key]),
        );
        self::assertSame(
            ['nic1.address', 'nic1.mask', 'nic1.gateway', 'nic1.dns', 'nic2.address', 'nic2.mask', 'nic2.gateway', 'nic2.dns'],
            array_values(array_filter($locals('srv'), static fn (string $one): bool => str_starts_with($one, 'nic'))),
        );
        self::assertContains('inputSource.8', $locals('ctl'));
        foreach (['srv', 'ctl'] as $key) {
            foreach ($plan->settings()->slots($plan->devices[$key]) as $slot) {
                self::assertEquals($slot, $plan->settings()->slot($plan->devices[$key], $slot->local));
                self::assertSame($slot->setting, $plan->settings()->definition($slot->ref));
            }
        }
        self::assertNull($plan->settings()->slot($plan->devices['ctl'], 'inputSource.9'));
        self::assertNull($plan->settings()->slot($plan->devices['ctl'], 'inputSource'));
        self::assertNull($plan->settings()->slot($plan->devices['srv'], 'nic3.address'));
        self::assertSame(
            'nics/srv.nic1#address',
            (string) $plan->settings()->slot($plan->devices['srv'], 'address')?->ref,
            'without a port it is the first',
        );
        self::assertNull($plan->settings()->definition(SettingRef::fromString('devices/srv#address')), 'an address is a port\'s');
    }

    public function testAnotherDeviceIsWrittenByItsTagKeptByItsKeyAndLetGoWhenItGoes(): void
    {
        $plan = (new Jobs())
            ->device('p', 'desk-phone-poe', null)
            ->device('ra', 'ring-alerter', null, ['listensTo' => 'p', 'listensTo.set' => 'p'])
            ->plan();
        $setting = $plan->devices['ra']->kind->setting('listensTo') ?? self::fail();
        self::assertSame('p', $plan->settings()->read($setting, ' P '));
        self::assertSame('P', $plan->settings()->show($setting, 'p'));
        $after = $plan->with(new Change(new Message(''), [
            ...Removal::dependents($plan, 'devices', 'p'),
            Edit::remove('devices', $plan->row('devices', 'p') ?? []),
        ]));
        self::assertTrue($after->devices['ra']->setting('listensTo')->isEmpty());
        $this->expectExceptionMessage('This job has no device "X9".');
        $plan->settings()->read($setting, 'X9');
    }

    public function testWhatTheLabelSaysGoesBeforeWhatTheKindSays(): void
    {
        self::assertSame(['192.168.1.100', '/24', 'admin', 'admin'], [
            (string) self::camera([])->factory->address,
            (string) self::camera([])->factory->mask,
            self::camera([])->loginUser(),
            self::camera([])->firstPassword(),
        ]);
        $labelled = self::camera(['labelAddress' => '10.1.2.3', 'labelMask' => '/8', 'labelUser' => 'root']);
        self::assertSame(['10.1.2.3/8', 'root'], [$labelled->factory->address.(string) $labelled->factory->mask, $labelled->loginUser()]);
        self::assertSame('10.0.0.0/8', (string) $labelled->factory->network());
    }

    public function testAKindSaysInWhichStateItComes(): void
    {
        $kind = Kind::fromArray('k', [
            'name' => 'K',
            'factory' => [['state' => 'fixed', 'address' => '10.0.0.1/8'], ['when' => 'reset', 'state' => 'dhcp']],
            'login' => ['pattern' => 'serial', 'user' => 'a'],
        ]);
        self::assertSame(['10.0.0.1', '', '10.0.0.1'], [
            (string) $kind->factoryState()->address,
            (string) $kind->factoryState('reset')->address,
            (string) $kind->factoryState('never heard of')->address,
        ]);
    }

    /** @param array<string, string> $more */
    private static function camera(array $more): Device
    {
        return (new Jobs())->device('c', 'ptz-camera', null, [], $more)->plan()->devices['c'];
    }
}
