<?php

declare(strict_types=1);

namespace Vorhut\Library;

/** A third-party package that ships with Vorhut. */
final readonly class Component
{
    private function __construct(public string $name, public string $version, public string $licence)
    {
    }

    /** @param array<mixed> $package as composer and npm describe one */
    public static function fromPackage(array $package): self
    {
        $licence = $package['license'] ?? [];
        $licences = array_filter(\is_array($licence) ? $licence : [$licence], is_string(...));

        return new self(self::text($package, 'name'), ltrim(self::text($package, 'version'), 'v'), implode(' or ', $licences));
    }

    /** @param array<mixed> $package */
    private static function text(array $package, string $name): string
    {
        return \is_string($package[$name] ?? null) ? $package[$name] : '';
    }
}
