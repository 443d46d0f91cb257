<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Questions;
use Vorhut\Core\Plan\DeviceLogin;
use Vorhut\Core\Plan\FurtherLogin;
use Vorhut\Tests\Support\Jobs;

/** Several logins of one device, some of which somebody else holds. */
final class LoginsTest extends TestCase
{
    /** @return iterable<string, array{list<string>, list<string>}> what is typed; the fields at which something is said */
    public static function typed(): iterable
    {
        yield 'a user and a password' => [['Viewer', 'look', '', 'S3cret'], []];
        yield 'held by somebody' => [['stream', '', 'Ada', ''], []];
        yield 'neither' => [['stream', 'x', ' ', ''], ['secret']];
        yield 'no word' => [['', '', 'Ada', ''], ['purpose']];
        yield 'two words' => [['the stream', '', 'Ada', ''], ['purpose']];
        yield 'a line behind it' => [["stream\n#", '', 'Ada', ''], ['purpose']];
        yield 'the administrator has a field of its own' => [['ADMIN', '', 'Ada', ''], ['purpose']];
        yield 'too long' => [['stream', str_repeat('ü', 121), 'Ada', str_repeat('x', 121)], ['user', 'secret']];
        yield 'just not too long' => [[str_repeat('a', 40), str_repeat('ü', 120), str_repeat('ü', 120), str_repeat('x', 120)], []];
    }

    /**
     * @param list<string> $typed
     * @param list<string> $wrong
     */
    #[DataProvider('typed')]
    public function testWhatIsTypedIsTakenOrToldWhere(array $typed, array $wrong): void
    {
        $login = FurtherLogin::tryFrom(...$typed);
        self::assertSame($wrong, $login instanceof FurtherLogin ? [] : array_keys($login));
    }

    public function testThoseOfTheKindComeFirstAndWhatIsMissingIsAsked(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')
            ->device('bar', 'video-bar', 's')->device('other', 'video-bar', 's');
        $login = static fn (string $purpose, int $length, ?string $heldBy, string $owner = 'devices/bar'): array => [
            'key' => $owner.$purpose, 'owner' => $owner, 'purpose' => $purpose, 'state' => 'changed', 'user' => 'u',
            'length' => $length, 'heldBy' => $heldBy,
        ];
        $questions = static fn (): array => array_values(array_filter(
            array_map(static fn (array $one): string => (string) $one['text'], Questions::of($jobs->plan())->open),
            static fn (string $text): bool => str_contains($text, 'BAR') && 1 === preg_match('/hold|person/', $text),
        ));
        self::assertCount(1, $questions());
        self::assertStringContainsString('Room account password of BAR', $questions()[0]);

        $jobs->row('credentials', $login('viewer', 8, null))
            ->row('credentials', $login('installer', 0, 'Ada'))
            ->row('credentials', $login('admin', 8, null))
            ->row('credentials', $login('viewer', 8, null, 'devices/other'));
        $plan = $jobs->plan();
        self::assertSame(
            [['room', false], ['installer', false], ['viewer', true]],
            array_map(
                static fn (DeviceLogin $one): array => [$one->purpose, $one->isKnown()],
                DeviceLogin::of($plan, $plan->devices['bar']),
            ),
        );
        self::assertSame([
            'Room account password of BAR: please tell us the value, or the person to ask.',
            'Which login for BAR (installer) does Ada hold?',
        ], $questions());

        $jobs->row('credentials', $login('room', 1, 'Bea'));
        self::assertSame(['Which login for BAR (installer) does Ada hold?'], $questions());
    }
}
