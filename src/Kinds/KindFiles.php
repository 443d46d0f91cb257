<?php

declare(strict_types=1);

namespace Vorhut\Kinds;

use Symfony\Component\Yaml\Yaml;
use Vorhut\Core\Kind\Kinds;

/** Reads the library of kinds from its data files: one file a kind, named by its code. */
final class KindFiles
{
    private ?Kinds $kinds = null;

    public function __construct(private readonly string $folder)
    {
    }

    public function kinds(): Kinds
    {
        if (null === $this->kinds) {
            $files = [];
            foreach (glob($this->folder.'/*.yaml') ?: [] as $file) {
                $data = Yaml::parseFile($file);
                $files[basename($file, '.yaml')] = \is_array($data) ? $data : [];
            }
            $this->kinds = Kinds::fromArrays($files);
        }

        return $this->kinds;
    }
}
