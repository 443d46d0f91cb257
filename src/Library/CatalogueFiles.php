<?php

declare(strict_types=1);

namespace Vorhut\Library;

use Symfony\Component\Yaml\Yaml;
use Vorhut\Core\Catalogue\Catalogue;

/** Reads the library from its data files: one file a kind, a set of settings, an agreement, each named by its code. */
final class CatalogueFiles
{
    private ?Catalogue $catalogue = null;

    /**
     * @param string      $folder holds `kinds`, `settings` and `agreements`
     * @param string|null $cache  file that the decoded data is kept in; it is made anew when any of the files is
     */
    public function __construct(private readonly string $folder, private readonly ?string $cache = null)
    {
    }

    public function catalogue(): Catalogue
    {
        if (null === $this->catalogue) {
            ['kinds' => $kinds, 'settings' => $settings, 'agreements' => $agreements] = $this->decoded();
            $this->catalogue = Catalogue::fromArrays($kinds, self::sets($settings), $agreements);
        }

        return $this->catalogue;
    }

    /**
     * Reading forty files of YAML is a good part of a page; what they say is kept as PHP, which the engine keeps in memory.
     *
     * @return array<'kinds'|'settings'|'agreements', array<string, array<mixed>>>
     */
    private function decoded(): array
    {
        $made = (string) max(0, ...array_map(
            static fn (string $file): int => (int) filemtime($file),
            glob($this->folder.'/{kinds,settings,agreements}{,/*.yaml}', \GLOB_BRACE) ?: [],
        ));
        $kept = null === $this->cache || !is_file($this->cache) ? null : include $this->cache;
        if (\is_array($kept) && ($kept['made'] ?? null) === $made && \is_array($kept['files'] ?? null)) {
            /** @var array<'kinds'|'settings'|'agreements', array<string, array<mixed>>> $files nobody else writes there */
            $files = $kept['files'];

            return $files;
        }
        $files = [];
        foreach (['kinds', 'settings', 'agreements'] as $sort) {
            $files[$sort] = $this->files($sort);
        }
        if (null !== $this->cache && is_dir(\dirname($this->cache))) {
            // Written whole and then put in place, so that nobody reads a half.
            $new = $this->cache.'.'.bin2hex(random_bytes(4));
            file_put_contents($new, '<?php return '.var_export(['made' => $made, 'files' => $files], true).';');
            rename($new, $this->cache);
        }

        return $files;
    }

    /** @return array<string, array<mixed>> code → decoded data file */
    public function files(string $sort): array
    {
        $files = [];
        foreach (glob($this->folder.'/'.$sort.'/*.yaml') ?: [] as $file) {
            $data = Yaml::parseFile($file);
            $files[basename($file, '.yaml')] = \is_array($data) ? $data : [];
        }

        return $files;
    }

    /**
     * @param array<string, array<mixed>> $files
     *
     * @return array<string, array<string, array<mixed>>>
     */
    private static function sets(array $files): array
    {
        $sets = [];
        foreach ($files as $set => $settings) {
            foreach ($settings as $name => $data) {
                $sets[$set][(string) $name] = \is_array($data) ? $data : [];
            }
        }

        return $sets;
    }
}
