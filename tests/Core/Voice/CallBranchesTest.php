<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Voice\CallBranch;
use Vorhut\Core\Voice\CallBranches;
use Vorhut\Tests\Support\Jobs;

/** No probe makes a call that could ring an emergency centre or leave the site. */
final class CallBranchesTest extends TestCase
{
    /** @return iterable<string, array{Jobs, string}> a job in which 2102, called by 2101, can ring 112 or leave; the numbers it passes */
    public static function dangerous(): iterable
    {
        $with = static fn (string $section, string $key, string $field, string $value): Jobs => SwitchingTest::job()
            ->change($section, $key, $field, $value);
        yield 'always forwarded to 112' => [$with('extensions', 'x2102', 'forwardAlways', '112'), '2102 → 112'];
        yield 'forwarded to 112 when busy' => [$with('extensions', 'x2102', 'forwardBusy', '112'), '2102 → 112'];
        yield 'forwarded to 0112 when unanswered' => [$with('extensions', 'x2102', 'forwardUnanswered', '0112'), '2102 → 0112'];
        yield 'forwarded to a number of the country that the job does not list' => [
            $with('extensions', 'x2102', 'forwardBusy', '113'), '2102 → 113',
        ];
        yield 'forwarded to a mobile, by day only' => [
            $with('extensions', 'x2102', 'forwardUnanswered', '041234567'), '2102 → 041234567',
        ];
        yield 'forwarded abroad' => [$with('extensions', 'x2102', 'forwardAlways', '000493012345'), '2102 → 000493012345'];
        yield 'the fallback of a group' => [
            $with('ringGroups', 'g', 'otherwise', '112')->change('extensions', 'x2102', 'forwardBusy', '2300'), '2102 → 2300 → 112',
        ];
        yield 'a key of a menu' => [
            $with('extensions', 'x2102', 'forwardBusy', '2200')->change('menus', 'm', 'choices', ['1 2101', '9 0112']),
            '2102 → 2200 → 0112',
        ];
        yield 'two forwards' => [
            $with('extensions', 'x2103', 'forwardUnanswered', '112')->change('extensions', 'x2102', 'forwardBusy', '2103'),
            '2102 → 2103 → 112',
        ];
        yield 'a route that makes an emergency number of it' => [
            $with('callRoutes', 'fax', 'prepend', '112')->change('callRoutes', 'fax', 'strip', 4)
                ->change('extensions', 'x2102', 'forwardBusy', '2901'),
            '2102 → 2901 → 112',
        ];
    }

    #[DataProvider('dangerous')]
    public function testItIsLeftToAPerson(Jobs $jobs, string $way): void
    {
        $plan = $jobs->plan();
        $caller = $plan->extensionNumbered('2101') ?? throw new \LogicException();
        self::assertStringContainsString('('.$way.')', (string) CallBranches::ofCall($plan, $caller, '2102')->reasonForHand());

        $calls = array_filter(
            TestPlan::of($plan)->tests,
            static fn (ProofTest $one): bool => '2102' === $one->called,
        );
        self::assertNotSame([], $calls);
        foreach ($calls as $test) {
            self::assertFalse($test->canBeAsked(false), $test->key);
            self::assertStringContainsString('('.$way.')', (string) $test->covers);
            self::assertSame(!str_ends_with($way, '112') && !str_ends_with($way, '113'), $test->canBeAsked(true), 'not in the lab either');
        }
    }

    public function testACallThatStaysInsideIsMadeByAProbe(): void
    {
        $plan = SwitchingTest::job()->change('extensions', 'x2102', 'forwardUnanswered', '2103')
            ->change('extensions', 'x2103', 'forwardUnanswered', '2101')->plan();
        foreach (['2102', '2103'] as $digits) {
            self::assertNull(CallBranches::ofForwarded($plan, 'pbx', $digits)->reasonForHand());
        }
        self::assertSame(
            [['extensions/x2102', 'extensions/x2103', 'extensions/x2101']],
            array_values(array_map(static fn (CallBranch $one): array => $one->records, array_filter(
                CallBranches::ofForwarded($plan, 'pbx', '2102')->all(),
                static fn (CallBranch $one): bool => \count($one->numbers) > 2,
            ))),
        );
        foreach (TestPlan::of($plan)->tests as $test) {
            self::assertTrue(TestKind::Call !== $test->kind || $test->canBeAsked(false));
        }
    }

    public function testARouteThatIsForOthersIsNoBranch(): void
    {
        $jobs = SwitchingTest::job()->change('extensions', 'x2102', 'forwardAlways', '000493012345')
            ->change('extensions', 'x2102', 'permission', 'inside');
        self::assertNull(CallBranches::ofForwarded($jobs->plan(), 'pbx', '2102')->reasonForHand(), '2102 may not forward abroad');
    }

    public function testWhileTheCountryIsUnknownNoEmergencyNumberOfAnyCountryIsAnOrdinaryNumber(): void
    {
        $jobs = SwitchingTest::job();
        $jobs->job['country'] = '';
        $jobs->job['emergencyNumbers'] = [];
        $jobs->change('extensions', 'x2102', 'forwardBusy', '911');
        self::assertTrue(CallBranches::ofForwarded($jobs->plan(), 'pbx', '2102')->reachesEmergency());
        $jobs->job['country'] = 'NO';
        self::assertFalse(CallBranches::ofForwarded($jobs->plan(), 'pbx', '2102')->reachesEmergency(), 'in Norway it rings nobody');
    }

    /** @return iterable<string, array{Jobs, string}> and the record that is found */
    public static function leading(): iterable
    {
        $job = SwitchingTest::job();
        yield 'a forward' => [$job->change('extensions', 'x2103', 'forwardBusy', '0112'), 'extensions/x2103'];
        yield 'a group' => [SwitchingTest::job()->change('ringGroups', 'g', 'otherwise', '113'), 'ringGroups/g'];
        yield 'a menu' => [SwitchingTest::job()->change('menus', 'm', 'choices', ['1 2101', '9 112']), 'menus/m'];
        yield 'what comes in' => [SwitchingTest::job()->change('inboundRoutes', 'shut', 'to', '112'), 'inboundRoutes/shut'];
        yield 'a route on the way' => [
            SwitchingTest::job()->change('callRoutes', 'fax', 'prepend', '112')->change('callRoutes', 'fax', 'strip', 4)
                ->change('menus', 'm', 'otherwise', '2901'),
            'menus/m',
        ];
    }

    #[DataProvider('leading')]
    public function testWhatLeadsToAnEmergencyNumberBlocks(Jobs $jobs, string $record): void
    {
        $found = array_filter(
            Findings::of($jobs->plan(), ShippedRules::all())->all,
            static fn (Finding $one): bool => 'emergency-by-forward' === $one->code,
        );
        self::assertSame([[$record]], array_values(array_map(static fn (Finding $one): array => $one->records, $found)));
        self::assertSame(['blocks'], array_values(array_map(static fn (Finding $one): string => $one->severity->value, $found)));
    }
}
