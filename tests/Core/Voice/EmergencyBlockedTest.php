<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Voice\Rule\EmergencyBlocked;
use Vorhut\Core\Voice\Rule\EmergencyLocationElsewhere;
use Vorhut\Tests\Support\Jobs;

/** Each way in which an emergency call fails has its own sentence and its own advice. */
final class EmergencyBlockedTest extends TestCase
{
    private const ROUTE = 'Add a route before all others that sends 112 by a trunk';
    private const FRAME = 'Remove the time frame from the emergency route.';

    /** @return iterable<string, array{string, string, string, int|string|bool, string, non-empty-string}> … value, sentence, advice */
    public static function mistakes(): iterable
    {
        yield 'no trunk takes it' => ['trunks', 't1', 'emergency', false, '~^112, .* does not go out: ~', self::ROUTE];
        yield 'altered' => ['callRoutes', 'emergency0', 'strip', 0, '~^0112, .* goes out as 0112: ~', self::ROUTE];
        yield 'by hours' => ['callRoutes', 'emergency', 'timeFrame', 'day', '~^112, .* at .+, does not go out: ~', self::FRAME];
    }

    /** @param non-empty-string $advice */
    #[DataProvider('mistakes')]
    public function testTheSentenceNamesTheWayInWhichItFails(
        string $section,
        string $key,
        string $field,
        string|int|bool $value,
        string $sentence,
        string $advice,
    ): void {
        $jobs = SwitchingTest::job()->change($section, $key, $field, $value);
        foreach ((new EmergencyBlocked())->find(new RuleContext($jobs->plan())) as $finding) {
            if ('emergency-blocked' === $finding->code) {
                self::assertMatchesRegularExpression($sentence, (string) $finding->what);
                self::assertStringStartsWith($advice, (string) $finding->todo);

                return;
            }
        }
        self::fail('nothing was found');
    }

    public function testARoomOfFourLettersCountsAndOneOfThreeDoesNot(): void
    {
        foreach (['Yard' => 1, 'Bay' => 0] as $room => $count) {
            $jobs = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
                ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.30.10'])
                ->device('p', 'desk-phone-poe', 's', ['address' => '10.64.30.31'], ['room' => 'Kitchen'])
                ->device('w', 'projector', null, [], ['room' => $room])
                ->number('2101', 'p', '00-00-5E-00-53-01', ['location' => "Harbour street 4, $room"]);
            $found = iterator_to_array((new EmergencyLocationElsewhere())->find(new RuleContext($jobs->plan())), false);
            self::assertCount($count, $found, $room);
        }
    }
}
