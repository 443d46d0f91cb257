<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\DialOutcome;
use Vorhut\Core\Voice\ProvisioningFile;
use Vorhut\Core\Voice\Registration;
use Vorhut\Tests\Support\Jobs;

final class RegistrationTest extends TestCase
{
    private static function plan(): Plan
    {
        return (new Jobs())
            ->segment('v', '10.64.20.0/24', '10.64.20.1')
            ->segment('q', '10.64.40.0/24', '10.64.40.1')
            ->router('r', ['v' => '10.64.20.1/24', 'q' => '10.64.40.1/24'])
            ->device('pbx', 'on-site-pbx', 'v', ['address' => '10.64.20.10'])
            ->device('p', 'desk-phone-poe', 'q', ['address' => '10.64.40.51'], ['mac' => '00-00-5E-00-53-01'])
            ->number('2101', 'p', '00-00-5E-00-53-01')
            ->plan();
    }

    /** @return iterable<string, array{list<Edit>, string}> */
    public static function failures(): iterable
    {
        $account = ['key' => 'a2101', 'extension' => 'x2101', 'registrar' => 'pbx', 'user' => '2101', 'macEntered' => '00-00-5E-00-53-01'];
        yield 'no phone' => [[Edit::put('extensions', 'x2101', 'phone', 'p', null)], 'No phone is given to 2101.'];
        yield 'no account' => [[Edit::remove('accounts', $account)], '2101 has no account at a registrar.'];
        yield 'MAC not entered' => [[Edit::put('accounts', 'a2101', 'macEntered', '00-00-5E-00-53-01', null)], 'not entered at PBX yet'];
        yield 'another MAC entered' => [
            [Edit::put('accounts', 'a2101', 'macEntered', '00-00-5E-00-53-01', '00-00-5E-00-53-02')],
            'another MAC than that of P',
        ];
        yield 'transport of the phone' => [
            [Edit::setting('devices/p#transport', Face::Set, null, 'TLS')],
            'P speaks SIP over tls, PBX hears it over udp only',
        ];
        yield 'transport of the PBX' => [
            [Edit::setting('devices/pbx#transport', Face::Set, null, 'tcp, tls')],
            'PBX hears it over tcp, tls only',
        ];
        yield 'SIP port' => [
            [Edit::setting('devices/pbx#sipPort', Face::Set, null, '5080')],
            'P speaks to SIP port 5060, PBX hears at 5080.',
        ];
        yield 'no way there' => [[Edit::setting('nics/p.lan#gateway', Face::Set, null, '')], 'P does not reach PBX: P has no gateway'];
        yield 'no way back' => [
            [Edit::setting('nics/pbx.lan#mask', Face::Set, null, '/16')],
            'P does not reach PBX: PBX treats P as local',
        ];
    }

    /** @param list<Edit> $edits */
    #[DataProvider('failures')]
    public function testEveryReasonIsNamedAndItsFactIsRead(array $edits, string $why): void
    {
        $plan = self::plan();
        $extension = $plan->extensions['x2101'];
        $before = Registration::of(NetworkModel::of($plan, Face::Set), $extension);
        self::assertTrue($before->holds, (string) $before->why);
        $after = $plan->with(new Change(new Message('x'), $edits));
        $result = Registration::of(NetworkModel::of($after, Face::Set), $after->extensions['x2101']);

        self::assertFalse($result->holds);
        self::assertStringContainsString($why, (string) $result->why);
        self::assertNotSame($before->facts->texts(), $result->facts->texts(), 'so that what stood on it becomes outdated');
    }

    public function testAnOutpostTriesTheEntryNotThePhone(): void
    {
        $plan = self::plan()->with(new Change(new Message('x'), [Edit::setting('nics/p.lan#gateway', Face::Set, null, '')]));
        $model = NetworkModel::of($plan, Face::Set);

        self::assertFalse(Registration::of($model, $plan->extensions['x2101'])->holds);
        self::assertTrue(Registration::fromOutpost($model, $plan->extensions['x2101'], 'outposts/q')->holds);
    }

    public function testWhatADeviceWasToldBeatsWhatItsKindDoes(): void
    {
        $plan = self::plan()->with(new Change(new Message('x'), [
            Edit::setting('devices/p#transport', Face::Set, null, 'UDP, tcp'),
            Edit::setting('devices/p#transport', Face::Seen, null, 'tls'),
        ]));

        self::assertSame(['udp', 'tcp'], Registration::transportsOf(NetworkModel::of($plan, Face::Set), 'p'));
        self::assertSame(['tls'], Registration::transportsOf(NetworkModel::of($plan, Face::Seen), 'p'));
        self::assertSame(['udp'], Registration::transportsOf(NetworkModel::of($plan, Face::Set), 'pbx'));
        self::assertSame([], Registration::transportsOf(NetworkModel::of($plan, Face::Set), 'nobody'));
        $read = static function (Plan $plan, Face $face, string $device): array {
            $facts = new Facts();
            Registration::transportsOf(NetworkModel::of($plan, $face), $device, $facts);

            return $facts->texts();
        };
        self::assertSame(['devices/p:transport=UDP, tcp'], $read($plan, Face::Set, 'p'));
        self::assertSame($read(self::plan(), Face::Set, 'nobody'), array_map(
            static fn (string $fact): string => str_replace('/pbx:', '/nobody:', $fact),
            $read($plan, Face::Set, 'pbx'),
        ), 'what comes with the kind is no fact of the job');
        $seen = self::plan()->with(new Change(new Message('x'), [Edit::setting('devices/p#transport', Face::Seen, null, 'tls')]));
        self::assertSame(['devices/p:transport=tls'], $read($seen, Face::Seen, 'p'));
    }

    private static function hosted(): Jobs
    {
        return (new Jobs())
            ->segment('q', '10.64.40.0/24', '10.64.40.1')
            ->segment('up', '203.0.113.0/29', '203.0.113.1')
            ->router('r', ['q' => '10.64.40.1/24', 'up' => '203.0.113.2/29'])
            ->row('routes', ['key' => 'out', 'router' => 'r', 'destination' => '0.0.0.0/0', 'via' => '203.0.113.1'])
            ->row(
                'translations',
                ['key' => 'n', 'router' => 'r', 'outside' => 'up', 'what' => 'source', 'position' => 1, 'transport' => 'any'],
            )
            ->device('hr', 'hosted-registrar', null, ['transport' => 'udp', 'provisioningString' => 'https://phones.example/x'])
            ->device('p', 'desk-phone-poe', 'q', ['address' => '10.64.40.51', 'provisioning' => 'vorhut'], ['mac' => '00-00-5E-00-53-01'])
            ->device('o', 'desk-phone-poe', 'q', ['address' => '10.64.40.52'], ['mac' => '00-00-5E-00-53-02'])
            ->number('2101', 'p', '00-00-5E-00-53-01', ['location' => 'x'], 'hr')
            ->number('2102', 'o', '00-00-5E-00-53-02', ['location' => 'x'], 'hr');
    }

    public function testAtAProviderItRegistersOutOfTheSite(): void
    {
        $why = static function (Jobs $jobs): array {
            $one = Registration::of(NetworkModel::of($jobs->plan(), Face::Set), $jobs->plan()->extensions['x2101']);

            return [$one->holds, (string) $one->why];
        };
        self::assertSame([true, 'P registers 2101 at HR, outside, seen there as 203.0.113.2.'], $why(self::hosted()));
        [$holds, $said] = $why(self::hosted()->change('translations', 'n', 'inside', '10.64.40.99'));
        self::assertFalse($holds);
        self::assertSame('P leaves the site with the address 10.64.40.51, which cannot be answered from outside.', $said);
        [$holds, $said] = $why(self::hosted()->change('routes', 'out', 'destination', '10.0.0.0/8'));
        self::assertFalse($holds);
        self::assertStringStartsWith('P does not get out of the site on 5060/udp', $said);
    }

    public function testAProvidersPhoneGetsItsFileThereAndIsRungByTheProvider(): void
    {
        $plan = self::hosted()->plan();
        self::assertSame(
            'P gets its file from HR, not from here.',
            (string) ProvisioningFile::obstacle($plan, $plan->devices['p']),
        );
        self::assertSame('https://phones.example/x', ProvisioningFile::source($plan, $plan->devices['p']));
        $dial = Dial::of(NetworkModel::of($plan, Face::Set), $plan->extensions['x2101'], '2102');
        self::assertSame([DialOutcome::Device, 'o', true], [$dial->outcome, $dial->rings, $dial->sound], implode(' ', $dial->steps));
        foreach (TestPlan::of($plan)->tests as $test) {
            self::assertNotContains($test->kind, [TestKind::Register, TestKind::Call], 'its secret is not ours');
        }
        $found = array_values(array_filter(
            Findings::of($plan, ShippedRules::all())->all,
            static fn (Finding $one): bool => 'fetches-elsewhere' === $one->code,
        ));
        self::assertCount(1, $found);
        $cured = $plan->with($found[0]->cure ?? self::fail('no cure'));
        self::assertSame('https://phones.example/x', $cured->devices['p']->setting('provisioning')->planned);
        self::assertSame('', $cured->devices['p']->setting('authority')->planned, 'a provider says whom to trust');
        self::assertSame([], array_filter(
            Findings::of($cured, ShippedRules::all())->all,
            static fn (Finding $one): bool => 'fetches-elsewhere' === $one->code,
        ));
    }
}
