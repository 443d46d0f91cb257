<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Text;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Text\VisibleText;

final class VisibleTextTest extends TestCase
{
    #[TestWith(["a\x1b[2Jb", 'a[U+001B][2Jb', 'U+001B'])]
    #[TestWith(["cam\u{202E}10", 'cam[U+202E]10', 'U+202E'])]
    #[TestWith(["\u{2066}x\u{2069}", '[U+2066]x[U+2069]', 'U+2066'])]
    #[TestWith(["\u{9B}31m", '[U+009B]31m', 'U+009B'])]
    #[TestWith(["a\x00b\x7F", 'a[U+0000]b[U+007F]', 'U+0000'])]
    #[TestWith(["line\n\tnext\r\n", "line\n\tnext\r\n", null])]
    #[TestWith(['Grüße, 北', 'Grüße, 北', null])]
    #[TestWith(["می\u{200C}خواهم", "می\u{200C}خواهم", null])]
    public function testWhatCannotBeSeenIsShownByItsCode(string $text, string $shown, ?string $first): void
    {
        self::assertSame($shown, VisibleText::of($text));
        self::assertSame($first, VisibleText::firstHidden($text));
    }

    public function testWrongOctetsBecomeAMark(): void
    {
        self::assertSame('a?b', VisibleText::of("a\xFFb"));
    }

    public function testAFieldTakesNoneOfThem(): void
    {
        $this->expectException(Malformed::class);
        $this->expectExceptionMessage('This holds a character that cannot be seen (U+202E).');
        Field::requiredField('name', FieldType::Text)->read("cam\u{202E}10");
    }
}
