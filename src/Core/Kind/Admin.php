<?php

declare(strict_types=1);

namespace Vorhut\Core\Kind;

/** How a kind is read and written over HTTP: paths, and what its own names for our fields are. The login is Basic (RFC 7617). */
final readonly class Admin
{
    /** @param array<string, string> $fields our field → the device's own name */
    private function __construct(public string $status, public string $settings, public array $fields)
    {
    }

    /** @param array<mixed> $data */
    public static function fromArray(array $data): self
    {
        $fields = [];
        foreach ((array) ($data['fields'] ?? []) as $ours => $own) {
            $fields[(string) $ours] = \is_scalar($own) ? (string) $own : '';
        }

        return new self(
            \is_string($data['status'] ?? null) ? $data['status'] : '/',
            \is_string($data['settings'] ?? null) ? $data['settings'] : '/',
            $fields,
        );
    }
}
