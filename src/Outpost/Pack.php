<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

/** The folders that an outpost needs, copied together so that they can be carried to another machine. */
final class Pack
{
    private const PARTS = [
        'bin/outpost', 'src/Core', 'src/Library', 'src/Outpost', 'src/Socket', 'src/polyfill.php', 'kinds', 'settings', 'agreements', 'vendor',
    ];
    /** What the server and its tests alone need. */
    private const NOT = ['vendor/doctrine', 'vendor/phpstan', 'vendor/phpunit', 'vendor/friendsofphp', 'vendor/twig', 'vendor/phpat', 'vendor/bin'];

    /** @return int how many files */
    public static function into(string $root, string $folder): int
    {
        $files = 0;
        foreach (self::PARTS as $part) {
            if (is_file("$root/$part")) {
                $files += self::copy("$root/$part", "$folder/$part");
                continue;
            }
            $all = new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator(
                "$root/$part",
                \FilesystemIterator::SKIP_DOTS | \FilesystemIterator::FOLLOW_SYMLINKS,
            ));
            foreach ($all as $file) {
                $path = $file instanceof \SplFileInfo ? substr($file->getPathname(), \strlen($root) + 1) : '';
                $isLeftOut = [] !== array_filter(self::NOT, static fn (string $not): bool => str_starts_with($path, $not.'/'));
                if ('' !== $path && !$isLeftOut && 1 !== preg_match('~/(tests?|docs?)/~i', $path)) {
                    $files += self::copy("$root/$path", "$folder/$path");
                }
            }
        }

        return $files;
    }

    private static function copy(string $from, string $to): int
    {
        is_dir(\dirname($to)) || mkdir(\dirname($to), 0o755, true);
        copy($from, $to) || throw new \RuntimeException("$from cannot be copied to $to.");
        chmod($to, fileperms($from) & 0o777);

        return 1;
    }
}
