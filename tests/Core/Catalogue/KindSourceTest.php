<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Catalogue;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Malformed;
use Vorhut\Library\CatalogueFiles;
use Vorhut\Library\KindSource;
use Vorhut\Library\Shape;

/** Kinds that somebody typed, or sent to do harm. */
final class KindSourceTest extends TestCase
{
    private static function said(string $yaml): string
    {
        $folder = \dirname(__DIR__, 3);
        try {
            (new KindSource(new CatalogueFiles($folder), new Shape($folder)))->read('ptz-camera', $yaml);

            return '';
        } catch (Malformed $e) {
            return $e->getMessage();
        }
    }

    #[TestWith(["a: &x [1]\nb: *x"])]
    #[TestWith(["a: &x {k: 1}\nb:\n  <<: *x"])]
    #[TestWith(["name: It's\na: &x [1]\nb: [*x] # it's"])]
    #[TestWith(["a: &x 1\nb: \"c\"\nd: *x"])]
    public function testAliasesAreNotExpanded(string $yaml): void
    {
        self::assertStringContainsString('Aliases are disabled', self::said($yaml));
    }

    /** Nine lines of nine aliases each would be 387 million texts. */
    public function testAliasesOfAliasesCostNothing(): void
    {
        $yaml = "z: it's\na: &a [lol, lol, lol, lol, lol, lol, lol, lol, lol]\n";
        foreach (range('b', 'i') as $one) {
            $before = \chr(\ord($one) - 1);
            $yaml .= "$one: &$one [".implode(', ', array_fill(0, 9, '*'.$before))."]\n";
        }
        $memory = memory_get_peak_usage();
        self::assertStringContainsString('Aliases are disabled', self::said($yaml));
        self::assertLessThan(8_000_000, memory_get_peak_usage() - $memory);
    }

    public function testAStarInATextIsAStar(): void
    {
        self::assertSame('', self::said("name: 'Dial *21 & wait'\nboot: 40"));
        self::assertSame('', self::said("name: Dial *21 & wait\nboot: 40"));
    }

    #[TestWith(["name: A\nboot: 4\xC3", 2, 8])]
    #[TestWith(["\xFFname: A", 1, 1])]
    #[TestWith(["name: \"\u{E6}\u{F8}\xE2\x82\"", 1, 12])]
    #[TestWith(["a: 1\n\nb: \xED\xA0\x80", 3, 4])]
    public function testWhatIsNoUtf8IsSaidWithItsPlace(string $yaml, int $line, int $octet): void
    {
        self::assertSame("Line $line, octet $octet: not valid UTF-8.", self::said($yaml));
    }
}
