<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Docs;

use PHPUnit\Framework\TestCase;

/** What docs/security.md guarantees has a test that tries to break it. */
final class SecurityPageTest extends TestCase
{
    public function testEveryGuaranteeNamesATestThatIsThere(): void
    {
        $root = \dirname(__DIR__, 3);
        $tests = [];
        foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator($root.'/tests')) as $file) {
            \assert($file instanceof \SplFileInfo);
            $tests[$file->getBasename('.php')] = true;
        }
        $guarantees = preg_split('/\n(?=- )|\n(?=## )/', (string) file_get_contents($root.'/docs/security.md')) ?: [];
        $guarantees = array_filter(
            $guarantees,
            static fn (string $one): bool => str_starts_with($one, '- ') && !str_contains($one, '*Not yet*'),
        );
        self::assertGreaterThan(30, \count($guarantees));
        foreach ($guarantees as $guarantee) {
            preg_match_all('~\b([A-Z][A-Za-z]+Test)\b|(e2e/[a-z]+\.test\.mjs)~', $guarantee, $named, \PREG_SET_ORDER);
            self::assertNotSame([], $named, $guarantee);
            foreach ($named as $one) {
                self::assertTrue(
                    isset($tests[$one[0]]) || is_file($root.'/'.$one[0]),
                    $one[0].' is not there: '.$guarantee,
                );
            }
        }
    }
}
