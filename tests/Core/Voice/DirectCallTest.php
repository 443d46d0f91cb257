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
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Voice\DirectCall;
use Vorhut\Core\Voice\Directory;
use Vorhut\Tests\Support\Jobs;

/** A system behind NAT is dialled at its outside address, and must announce it. */
final class DirectCallTest extends TestCase
{
    /** A in an office behind R at 203.0.113.5; B in another building, which knows no way inside. */
    public static function job(string $announced = '', string $what = 'static'): Jobs
    {
        $rule = [
            'key' => 'nat', 'router' => 'r', 'outside' => 'out', 'what' => $what, 'position' => 1,
            'inside' => '10.40.12.20', 'address' => '203.0.113.5', 'transport' => 'any',
        ];
        $jobs = (new Jobs())->segment('in', '10.40.12.0/24', '10.40.12.1')->segment('out', '203.0.113.0/29', '203.0.113.1')
            ->segment('far', '198.51.100.0/24', '198.51.100.1')
            ->router('r', ['in' => '10.40.12.1/24', 'out' => '203.0.113.2/29'])
            ->router('isp', ['out' => '203.0.113.1/29', 'far' => '198.51.100.1/24'])
            ->row('routes', ['key' => 'default', 'router' => 'r', 'destination' => '0.0.0.0/0', 'via' => '203.0.113.1'])
            ->row('translations', 'static' === $what ? $rule : $rule + ['portFirst' => 5060, 'portLast' => 5060])
            ->device('a', 'room-codec', 'in', ['address' => '10.40.12.20', 'announcedAddress' => $announced])
            ->device('b', 'room-codec', 'far', ['address' => '198.51.100.20']);

        return $jobs;
    }

    /** @return iterable<string, array{Jobs, string, string|null, bool}> job, from where, dialled, media */
    public static function calls(): iterable
    {
        yield 'it announces its outside address' => [self::job('203.0.113.5'), 'outposts/far', '203.0.113.5', true];
        yield 'it announces its own address' => [self::job(), 'outposts/far', '203.0.113.5', false];
        yield 'it announces an address of nobody' => [self::job('203.0.113.6'), 'outposts/far', '203.0.113.5', false];
        yield 'from its own segment it is dialled at its own' => [self::job(), 'outposts/in', '10.40.12.20', true];
        yield 'from behind NAT to the outside' => [self::job(), 'a', '198.51.100.20', true];
        yield 'signalling alone is forwarded' => [self::job('203.0.113.5', 'forward'), 'outposts/far', '203.0.113.5', false];
        yield 'nothing is forwarded' => [
            self::job('203.0.113.5')->change('translations', 'nat', 'what', 'source'), 'outposts/far', null, false,
        ];
    }

    #[DataProvider('calls')]
    public function testWhereItIsDialledAndWhetherMediaGoesBothWays(Jobs $jobs, string $from, ?string $dialled, bool $media): void
    {
        $plan = $jobs->plan();
        $to = 'a' === $from ? 'b' : 'a';
        $call = DirectCall::of(NetworkModel::of($plan, Face::Planned), $from, $plan->devices[$to]);
        self::assertSame($dialled, null === $call->dialled ? null : (string) $call->dialled);
        self::assertSame($media, null !== $call->dialled && null === $call->noMedia, (string) $call->noMedia);
        if (str_starts_with($from, 'outposts/far')) {
            $expected = match (true) {
                null === $dialled => Outcome::NotAnswered,
                $media => Outcome::DeviceAnswers,
                default => Outcome::OneWaySound,
            };
            self::assertSame($expected, TestPlan::of($plan)->test('direct:far>a')?->expectedOutcome());
        }
    }

    public function testTheDirectoryHasTheAddressThatItsReaderDials(): void
    {
        $plan = self::job()->plan();
        $address = static fn (string $reader): string => Directory::of($plan, $plan->devices[$reader])->entries[0]['address'];
        self::assertSame(['198.51.100.20', '203.0.113.5'], [$address('a'), $address('b')]);
    }

    public function testAWrongAnnouncedAddressIsFoundAndItsFixLeavesNone(): void
    {
        $find = static fn (Plan $plan): array => array_values(array_filter(
            Findings::of($plan, ShippedRules::all())->all,
            static fn (Finding $one): bool => 'announces-wrong-address' === $one->code,
        ));
        $plan = self::job('203.0.113.6')->plan();
        $found = $find($plan);
        self::assertCount(1, $found);
        self::assertSame('A announces 203.0.113.6 for media, but callers on FAR reach it at 203.0.113.5.', (string) $found[0]->what);
        self::assertNotNull($found[0]->cure);
        $fixed = $plan->with($found[0]->cure);
        self::assertSame('203.0.113.5', $fixed->devices['a']->setting('announcedAddress')->planned);
        self::assertSame([], $find(self::job('203.0.113.5')->plan()));
    }
}
