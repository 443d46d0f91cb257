<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Remote;

/** The folders that an outpost needs, copied together so that they can be carried to another machine. */
final class Pack
{
    private const PARTS = [
        'bin/outpost', 'src/Core', 'src/Library', 'src/Outpost', 'src/Socket', 'src/polyfill.php', 'kinds', 'settings', 'agreements',
        'vendor/composer', 'vendor/amphp', 'vendor/daverandom', 'vendor/kelunik', 'vendor/league', 'vendor/psr',
        'vendor/revolt', 'vendor/symfony',
    ];

    /** Composer's own loader, without the start files of packages that are left out. */
    private const AUTOLOAD = <<<'PHP'
        <?php

        require __DIR__.'/composer/ClassLoader.php';
        $loader = new Composer\Autoload\ClassLoader(__DIR__);
        foreach (require __DIR__.'/composer/autoload_psr4.php' as $prefix => $paths) {
            $loader->setPsr4($prefix, $paths);
        }
        $loader->addClassMap(require __DIR__.'/composer/autoload_classmap.php');
        $loader->register(true);
        foreach (array_filter(require __DIR__.'/composer/autoload_files.php', is_file(...)) as $file) {
            require_once $file;
        }

        return $loader;

        PHP;

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
                if ('' !== $path && 1 !== preg_match('~/(tests?|docs?)/~i', $path)) {
                    $files += self::copy("$root/$path", "$folder/$path");
                }
            }
        }

        file_put_contents("$folder/vendor/autoload.php", self::AUTOLOAD);

        return $files + 1;
    }

    private static function copy(string $from, string $to): int
    {
        if (!is_dir(\dirname($to))) {
            mkdir(\dirname($to), 0o755, true);
        }
        if (!copy($from, $to)) {
            throw new \RuntimeException("$from cannot be copied to $to.");
        }
        chmod($to, fileperms($from) & 0o777);

        return 1;
    }
}
