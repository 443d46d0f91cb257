<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Document;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Document\RosterBulk;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

/** One value for many devices. */
final class RosterBulkTest extends TestCase
{
    private static function plan(): Plan
    {
        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->segment('t', '10.64.31.0/24', '10.64.31.1')
            ->device('c', 'ptz-camera', 's', ['frameRate' => '50'], ['room' => 'Hall'])
            ->device('d', 'ptz-camera', 't')
            ->device('w', 'wall-panel', null)->plan();
    }

    private static function bulk(string $field, string $text): RosterBulk
    {
        return RosterBulk::of(self::plan(), self::plan()->devices, $field, $text);
    }

    public function testThoseWhoHaveItAlreadyOrCannotHaveItArePassedOver(): void
    {
        self::assertSame(['D', 'W'], array_column(self::bulk('room', 'Hall')->changes, 'tag'));
        self::assertSame(['C'], array_column(self::bulk('segment', 'T')->changes, 'tag'), 'by its name, in any letters');
        self::assertSame(['D'], array_column(self::bulk('segment', 's')->changes, 'tag'), 'or its key; a panel has no port');
        self::assertSame([['tag' => 'C', 'before' => '50', 'after' => '25']], array_map(
            static fn (array $one): array => array_diff_key($one, ['edit' => 0]),
            self::bulk('frameRate', '25')->changes,
        ), 'the default of the kind is 25 already');
        self::assertSame([], self::bulk('adminPassword', 'x')->changes, 'no secret among the values');
        self::assertSame([], self::bulk('nothing', 'x')->changes);
    }

    public function testItIsOneChangeThatIsWhatWasShown(): void
    {
        $after = self::plan()->with(self::bulk('frameRate', '30')->change());
        self::assertSame(['30', '30'], array_map(
            static fn (string $key): ?string => $after->devices[$key]->setting('frameRate')->planned,
            ['c', 'd'],
        ));
        self::assertNull(self::plan()->with(self::bulk('segment', '')->change())->devices['c']->nic()?->segment);
        self::assertSame('', self::plan()->with(self::bulk('timeServer', '-')->change())->devices['c']->setting('timeServer')->planned);
    }

    public function testAValueThatIsNoneIsRefused(): void
    {
        foreach ([['frameRate', 'fast'], ['segment', 'nowhere'], ['lan.gateway', '10.64.300.1']] as [$field, $text]) {
            try {
                self::bulk($field, $text);
                self::fail("$field took $text");
            } catch (Malformed $e) {
                self::assertNotSame('', $e->getMessage());
            }
        }
    }
}
