<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\DialOutcome;
use Vorhut\Core\Voice\Numbers;
use Vorhut\Core\Voice\ProvisioningFile;
use Vorhut\Tests\Support\Jobs;

final class DialTest extends TestCase
{
    private static function job(): Jobs
    {
        $jobs = (new Jobs())
            ->segment('v', '10.64.20.0/24', '10.64.20.1')->segment('q', '10.64.40.0/24', '10.64.40.1')
            ->router('r', ['v' => '10.64.20.1/24', 'q' => '10.64.40.1/24'])
            ->device('pbx', 'on-site-pbx', 'v', ['address' => '10.64.20.10']);
        $jobs->job += [
            'extensionFirst' => '2100',
            'extensionLast' => '2199',
            'outsideDigit' => '0',
            'emergencyNumbers' => ['112'],
            'featureCodes' => ['*97'],
            'timeZone' => 'Europe/Oslo',
        ];
        foreach (['p1' => ['v', '10.64.20.31', '2101'], 'p2' => ['q', '10.64.40.51', '2102']] as $key => [$segment, $address, $number]) {
            $mac = '00-00-5E-00-53-0'.substr($number, -1);
            $jobs->device($key, 'desk-phone-poe', $segment, ['address' => $address], ['mac' => $mac])
                ->number($number, $key, $mac, ['voicemail' => '2102' === $number]);
        }

        return $jobs;
    }

    private static function dial(Plan $plan, string $digits): Dial
    {
        return Dial::of(NetworkModel::of($plan, Face::Set), $plan->extensionNumbered('2101') ?? throw new \LogicException(), $digits);
    }

    public function testTheIntendedDeviceRingsWithSoundBothWays(): void
    {
        $dial = self::dial(self::job()->plan(), '2102');

        self::assertSame([DialOutcome::Device, 'p2', true], [$dial->outcome, $dial->rings, $dial->sound]);
    }

    public function testEveryWayACallDoesNotRing(): void
    {
        $plan = self::job()->plan();
        self::assertSame(DialOutcome::Barred, self::dial($plan, '112')->outcome, 'never an emergency number');
        self::assertSame(DialOutcome::Barred, self::dial($plan, '0112')->outcome, 'nor behind the outside digit');
        self::assertSame(DialOutcome::NotReached, self::dial($plan, '2177')->outcome);
        self::assertSame(DialOutcome::Feature, self::dial($plan, '*97')->outcome);
        self::assertSame(DialOutcome::Refused, self::dial($plan, '2101')->outcome);
        self::assertStringContainsString('no trunk', (string) self::dial($plan, '022345')->steps[1]);
    }

    public function testWithoutACodecInCommonThereIsNoCall(): void
    {
        $told = static fn (string $codecs): Plan => self::job()->row('settings', ['key' => 'devices/p2#codecs', 'set' => $codecs])->plan();
        $dial = self::dial($told('G.729, Opus'), '2102');
        self::assertSame([DialOutcome::NotReached, false], [$dial->outcome, $dial->sound], 'a refusal is an answer: no voicemail');
        self::assertStringContainsString('2101 offers G.722, G.711, P2 takes G.729, Opus: it refuses (488)', implode(' ', $dial->steps));
        self::assertContains('devices/p2:codecs=G.729, Opus', $dial->facts->texts());
        self::assertSame(DialOutcome::Device, self::dial($told('G.729, G.711'), '2102')->outcome);
        // An outpost has G.711 alone: what two phones could do between them it cannot try.
        $plan = $told('G.722');
        $extension = $plan->extensionNumbered('2101') ?? throw new \LogicException();
        $model = NetworkModel::of($plan, Face::Set);
        self::assertSame(DialOutcome::Device, Dial::of($model, $extension, '2102')->outcome);
        self::assertSame(DialOutcome::NotReached, Dial::of($model, $extension, '2102', 'outposts/v')->outcome);
        self::assertSame([], preg_grep('/codecs/', self::dial(self::job()->plan(), '2102')->facts->texts()), 'a default is no fact');
    }

    public function testWhatAFileSaysOtherwiseIsSaidValueByValueAndNoSecretIs(): void
    {
        $then = self::job()->plan();
        $now = self::job()->change('extensions', 'x2101', 'name', 'Tower')
            ->row('settings', ['key' => 'devices/p1#transport', 'planned' => 'tcp'])->plan();
        $said = static fn (Plan $before, Plan $after): array => array_map(
            strval(...),
            ProvisioningFile::changedSince($before, $after, $after->devices['p1']),
        );
        self::assertSame([], $said($then, $then));
        $was = $then->extensions['x2101']->name;
        self::assertSame(
            ['displayName: '.('' === $was ? '–' : $was).' → Tower', 'transport: udp → tcp'],
            $said($then, $now),
        );
        $gone = self::job()->change('accounts', 'a2101', 'macEntered', null)->plan();
        self::assertStringContainsString('The MAC of P1 is not entered', implode(' ', $said($then, $gone)), 'there is no file by now');
    }

    public function testATrunkRefusesWhatItsFarEndDoesNotTake(): void
    {
        $dialled = static function (string ...$codecs): Dial {
            $plan = SwitchingTest::job()->change('trunks', 't1', 'codecs', array_values($codecs))->plan();
            $from = $plan->extensionNumbered('2101') ?? throw new \LogicException();

            return Dial::of(NetworkModel::of($plan, Face::Set), $from, '00049301234');
        };
        self::assertSame(DialOutcome::Outside, $dialled('G.711')->outcome);
        self::assertSame(DialOutcome::Outside, $dialled()->outcome, 'where nobody said what it takes');
        $refused = $dialled('G.729', 'Opus');
        self::assertSame(DialOutcome::NotReached, $refused->outcome);
        self::assertStringContainsString(
            '2101 offers G.722, G.711, Provider takes G.729, Opus: it refuses (488).',
            (string) $refused->steps[\count($refused->steps) - 1],
        );
        self::assertContains('trunks/t1:codecs=G.729, Opus', $refused->facts->texts());
    }

    public function testANumberRingsAtAllItsTerminalsEachByItsOwnWay(): void
    {
        $jobs = static fn (?string $entered): Jobs => self::job()
            ->device('p3', 'desk-phone-poe', 'v', ['address' => '10.64.20.32'], ['mac' => '00-00-5E-00-53-33'])
            ->row('terminals', ['key' => 't', 'extension' => 'x2102', 'device' => 'p3', 'macEntered' => $entered]);
        $both = $jobs('00-00-5E-00-53-33');
        $dial = self::dial($both->plan(), '2102');
        $said = implode(' ', $dial->steps);
        self::assertSame([DialOutcome::Device, 'p2', true], [$dial->outcome, $dial->rings, $dial->sound]);
        self::assertStringContainsString('P2 rings for 2102', $said);
        self::assertStringContainsString('P3 rings for 2102', $said);
        self::assertContains('terminals/t:macEntered=00-00-5E-00-53-33', $dial->facts->texts());
        self::assertSame(['p2', 'p3'], $both->plan()->ringing($both->plan()->extensions['x2102']));
        self::assertSame('2102', $both->plan()->extensionsOf('p3')[0]->number);

        // The phone is deaf: the other one rings, and nobody speaks of voicemail.
        $deaf = self::dial($both->row('settings', ['key' => 'nics/p2.lan#gateway', 'set' => ''])->plan(), '2102');
        self::assertSame([DialOutcome::Device, 'p3'], [$deaf->outcome, $deaf->rings]);
        self::assertStringContainsString('P2 does not ring for 2102: P2 does not reach PBX', implode(' ', $deaf->steps));

        // What is entered for the phone is not entered for another.
        $plan = $jobs(null)->plan();
        $late = implode(' ', self::dial($plan, '2102')->steps);
        self::assertStringContainsString('P3 does not ring for 2102: The MAC of P3 is not entered at PBX yet', $late);
        self::assertStringContainsString('P3', (string) ProvisioningFile::obstacle($plan, $plan->devices['p3']));
        self::assertNull(ProvisioningFile::obstacle($plan, $plan->devices['p2']));
        self::assertNull(ProvisioningFile::obstacle($both->plan(), $both->plan()->devices['p3']));
    }

    public function testAPhoneThatIsDeafEndsInVoicemailAndThatIsNoPass(): void
    {
        $jobs = self::job()->row('settings', ['key' => 'nics/p2.lan#gateway', 'set' => '']);
        $dial = self::dial($jobs->plan(), '2102');

        self::assertSame(DialOutcome::Voicemail, $dial->outcome);
        self::assertStringContainsString('P2 does not reach PBX', (string) $dial->steps[1]);
        self::assertFalse($dial->walk?->holds());
    }

    public function testSignallingMayPassWhereSoundDoesNot(): void
    {
        $jobs = self::job();
        foreach (['v' => 'q', 'q' => 'v'] as $from => $to) {
            $jobs->row('filters', [
                'key' => $from,
                'router' => 'r',
                'position' => 5,
                'from' => $from,
                'to' => $to,
                'transport' => 'udp',
                'portFirst' => 5060,
                'portLast' => 5060,
                'action' => 'allow',
            ])
                ->row('filters', [
                    'key' => 'no'.$from,
                    'router' => 'r',
                    'position' => 9,
                    'from' => $from,
                    'to' => $to,
                    'transport' => 'any',
                    'action' => 'deny',
                ]);
        }
        $dial = self::dial($jobs->plan(), '2102');

        self::assertSame([DialOutcome::Device, false], [$dial->outcome, $dial->sound]);
    }

    public function testTransportsMustMeet(): void
    {
        $jobs = self::job()->row('settings', ['key' => 'devices/p2#transport', 'set' => 'tcp']);

        self::assertStringContainsString(
            'P2 speaks SIP over tcp, PBX hears it over udp only',
            (string) self::dial($jobs->plan(), '2102')->steps[1],
        );
    }

    public function testBulkNumbersFollowTheRosterAndStayInRange(): void
    {
        $jobs = self::job()
            ->device('p3', 'desk-phone-poe', 'v', ['address' => '10.64.20.33'])
            ->device('p4', 'desk-phone-supply', 'v', ['address' => '10.64.20.34']);
        $after = $jobs->plan()->with(Numbers::bulk($jobs->plan(), '2101', 'pbx', false));
        self::assertSame(
            ['p3', 'p4'],
            [$after->extensionNumbered('2103')?->phone, $after->extensionNumbered('2104')?->phone],
            'taken numbers are passed over',
        );

        $this->expectException(Malformed::class);
        $this->expectExceptionMessage('outside the range 2100-2199');
        Numbers::bulk($jobs->plan(), '2199', 'pbx', false);
    }

    public function testAFileIsOnlyMadeWhenEverythingInItIsKnown(): void
    {
        $plan = self::job()->plan();
        self::assertSame('10.64.20.10', ProvisioningFile::of($plan, $plan->devices['p1'], 'secret', 'admin')->values['registrar']);

        $this->expectExceptionMessage('empty secret');
        ProvisioningFile::of($plan, $plan->devices['p1'], '', 'admin');
    }
}
