<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Plan\FieldType;

/** A name that nobody sees is no name, typed or read from a document. */
final class BlankNameTest extends TestCase
{
    #[TestWith(['', true])]
    #[TestWith([' ', true])]
    #[TestWith(["\t\n", true])]
    #[TestWith(["\u{A0}\u{2003}", true])]
    #[TestWith(["\u{200B}\u{FEFF}", true])]
    #[TestWith(["\u{202E}", true])]
    #[TestWith(["\u{A0}a", false])]
    #[TestWith(['0', false])]
    #[TestWith(["\xFF", false])]
    public function testWhatNobodySeesIsBlank(string $text, bool $isBlank): void
    {
        self::assertSame($isBlank, Field::isBlank($text));
    }

    public function testARequiredFieldTakesNoBlanksEitherWay(): void
    {
        $name = Field::requiredField('name', FieldType::Text);
        foreach ([$name->read(...), $name->check(...)] as $take) {
            self::assertSame('Hall', $take('Hall'));
            try {
                $take("\u{A0} ");
                self::fail('it was taken');
            } catch (Malformed $e) {
                self::assertSame('This must not be empty.', $e->getMessage());
            }
        }
        self::assertNull(Field::of('note', FieldType::Text)->read("\u{A0}"));
    }
}
