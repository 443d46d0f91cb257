<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\Keypad;
use Vorhut\Core\Bench\KeypadProfile;
use Vorhut\Core\Net\Malformed;

final class KeypadTest extends TestCase
{
    private static function profile(string $name = 'mode-key'): KeypadProfile
    {
        return KeypadProfile::find($name) ?? throw new \LogicException();
    }

    public function testTheWorkedExamplesOfTheHandbook(): void
    {
        $mac = Keypad::of('00005e0053af', self::profile());
        self::assertSame('0 · 0 · 0 · 0 · 5 · mode · 33 · mode mode · 0 · 0 · 5 · 3 · mode · 2 · 333', (string) $mac);
        self::assertSame([19, 0], [$mac->presses, $mac->pauses]);

        $cab = Keypad::of('cab', self::profile());
        self::assertSame('mode · 222 · pause · 2 · pause · 22', (string) $cab);
        self::assertSame([7, 2], [$cab->presses, $cab->pauses]);
    }

    public function testTheShortestEqualTextIsOffered(): void
    {
        self::assertSame('00005e0053af', Keypad::shortest('00-00-5E-00-53-AF', self::profile())->text);
        self::assertSame('10.64.10.9/p', Keypad::shortest('http://10.64.10.9/p/', self::profile())->text);
    }

    public function testAnotherProfileAnotherSheet(): void
    {
        self::assertSame('222 · pause · 2 · pause · 22', (string) Keypad::of('cab', self::profile('letters-first')));
        self::assertSame(
            '2222',
            (string) Keypad::of('2', self::profile('letters-first')),
            'the digit stands behind the letters of its key',
        );
    }

    public function testACharacterWithoutAKeyIsRefused(): void
    {
        $this->expectException(Malformed::class);
        Keypad::of('ü', self::profile());
    }
}
