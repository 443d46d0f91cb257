<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Analysis;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\AgreementBoard;
use Vorhut\Core\Analysis\Analysis;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Consistency\Agreements;
use Vorhut\Tests\Support\Jobs;

/** What a device is said to be follows from its evidence and its marks alone. */
final class StateTest extends TestCase
{
    private static function job(): Jobs
    {
        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1', ['outpost' => '10.64.30.250'])
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31'], ['controlledFrom' => 's']);
    }

    /** @param array<string, string> $outcomes test → what came of it */
    private static function stateWith(Jobs $jobs, array $outcomes): string
    {
        $jobs->done('c', ...array_map(static fn ($step): string => $step->code, Jobs::catalogue()->kind('ptz-camera')->steps ?? []));
        foreach ($outcomes as $test => $outcome) {
            $jobs->row('observations', [
                'key' => md5($test), 'test' => $test, 'at' => '2026-03-01T09:00:00Z', 'by' => 'Outpost', 'onSite' => true,
                'arrived' => 1, 'outcome' => $outcome,
                'basis' => TestPlan::of($jobs->plan())->test($test)?->facts()->texts() ?? [],
            ]);
        }

        return (new Analysis($jobs->plan()))->stateOf('c')->value;
    }

    public function testItIsProvedOnlyWhenEveryTestOfItIsAsPlanned(): void
    {
        $tests = array_values(array_filter(TestPlan::of(self::job()->plan())->tests, static fn ($test): bool => 'c' === $test->to));
        self::assertGreaterThan(1, \count($tests));
        $all = array_combine(
            array_map(static fn ($test): string => $test->key, $tests),
            array_map(static fn ($test): string => $test->wanted->value, $tests),
        );
        self::assertSame('proved', self::stateWith(self::job(), $all));
        self::assertSame('staged', self::stateWith(self::job(), \array_slice($all, 0, 1)), 'the others were not asked yet');
        self::assertSame('failed', self::stateWith(self::job(), array_replace($all, [array_key_first($all) => 'silent'])));
        self::assertSame('staged', self::stateWith(self::job(), []));
    }

    public function testTheBoardOfAgreementsIsPlainDataWithBothHands(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24')->device('va', 'visual-alerter', 's', ['contactMode' => 'button']);
        for ($i = 0; $i < 25; ++$i) {
            $jobs->device('rd'.$i, 'ring-detector', null, ['drives' => 'va']);
        }
        $board = AgreementBoard::of(Agreements::of($jobs->plan()));
        self::assertSame([20, 5], [\count($board->broken), $board->more]);
        self::assertSame(25, $board->tally[0]['broken']);
        $hands = $board->broken[0]['hands'];
        self::assertSame(['detector', 'button'], array_column($hands, 'value'));
        self::assertSame([false, true], array_column($hands, 'isOdd'));
        self::assertNotNull($board->broken[0]['cure']);
        self::assertEquals($board, unserialize(serialize($board)));
    }
}
