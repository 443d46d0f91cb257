<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Malformed;

/**
 * The one address of a setting: `record#name`, with `.n` behind it where a device has several: `nics/cam-1.lan#address`,
 * `devices/cam-1#hostName`, `devices/mixer-1#inputSource.3`, `accounts/a2101#sipSecret`.
 */
final readonly class SettingRef implements \Stringable
{
    private const FORM = '~^(devices|nics|accounts)/([a-z0-9][a-z0-9._-]{0,127})#([a-z][A-Za-z0-9]{0,39})(?:\.([1-9][0-9]{0,3}))?$~D';

    /** @param string $slot name, with `.n` where there are several */
    private function __construct(
        public string $section,
        public string $key,
        public string $name,
        public ?int $number,
        public string $slot,
    ) {
    }

    /** @throws Malformed */
    public static function fromString(string $text): self
    {
        return self::tryFromString($text)
            ?? throw Malformed::because('"{text}" is not the address of a setting: write record#name.', ['text' => $text]);
    }

    public static function tryFromString(string $text): ?self
    {
        if (1 !== preg_match(self::FORM, $text, $parts)) {
            return null;
        }
        $number = isset($parts[4]) ? (int) $parts[4] : null;

        return new self($parts[1], $parts[2], $parts[3], $number, $parts[3].(null === $number ? '' : '.'.$number));
    }

    public static function of(string $record, string $slot): self
    {
        return self::fromString($record.'#'.$slot);
    }

    /**
     * Of a record and a declared setting of its kind, both known to be well formed: without reading them letter by letter.
     *
     * @param 'devices'|'nics'|'accounts' $section
     */
    public static function ofDeclared(string $section, string $key, string $slot): self
    {
        $dot = strpos($slot, '.');

        return false === $dot
            ? new self($section, $key, $slot, null, $slot)
            : new self($section, $key, substr($slot, 0, $dot), (int) substr($slot, $dot + 1), $slot);
    }

    /** `section/key` of the record that it belongs to. */
    public function record(): string
    {
        return $this->section.'/'.$this->key;
    }

    public function __toString(): string
    {
        return $this->record().'#'.$this->slot;
    }
}
