<?php

declare(strict_types=1);

namespace Vorhut\Library;

use Symfony\Component\Yaml\Yaml;
use Vorhut\Core\Catalogue\Catalogue;

/** Reads the library from its data files: one file a kind, a set of settings, an agreement, each named by its code. */
final class CatalogueFiles
{
    private ?Catalogue $catalogue = null;

    /** @param string $folder holds `kinds`, `settings` and `agreements` */
    public function __construct(private readonly string $folder)
    {
    }

    public function catalogue(): Catalogue
    {
        return $this->catalogue ??= Catalogue::fromArrays($this->files('kinds'), $this->sets(), $this->files('agreements'));
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

    /** @return array<string, array<string, array<mixed>>> */
    private function sets(): array
    {
        $sets = [];
        foreach ($this->files('settings') as $set => $settings) {
            foreach ($settings as $name => $data) {
                $sets[$set][(string) $name] = \is_array($data) ? $data : [];
            }
        }

        return $sets;
    }
}
