<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Proof\CallTrial;
use Vorhut\Outpost\Probe\LabCall;
use Vorhut\Tests\Core\Voice\SwitchingTest;

/** The lab makes no call that can end at an emergency number, whatever the plan of the tests says. */
final class LabCallTest extends TestCase
{
    /** @return iterable<string, array{CallTrial, bool}> call, whether it is refused */
    public static function calls(): iterable
    {
        $call = static fn (string $digits, string $keys = ''): CallTrial => new CallTrial('2101', null, $digits, $keys, [], []);
        yield 'another telephone' => [$call('2102'), false];
        yield 'an emergency number' => [$call('112'), true];
        yield 'behind the outside-line prefix' => [$call('0112'), true];
        yield 'a telephone that is forwarded to one' => [$call('2103'), true];
        yield 'the key of a menu that leads to one' => [$call('2200', '9'), true];
        yield 'that menu without a key' => [$call('2200'), true];
        yield 'another key of that menu' => [$call('2200', '1'), false];
    }

    #[DataProvider('calls')]
    public function testOnlyWhatCannotReachAnEmergencyNumberIsMade(CallTrial $call, bool $isRefused): void
    {
        $jobs = SwitchingTest::job()->change('menus', 'm', 'choices', ['1 2102', '9 0112'])
            ->change('extensions', 'x2103', 'forwardAlways', '0112');
        $refusal = LabCall::of($jobs->plan(), $call)->refusal();
        self::assertSame($isRefused ? 'an emergency number: never dialled' : '', (string) $refusal);
    }
}
