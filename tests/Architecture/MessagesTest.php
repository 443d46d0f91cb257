<?php

declare(strict_types=1);

namespace Vorhut\Tests\Architecture;

use PHPUnit\Framework\TestCase;

/** A sentence with a place to fill in has something to fill it with. */
final class MessagesTest extends TestCase
{
    public function testNoSentenceWithPlacesIsWrittenWithoutTheirValues(): void
    {
        $found = [];
        $folder = \dirname(__DIR__, 2).'/src';
        foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator($folder, \FilesystemIterator::SKIP_DOTS)) as $file) {
            $text = $file instanceof \SplFileInfo ? (string) file_get_contents($file->getPathname()) : '';
            preg_match_all('/new Message\(\s*(\'(?:[^\'\\\\]|\\\\.)*\')\s*,?\s*\)/', $text, $all);
            $found = [...$found, ...preg_grep('/\{\w+\}|\[\w+ [^\]]+\|/', $all[1]) ?: []];
        }
        self::assertSame([], array_values($found));
    }
}
