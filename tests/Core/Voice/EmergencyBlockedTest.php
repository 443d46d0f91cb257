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
    /** @return iterable<string, array{string, string, string, int|string|bool, string, list<string>, bool}> … digits, facts, new route? */
    public static function mistakes(): iterable
    {
        yield 'no trunk takes it' => ['trunks', 't1', 'emergency', false, '112', ['why'], true];
        yield 'altered' => ['callRoutes', 'emergency0', 'strip', 0, '0112', ['sent'], true];
        yield 'by hours' => ['callRoutes', 'emergency', 'timeFrame', 'day', '112', ['hour', 'why'], false];
    }

    /** @param list<string> $facts */
    #[DataProvider('mistakes')]
    public function testTheSentenceNamesTheWayInWhichItFails(
        string $section,
        string $key,
        string $field,
        string|int|bool $value,
        string $digits,
        array $facts,
        bool $needsRoute,
    ): void {
        $jobs = SwitchingTest::job()->change($section, $key, $field, $value);
        foreach ((new EmergencyBlocked())->find(new RuleContext($jobs->plan())) as $finding) {
            if ('emergency-blocked' === $finding->code) {
                self::assertSame($digits, $finding->what->with['digits']);
                foreach ($facts as $fact) {
                    self::assertStringContainsString('{'.$fact.'}', $finding->what->text);
                }
                self::assertSame($needsRoute, str_contains($finding->todo->text, '{number}'), (string) $finding->todo);

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
