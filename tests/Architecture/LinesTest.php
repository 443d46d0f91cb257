<?php

declare(strict_types=1);

namespace Vorhut\Tests\Architecture;

use PHPUnit\Framework\TestCase;

/** Two windows fit side by side, and a difference is read at a glance. */
final class LinesTest extends TestCase
{
    private const LONGEST = 140;
    private const LONGEST_OF_TEMPLATES = 160;

    public function testNoLineOfCodeIsLongerThanItMayBe(): void
    {
        $long = [];
        foreach (['src', 'tests', 'migrations', 'config', 'public'] as $folder) {
            $folder = \dirname(__DIR__, 2).'/'.$folder;
            foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator($folder, \FilesystemIterator::SKIP_DOTS)) as $file) {
                if (!$file instanceof \SplFileInfo || 'php' !== $file->getExtension()) {
                    continue;
                }
                foreach (file($file->getPathname(), \FILE_IGNORE_NEW_LINES) ?: [] as $n => $line) {
                    if (mb_strlen($line) > self::LONGEST) {
                        $long[] = $file->getPathname().':'.($n + 1);
                    }
                }
            }
        }

        self::assertSame([], $long);
    }

    public function testNoLineOfATemplateIsLongerThanItMayBe(): void
    {
        $long = [];
        $folder = \dirname(__DIR__, 2).'/templates';
        foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator($folder, \FilesystemIterator::SKIP_DOTS)) as $file) {
            $path = $file instanceof \SplFileInfo ? $file->getPathname() : '';
            foreach (file($path, \FILE_IGNORE_NEW_LINES) ?: [] as $n => $line) {
                // A sentence is its own translation key, and cannot be broken.
                $isOneSentence = 1 === preg_match('/^ *\'[^\']+\'\|trans/', $line);
                if (mb_strlen($line) > self::LONGEST_OF_TEMPLATES && !$isOneSentence) {
                    $long[] = $path.':'.($n + 1);
                }
            }
        }

        self::assertSame([], $long);
    }
}
