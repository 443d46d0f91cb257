<?php

declare(strict_types=1);

namespace Vorhut\Tests\Architecture;

use PHPUnit\Framework\TestCase;

/** No room stands beside the order in which rooms may know each other. */
final class RoomsTest extends TestCase
{
    public function testEveryFolderHasItsPlaceInTheOrder(): void
    {
        $rooms = [];
        foreach (['src' => 'Vorhut', 'src/Core' => 'Vorhut\Core'] as $folder => $namespace) {
            foreach (glob(\dirname(__DIR__, 2)."/$folder/*", \GLOB_ONLYDIR) ?: [] as $path) {
                $rooms[] = $namespace.'\\'.basename($path);
            }
        }
        $rooms = array_diff($rooms, ['Vorhut\Core']);
        self::assertSame([], array_values(array_diff($rooms, HouseTest::ROOMS)), 'without a place in the order');
        foreach (HouseTest::ROOMS as $room) {
            self::assertDirectoryExists(\dirname(__DIR__, 2).'/src/'.str_replace('\\', '/', substr($room, 7)));
        }
    }
}
