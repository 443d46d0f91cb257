<?php

declare(strict_types=1);

namespace Vorhut\Library;

/** Which Vorhut this is, and the third-party software that it contains. */
final readonly class About
{
    public const VERSION = '0.3.0-dev';
    public const LICENCE = 'MIT';

    public function __construct(private string $projectDir)
    {
    }

    /** @return list<Component> at run time, by name */
    public function components(): array
    {
        $components = [...$this->phpPackages(), ...$this->browserPackages()];
        usort($components, static fn (Component $a, Component $b): int => $a->name <=> $b->name);

        return $components;
    }

    /** @return list<Component> */
    private function phpPackages(): array
    {
        $installed = $this->read('vendor/composer/installed.json');
        $dev = \is_array($installed['dev-package-names'] ?? null) ? $installed['dev-package-names'] : [];
        $packages = \is_array($installed['packages'] ?? null) ? $installed['packages'] : [];

        return array_values(array_filter(
            array_map(Component::fromPackage(...), array_filter($packages, is_array(...))),
            static fn (Component $one): bool => !\in_array($one->name, $dev, true),
        ));
    }

    /** @return list<Component> styles, scripts and fonts, as tools/assets.sh laid them out */
    private function browserPackages(): array
    {
        return array_map(Component::fromPackage(...), array_values(array_filter($this->read('public/build/packages.json'), is_array(...))));
    }

    /** @return array<mixed> */
    private function read(string $file): array
    {
        $data = json_decode((string) @file_get_contents($this->projectDir.'/'.$file), true);

        return \is_array($data) ? $data : [];
    }
}
