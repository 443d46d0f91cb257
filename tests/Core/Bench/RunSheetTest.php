<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\Obstacle;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\SheetValue;
use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Bench\StopKind;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

final class RunSheetTest extends TestCase
{
    private static function plan(): Plan
    {
        $jobs = (new Jobs())->segment('s', '10.64.40.0/23', '10.64.40.1', ['dns' => '10.64.40.3'])
            ->device(
                'c',
                'ptz-camera',
                's',
                ['address' => '10.64.40.31', 'hostName' => 'cam-1'],
                ['serial' => 'S-1', 'mac' => '00-00-5E-00-53-01'],
            )
            ->device('p', 'desk-phone-poe', 's', ['address' => '10.64.40.51', 'provisioning' => 'vorhut', 'provisioningUser' => '']);
        $jobs->job += ['ntp' => '10.64.40.5'];

        return $jobs->plan();
    }

    private static function step(Plan $plan, string $device, string $code): Step
    {
        return $plan->devices[$device]->kind->step($code) ?? throw new \LogicException();
    }

    /** @return array<string, string|null> */
    private static function values(RunSheet $sheet, Step $step): array
    {
        return array_column(array_map(static fn (SheetValue $value): array => [$value->name, $value->text], $sheet->values($step)), 1, 0);
    }

    private static function marked(Plan $plan, string $device, string $code, string $state = 'done', string $note = ''): Plan
    {
        return $plan->with(
            RunSheet::of($plan, $plan->devices[$device])->changes()->mark(
                self::step($plan, $device, $code),
                new StepMark(MarkState::from($state), $note),
                'Jo',
                '2026-03-01T09:00:00Z',
            ),
        );
    }

    /** @param array<string, string> $read */
    private static function readOff(Plan $plan, string $step, array $read): Plan
    {
        return $plan->with(
            RunSheet::of($plan, $plan->devices['c'])->changes()->mark(
                self::step($plan, 'c', $step),
                new StepMark(MarkState::Done, read: $read),
                'Jo',
                '2026-03-01T09:00:00Z',
            ),
        );
    }

    public function testEveryValueToTypeIsReadyToCopy(): void
    {
        $plan = self::plan();
        $sheet = RunSheet::of($plan, $plan->devices['c']);

        self::assertSame(['serial' => 'S-1', 'mac' => '00-00-5E-00-53-01'], self::values($sheet, self::step($plan, 'c', 'unpack')));
        self::assertSame(['factory' => '192.168.1.100', 'login' => 'admin / admin'], self::values($sheet, self::step($plan, 'c', 'reach')));
        self::assertSame(
            ['address' => '10.64.40.31', 'mask' => '255.255.254.0', 'gateway' => '10.64.40.1', 'dns' => '10.64.40.3'],
            self::values($sheet, self::step($plan, 'c', 'address')),
            'the mask as devices want it',
        );
        self::assertSame(
            ['hostName' => 'cam-1', 'timeZone' => null, 'timeServer' => '10.64.40.5'],
            self::values($sheet, self::step($plan, 'c', 'name')),
        );
        self::assertSame(
            ['adminPassword' => null],
            self::values($sheet, self::step($plan, 'c', 'password')),
            'secrets come from elsewhere',
        );
    }

    public function testAStepSaysWhatItWaitsForUntilItIsThere(): void
    {
        $jobs = (new Jobs())
            ->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.30.10'])
            ->device('p', 'desk-phone-poe', 's', ['address' => '10.64.30.31']);
        $waits = static function (Jobs $jobs): array {
            $plan = $jobs->plan();

            return array_map(strval(...), RunSheet::of($plan, $plan->devices['p'])->obstacles(self::step($plan, 'p', 'server')));
        };
        self::assertSame(['P has no number yet: the lead gives one in Services.'], $waits($jobs));
        $jobs->row('extensions', ['key' => 'x', 'number' => '2101', 'pbx' => 'pbx', 'terminal' => 'sip', 'phone' => 'p']);
        self::assertSame(['The MAC of P is not entered at the registrar for 2101: enter it there first, then here.'], $waits($jobs));
        self::assertSame(
            [],
            $waits(
                $jobs->row('accounts', [
                    'key' => 'a',
                    'extension' => 'x',
                    'registrar' => 'pbx',
                    'user' => '2101',
                    'macEntered' => '00-00-5E-00-53-01',
                ]),
            ),
        );
    }

    public function testAnObstacleSaysWhereItIsCleared(): void
    {
        $plan = (new Jobs())->segment('a', '10.64.60.0/24')
            ->device('str', 'multi-room-streamer', 'a')->device('ctl', 'multi-room-controller', 'a')
            ->device('p', 'desk-phone-poe', 'a')->device('gw', 'presentation-gateway-internet', 'a', ['address' => '10.64.60.9'])->plan();
        $where = static fn (string $device, string $step): array => array_map(
            static fn (Obstacle $one): string => $one->stage->value.' '.$one->record,
            RunSheet::of($plan, $plan->devices[$device])->obstacles(self::step($plan, $device, $step)),
        );
        self::assertSame(['bench devices/ctl'], $where('str', 'source'));
        self::assertSame(['devices devices/ctl'], $where('ctl', 'unlock'));
        self::assertSame(['services devices/p'], $where('p', 'server'));
        self::assertSame(['brief '], $where('gw', 'address'));
    }

    public function testAStepThatNeedsAnotherDeviceWaitsUntilThatIsStaged(): void
    {
        $jobs = (new Jobs())
            ->segment('a', '10.64.60.0/24')
            ->device('str', 'multi-room-streamer', 'a');
        $waits = static function () use ($jobs): array {
            $plan = $jobs->plan();

            return array_map(strval(...), RunSheet::of($plan, $plan->devices['str'])->obstacles(self::step($plan, 'str', 'source')));
        };
        self::assertSame(['Controller of STR is not planned yet.'], $waits());
        $jobs->device('ctl', 'multi-room-controller', 'a')->device('ctl-2', 'multi-room-controller', 'a');
        self::assertSame(['Controller of STR is not planned yet.'], $waits(), 'two: somebody has to choose');
        $jobs->row('settings', ['key' => 'devices/str#controller', 'planned' => 'ctl']);
        self::assertSame(['CTL has to be staged first.'], $waits());
        foreach ($jobs->plan()->devices['ctl']->kind->steps as $step) {
            $jobs->row('marks', ['key' => 'ctl.'.$step->code, 'device' => 'ctl', 'step' => $step->code, 'state' => 'done']);
        }
        self::assertSame([], $waits());
    }

    public function testWhatIsLeftBlankSaysWhy(): void
    {
        $reason = static function (?string $gateway, array $values): ?string {
            /** @var array<string, string> $values */
            $plan = (new Jobs())
                ->segment('s', '10.64.30.0/24', $gateway)
                ->device('c', 'ptz-camera', 's', $values + ['address' => '10.64.30.31'])
                ->plan();
            foreach (RunSheet::of($plan, $plan->devices['c'])->values(self::step($plan, 'c', 'address')) as $value) {
                if ('gateway' === $value->name) {
                    return null === $value->text ? null : $value->text.'|'.$value->reason;
                }
            }

            return 'missing';
        };
        self::assertSame('|No router is on S: nothing to name here.', $reason('none', []));
        self::assertSame('|The plan leaves it blank on purpose.', $reason('10.64.30.1', ['gateway' => '']));
        self::assertNull($reason(null, []), 'not known is not blank');
        self::assertSame('10.64.30.1|', $reason('10.64.30.1', []));
    }

    public function testWhatIsReadOffTheDeviceIsWrittenDownAsSeenAndTheLabelFillsTheRoster(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24')->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31'])->plan();
        $after = self::readOff(
            self::readOff($plan, 'unpack', ['mac' => '00-00-5E-00-53-07', 'serial' => 'S-7']),
            'name',
            ['firmware' => '4.2.11'],
        );
        self::assertSame(['00-00-5E-00-53-07', 'S-7'], [(string) $after->devices['c']->nic()?->mac, $after->devices['c']->serial]);
        self::assertSame([null, '4.2.11'], [
            $after->devices['c']->setting('firmware')->set,
            $after->devices['c']->setting('firmware')->seen,
        ]);
        $again = self::readOff($after, 'unpack', ['mac' => '00-00-5E-00-53-08', 'serial' => 'S-8']);
        self::assertSame(
            ['00-00-5E-00-53-07', 'S-7'],
            [(string) $again->devices['c']->nic()?->mac, $again->devices['c']->serial],
            'what the roster has is not overwritten by a reading',
        );
    }

    public function testTheFirstPasswordIsGoneWithItsStepAndBackWithItsMark(): void
    {
        $plan = (new Jobs())
            ->segment('s', '10.64.30.0/24')
            ->device('c', 'ptz-camera', 's')
            ->row('credentials', [
                'key' => 'c.admin',
                'owner' => 'devices/c',
                'purpose' => 'admin',
                'user' => 'admin',
                'state' => 'default',
            ])
            ->plan();
        $done = self::marked($plan, 'c', 'password');
        self::assertFalse($done->credential('devices/c', 'admin')?->isDefault);
        self::assertTrue(self::marked($done, 'c', 'password', 'open')->credential('devices/c', 'admin')?->isDefault);
        self::assertTrue(self::marked($plan, 'c', 'unpack')->credential('devices/c', 'admin')?->isDefault, 'another step does not');
    }

    public function testTwoPortsAreTypedEachWithItsOwnValues(): void
    {
        $plan = (new Jobs())
            ->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->segment('t', '10.64.31.0/24')
            ->device('srv', 'media-server', 's', ['address' => '10.64.30.20'])
            ->port('srv', 'nic2', 't', ['address' => '10.64.31.20'])
            ->plan();
        $sheet = RunSheet::of($plan, $plan->devices['srv']);
        self::assertSame(
            [
                'nic1.address' => '10.64.30.20',
                'nic1.mask' => '255.255.255.0',
                'nic1.gateway' => '10.64.30.1',
                'nic2.address' => '10.64.31.20',
                'nic2.mask' => '255.255.255.0',
            ],
            self::values($sheet, self::step($plan, 'srv', 'address')),
        );
        self::assertSame(
            ['nic1', 'nic1', 'nic1', 'nic2', 'nic2'],
            array_map(static fn (SheetValue $one): string => $one->which, $sheet->values(self::step($plan, 'srv', 'address'))),
            'and the sheet says whose they are',
        );
        $after = self::marked($plan, 'srv', 'address');
        self::assertSame(['10.64.30.20', '10.64.31.20', null], [
            $after->nics['srv.nic1']->setting('address')->set,
            $after->nics['srv.nic2']->setting('address')->set,
            $after->nics['srv.nic2']->setting('gateway')->set,
        ]);
    }

    public function testTheNextStepIsTheFirstThatIsNeitherDoneNorSkipped(): void
    {
        $plan = self::plan();
        $next = static fn (Plan $in): ?string => RunSheet::of($in, $in->devices['p'])->next()?->code;
        self::assertSame('unpack', $next($plan));
        $plan = self::marked($plan, 'p', 'unpack');
        $plan = self::marked($plan, 'p', 'hook-up', 'skipped', 'it hangs already');
        self::assertSame('address', $next($plan));
        $plan = self::marked($plan, 'p', 'address', 'failed', 'another address');
        self::assertSame('address', $next($plan), 'failed is not done');
        $plan = self::marked($plan, 'p', 'address');
        self::assertSame(['server', 3], [$next($plan), RunSheet::of($plan, $plan->devices['p'])->doneCount()]);
        self::assertSame(
            ['vorhut', ''],
            [
                self::marked($plan, 'p', 'server')->devices['p']->setting('provisioning')->set,
                self::marked($plan, 'p', 'server')->devices['p']->setting('provisioningUser')->set,
            ],
            'old settings are emptied on purpose',
        );
    }

    public function testAMarkIsReplacedNotHeaped(): void
    {
        $plan = self::marked(self::marked(self::plan(), 'c', 'unpack', 'blocked', 'no box'), 'c', 'unpack');
        self::assertSame([1, MarkState::Done, ''], [
            \count($plan->rows('marks')),
            $plan->marksOf('c')['unpack']->state,
            $plan->marksOf('c')['unpack']->note,
        ]);
        $open = self::marked($plan, 'c', 'unpack', 'open');
        self::assertSame([], $open->rows('marks'));
        self::assertFalse(RunSheet::of($open, $open->devices['c'])->isBegun());
    }

    public function testWhateverCameOfTheStepThatPowersItItIsHookedUp(): void
    {
        $hooked = static fn (Plan $plan): bool => RunSheet::of($plan, $plan->devices['c'])->isHookedUp();
        self::assertFalse($hooked(self::plan()));
        self::assertTrue($hooked(self::marked(self::plan(), 'c', 'hook-up', 'failed')));
        $router = (new Jobs())->router('r', [])->plan();
        self::assertFalse(RunSheet::of($router, $router->devices['r'])->isHookedUp(), 'nobody powers it here');
    }

    public function testTakingAMarkBackLeavesWhatIsInTheDevice(): void
    {
        $plan = self::marked(self::marked(self::plan(), 'c', 'address'), 'c', 'address', 'open');

        self::assertSame(
            '10.64.40.31',
            $plan->nics['c.lan']->setting('address')->set,
            'a device does not forget because a mark is taken back',
        );
    }

    public function testWhatNoPageTellsIsSeenByLookingAndOnlyWhatWasLookedAt(): void
    {
        $plan = self::plan();
        self::assertSame([], RunSheet::of($plan, $plan->devices['c'])->toLookAt(), 'nothing is set yet');
        $plan = self::marked(self::marked($plan, 'c', 'dial'), 'c', 'name');
        $sheet = RunSheet::of($plan, $plan->devices['c']);
        self::assertSame(['dialSize'], array_keys($sheet->toLookAt()), 'its page tells the host name');
        self::assertTrue($sheet->changes()->confirmValues([])->isEmpty());
        self::assertTrue($sheet->changes()->confirmValues(['hostName', 'nothing'])->isEmpty());
        $after = $plan->with($sheet->changes()->confirmValues(['dialSize']));
        $value = $after->devices['c']->setting('dialSize');
        self::assertNotNull($value->set);
        self::assertSame($value->set, $value->seen);
        self::assertSame([], RunSheet::of($after, $after->devices['c'])->toLookAt());
    }

    public function testTheCurrentStopIsWhereSomethingIsLeft(): void
    {
        $plan = self::plan();
        self::assertSame(StopKind::Dhcp, Queue::of($plan)->currentFor($plan, 'Jo')?->how, 'the phone has the lower rank');
        foreach ($plan->devices['p']->kind->steps as $step) {
            $plan = self::marked($plan, 'p', $step->code);
        }
        self::assertSame(StopKind::Fixed, Queue::of($plan)->currentFor($plan, 'Jo')?->how);
        foreach ($plan->devices['c']->kind->steps as $step) {
            $plan = self::marked($plan, 'c', $step->code);
        }
        self::assertNull(Queue::of($plan)->currentFor($plan, 'Jo'));
        self::assertSame(1, Queue::of($plan)->stopOf('p')?->number);
        self::assertNull(Queue::of($plan)->stopOf('nobody'));
    }

    public function testHowOneGetsInIsSaidForEveryPattern(): void
    {
        $login = static function (string $kind, string $serial = ''): string {
            $plan = (new Jobs())->segment('s', '10.64.30.0/24')->device('d', $kind, 's', [], ['serial' => $serial])->plan();
            $sheet = RunSheet::of($plan, $plan->devices['d']);
            foreach ($sheet->device->kind->steps as $step) {
                foreach ($sheet->values($step) as $value) {
                    if ('login' === $value->name) {
                        return $value->text.' | '.$value->reason;
                    }
                }
            }

            return 'none';
        };
        self::assertSame('admin / admin | admin', $login('ptz-camera'));
        self::assertSame('admin | its serial number NM1', $login('video-bar', 'NM1'));
        self::assertSame('admin | as printed on the label', $login('mobile-router'));
        self::assertSame('admin | (empty)', $login('lighting-node'));
        self::assertSame('operator | ask the person who holds it', $login('production-computer'));
    }

    public function testThePortsOfAHostStandInTheOrderOfItsKind(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24')->device('v', 'media-server', 's')->plan();
        $reversed = Plan::of($plan->jobRow(), [
            'segments' => $plan->rows('segments'),
            'devices' => $plan->rows('devices'),
            'nics' => array_reverse($plan->rows('nics')),
        ], Jobs::catalogue());
        self::assertSame(['nic1', 'nic2'], array_map(static fn (Nic $nic): string => $nic->name, $reversed->devices['v']->nics));
    }

    public function testAfterAFailedStepTheNextWayIsNamed(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24')
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31'])
            ->device('p', 'desk-phone-poe', 's', ['address' => '10.64.30.32'])->plan();
        $next = static function (string $device, string $step) use ($plan): string {
            $one = $plan->devices[$device];

            return (string) RunSheet::nextWay($one->kind->step($step) ?? self::fail('no such step'), $one);
        };
        self::assertStringContainsString('It may not be as the factory made it. Find its address by', $next('c', 'reach'));
        self::assertSame('Try it another way: On its web page.', $next('p', 'server'));
        self::assertStringStartsWith('Repeat the previous step', $next('c', 'hook-up'));
    }

    public function testAPhoneThatTurnsOutToHaveBeenUsedGetsTheStepsOfItsReset(): void
    {
        $plan = self::plan();
        self::assertSame(['used'], RunSheet::of($plan, $plan->devices['p'])->otherStates());
        self::assertSame([], RunSheet::of($plan, $plan->devices['c'])->otherStates());
        $used = $plan->with(new Change(new Message(''), [Edit::put('devices', 'p', 'arrives', null, 'used')]));
        $codes = array_map(static fn (Step $step): string => $step->code, $used->devices['p']->steps);
        self::assertSame(['unpack', 'hook-up', 'reset', 'reset-password'], \array_slice($codes, 0, 4));
        self::assertSame([], RunSheet::of($used, $used->devices['p'])->otherStates());
        self::assertSame(8, self::step($used, 'p', 'reset')->window);
        self::assertSame(0, self::step($used, 'p', 'reset-password')->window, 'the MAC may take its time');
    }

    public function testAPortThatIsPluggedInNowhereIsNotWaitedFor(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.40.0/23', '10.64.40.1')
            ->device('m', 'media-server', 's', ['address' => '10.64.40.31']);
        $plan = $jobs->plan();
        $step = array_values(array_filter(
            $plan->devices['m']->steps,
            static fn (Step $step): bool => \in_array('planned:nic2.address', array_map(strval(...), $step->needs), true),
        ))[0];
        $sheet = RunSheet::of($plan, $plan->devices['m']);
        self::assertSame([], $sheet->obstacles($step));
        self::assertArrayHasKey('nic1.address', self::values($sheet, $step));
        self::assertArrayNotHasKey('nic2.address', self::values($sheet, $step));

        $both = $jobs->port('m', 'nic2', 's', [])->plan();
        $sheet = RunSheet::of($both, $both->devices['m']);
        self::assertCount(1, $sheet->obstacles($step));
        self::assertArrayHasKey('nic2.address', self::values($sheet, $step));
    }

    public function testTheLoginOnTheSheetIsTheOneThatOpensTheDeviceNow(): void
    {
        $login = static function (Plan $plan): SheetValue {
            $sheet = RunSheet::of($plan, $plan->devices['c']);
            foreach ($plan->devices['c']->steps as $step) {
                foreach ($sheet->values($step) as $value) {
                    if ('login' === $value->name) {
                        return $value;
                    }
                }
            }
            throw new \LogicException('No step shows a login.');
        };
        $plan = self::plan()->with(new Change(new Message(''), [Edit::add('credentials', [
            'key' => 'c', 'owner' => 'devices/c', 'purpose' => 'admin', 'user' => 'admin', 'state' => 'default', 'length' => 12,
        ])]));
        self::assertNull($login($plan)->purpose);
        self::assertSame('admin', $login(self::marked($plan, 'c', 'password'))->purpose);
    }

    public function testAStepWhoseValuesWereReadBackIsDone(): void
    {
        $seen = static fn (Plan $plan, string $name, string $value): Plan => $plan->with(new Change(new Message(''), [
            Edit::setting(
                $plan->settings()->slot($plan->devices['c'], $name)->ref ?? throw new \LogicException(),
                Face::Seen,
                null,
                $value,
            ),
        ]));
        $marks = static function (Plan $plan): array {
            $change = RunSheet::of($plan, $plan->devices['c'])->changes()->readBack('Outpost', '2026-03-01T09:00:00Z');
            $after = $plan->with($change);

            return [array_keys($after->marksOf('c')), $after->devices['c']->nic()?->setting('address')->set];
        };
        $plan = self::plan();
        self::assertSame([[], null], $marks($plan));
        $plan = $seen($seen($seen($plan, 'address', '10.64.40.31'), 'mask', '/23'), 'gateway', '10.64.40.1');
        self::assertSame([[], null], $marks($plan), 'DNS was not seen');
        self::assertSame([[], null], $marks($seen($plan, 'dns', '10.64.40.9')), 'another value is not the planned one');
        $plan = $seen($plan, 'dns', '10.64.40.3');
        self::assertSame([['address'], '10.64.40.31'], $marks($plan));
        self::assertSame([['address'], null], $marks(self::marked($plan, 'c', 'address', 'skipped', 'later')), 'what a person said stands');
    }
}
