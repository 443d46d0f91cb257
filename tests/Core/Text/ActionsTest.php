<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Text;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Text\Actions;

final class ActionsTest extends TestCase
{
    public function testEachSentenceIsOneAction(): void
    {
        self::assertSame(['Unpack.', 'Check the contents.'], Actions::in('Unpack. Check the contents.'));
        self::assertSame(['Set 1.5 s. then wait'], Actions::in('Set 1.5 s. then wait'), 'not a sentence');
        self::assertSame(['Apply'], Actions::in('Apply'));
        self::assertSame([''], Actions::in(''));
    }
}
