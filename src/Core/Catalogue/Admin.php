<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** How a kind is read and written over HTTP: paths, and what its own names for our fields are. The login is Basic (RFC 7617). */
final readonly class Admin
{
    /** @param array<string, string> $fields our setting → the device's own name; `{port}` and `{n}` stand for its port and its number */
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

    /** The device's own name of a setting by its local name (`hostName`, `lan.address`, `inputSource.3`); null where it has none. */
    public function own(string $local, Setting $setting, bool $firstPort): ?string
    {
        $port = SettingScope::Port === $setting->scope ? explode('.', $local, 2)[0] : '';
        $number = SettingScope::Item === $setting->scope ? substr($local, \strlen($setting->name) + 1) : '';
        $own = $this->fields[$local] ?? $this->fields[$setting->name] ?? null;
        if (null === $own || ('' !== $port && !$firstPort && !isset($this->fields[$local]) && !str_contains($own, '{port}'))) {
            return null;
        }

        return strtr($own, ['{port}' => $port, '{n}' => $number]);
    }
}
