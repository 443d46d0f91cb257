<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\LabBench;

/** A codec behind NAT: the rehearsal says what the prediction says. */
final class NatCodecTest extends TestCase
{
    #[TestWith(['203.0.113.5', Outcome::DeviceAnswers])]
    #[TestWith(['', Outcome::OneWaySound])]
    #[TestWith(['203.0.113.3', Outcome::OneWaySound])]
    public function testItIsRehearsedAsItIsPredicted(string $announced, Outcome $outcome): void
    {
        $bench = new LabBench(151, static function (Jobs $jobs) use ($announced): void {
            $jobs->segment('in', '10.151.60.0/24', '10.151.60.1')->segment('out', '203.0.113.0/29', '203.0.113.1')
                ->row('routerPorts', ['key' => 'r-out', 'router' => 'r', 'segment' => 'out', 'address' => '203.0.113.1', 'mask' => '/29'])
                ->router('n', ['in' => '10.151.60.1/24', 'out' => '203.0.113.2/29'])
                ->row('routes', ['key' => 'default', 'router' => 'n', 'destination' => '0.0.0.0/0', 'via' => '203.0.113.1'])
                ->row('translations', [
                    'key' => 'nat', 'router' => 'n', 'outside' => 'out', 'what' => 'static', 'position' => 1,
                    'inside' => '10.151.60.12', 'address' => '203.0.113.5', 'transport' => 'any',
                ])
                ->device('far', 'room-codec', 'in', [
                    'address' => '10.151.60.12', 'address.set' => '10.151.60.12', 'mask.set' => '/24', 'gateway.set' => '10.151.60.1',
                    'dns.set' => '', 'announcedAddress.set' => $announced,
                ]);
        });
        $test = TestPlan::of($bench->plan)->test('direct:v>far');
        self::assertSame($outcome, $test?->expectedOutcome(), (string) $test?->because());
        $evidence = $bench->prove('direct:v>far');
        self::assertSame($outcome, $evidence->outcome, $evidence->detail.' '.implode("\n", $evidence->lines));
        $bench->close();
    }
}
