<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Kind\Step;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

final class RunSheetTest extends TestCase
{
    private static function plan(): Plan
    {
        $jobs = (new Jobs())->segment('s', '10.64.40.0/23', '10.64.40.1', ['dns' => '10.64.40.3'])
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.40.31', 'hostName' => 'cam-1'], ['serial' => 'S-1', 'mac' => '00-00-5E-00-53-01'])
            ->device('p', 'desk-phone-poe', 's', ['address' => '10.64.40.51', 'provisioning' => 'vorhut', 'provisioningUser' => '']);
        $jobs->job += ['ntp' => '10.64.40.5'];

        return $jobs->plan();
    }

    private static function step(Plan $plan, string $device, string $code): Step
    {
        return $plan->devices[$device]->kind->step($code) ?? throw new \LogicException();
    }

    private static function marked(Plan $plan, string $device, string $code, string $state = 'done', string $note = ''): Plan
    {
        return $plan->with(RunSheet::of($plan, $plan->devices[$device])->markChange(self::step($plan, $device, $code), $state, $note, 'Jo', '2026-03-01T09:00:00Z'));
    }

    public function testEveryValueToTypeIsReadyToCopy(): void
    {
        $plan = self::plan();
        $sheet = RunSheet::of($plan, $plan->devices['c']);

        self::assertSame(['serial' => 'S-1', 'mac' => '00-00-5E-00-53-01'], $sheet->values(self::step($plan, 'c', 'unpack')));
        self::assertSame(['factory' => '192.168.1.100', 'login' => 'admin / admin'], $sheet->values(self::step($plan, 'c', 'reach')));
        self::assertSame(['address' => '10.64.40.31', 'mask' => '255.255.254.0', 'gateway' => '10.64.40.1', 'dns' => '10.64.40.3'], $sheet->values(self::step($plan, 'c', 'address')), 'the mask as devices want it');
        self::assertSame(['hostName' => 'cam-1', 'ntp' => '10.64.40.5'], $sheet->values(self::step($plan, 'c', 'name')));
        self::assertSame(['password' => null], $sheet->values(self::step($plan, 'c', 'password')), 'secrets come from elsewhere');
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
        self::assertSame(['server', 3], [$next($plan), RunSheet::of($plan, $plan->devices['p'])->done()]);
        self::assertSame(['vorhut', ''], [self::marked($plan, 'p', 'server')->devices['p']->value('provisioning')->set, self::marked($plan, 'p', 'server')->devices['p']->value('provisioningUser')->set], 'old settings are emptied on purpose');
    }

    public function testAMarkIsReplacedNotHeaped(): void
    {
        $plan = self::marked(self::marked(self::plan(), 'c', 'unpack', 'blocked', 'no box'), 'c', 'unpack');
        self::assertSame([1, 'done', ''], [\count($plan->rows('marks')), $plan->marks['c']['unpack']->state, $plan->marks['c']['unpack']->note]);
        $open = self::marked($plan, 'c', 'unpack', 'open');
        self::assertSame([], $open->rows('marks'));
        self::assertFalse(RunSheet::of($open, $open->devices['c'])->isBegun());
    }

    public function testTakingAMarkBackLeavesWhatIsInTheDevice(): void
    {
        $plan = self::marked(self::marked(self::plan(), 'c', 'address'), 'c', 'address', 'open');

        self::assertSame('10.64.40.31', $plan->nics['c.lan']->address->set, 'a device does not forget because a mark is taken back');
    }

    public function testTheCurrentStopIsWhereSomethingIsLeft(): void
    {
        $plan = self::plan();
        self::assertSame('dhcp', Queue::of($plan)->current($plan)?->how, 'the phone has the lower rank');
        foreach ($plan->devices['p']->kind->steps as $step) {
            $plan = self::marked($plan, 'p', $step->code);
        }
        self::assertSame('fixed', Queue::of($plan)->current($plan)?->how);
        foreach ($plan->devices['c']->kind->steps as $step) {
            $plan = self::marked($plan, 'c', $step->code);
        }
        self::assertNull(Queue::of($plan)->current($plan));
        self::assertSame(1, Queue::of($plan)->stopOf('p')?->number);
        self::assertNull(Queue::of($plan)->stopOf('nobody'));
    }
}
