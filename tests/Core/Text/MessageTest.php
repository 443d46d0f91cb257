<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Text;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Text\Message;

final class MessageTest extends TestCase
{
    public function testItIsKeptAsTextAndPlacesAndRenderedWhenShown(): void
    {
        $message = new Message('{tag}: {what}, {n} times', [
            'tag' => '{what}',
            'what' => new Message('set to {v}', ['v' => '0']),
            'n' => 2,
        ]);
        self::assertSame('{what}: set to 0, 2 times', (string) $message, 'what stands in a place is no sentence with places');
        $again = Message::fromStored(json_decode((string) json_encode($message->toStored()), true));
        self::assertEquals($message, $again);
        $elsewhere = ['{tag}: {what}, {n} times' => '{n} Mal {what} ({tag})', 'set to {v}' => 'auf {v} gestellt'];
        self::assertSame('2 Mal auf 0 gestellt ({what})', $again->render(static fn (string $text): string => $elsewhere[$text] ?? '?'));
        self::assertSame('plain', (new Message('plain'))->toStored());
    }

    #[TestWith([0, '0 devices in 1 segment'])]
    #[TestWith([1, '1 device in 1 segment'])]
    #[TestWith(['2000', '2000 devices in 1 segment'])]
    public function testACountHasItsPlural(int|string $count, string $text): void
    {
        self::assertSame($text, (string) new Message('[d device|devices] in [s segment|segments]', ['d' => $count, 's' => 1]));
    }

    public function testBracesAndApostrophesInValuesMeanThemselves(): void
    {
        $message = new Message('{field} of [n device|devices] changed at once', ['field' => "{n} 'quoted'", 'n' => 1]);
        self::assertSame("{n} 'quoted' of 1 device changed at once", (string) $message);
    }

    public function testBracketsInATextOfADeviceOrAUserMeanThemselves(): void
    {
        self::assertSame('Press [menu a|b]', (string) new Message('Press [menu a|b]'));
        self::assertSame('key 2: [menu a|b]', (string) new Message('key {n}: [menu a|b]', ['n' => 2]));
        self::assertSame('x, plural, y', (string) new Message('x, plural, y'));
    }

    public function testATranslationHasThePluralsOfItsLanguage(): void
    {
        $polish = '{n, plural, one {# wiersz} few {# wiersze} other {# wierszy}}';
        $rows = static fn (int $n): string => (new Message('[n row|rows]', ['n' => $n]))->render(static fn (): string => $polish, 'pl');
        self::assertSame(['1 wiersz', '2 wiersze', '5 wierszy'], [$rows(1), $rows(2), $rows(5)]);
    }

    #[TestWith([null, ''])]
    #[TestWith(['as it was', 'as it was'])]
    #[TestWith([[], ''])]
    #[TestWith([['{a}', 'no list'], '{a}'])]
    #[TestWith([['{a}{b}', ['a' => 1.5, 'b' => null]], '1.5'])]
    public function testWhatIsFoundInTheRecordIsReadWhateverItIs(mixed $stored, string $text): void
    {
        self::assertSame($text, (string) Message::fromStored($stored));
    }
}
