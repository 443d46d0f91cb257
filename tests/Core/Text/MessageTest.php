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
