<?php

declare(strict_types=1);

namespace Vorhut\Rehearsal;

use Vorhut\Core\Net\Malformed;

/** One mistake made at one device: a value typed that differs from the sheet, although the step is marked as done. */
final readonly class InjectedMistake
{
    /** Another value is typed: $value. */
    public const TYPED = 'typed';
    /** Nothing is typed: what it held stays. */
    public const LEFT = 'left';
    /** It is saved, and not applied. */
    public const NOT_APPLIED = 'not-applied';
    /** The first password stays. */
    public const PASSWORD = 'password';
    /** The MAC is read off wrong, and written down so. */
    public const MISREAD = 'misread';

    private function __construct(public string $what, public string $device, public string $local, public string $value)
    {
    }

    /**
     * From `WHAT:TAG` or `WHAT:TAG:SETTING=VALUE`.
     *
     * @param \Closure(string): ?string $device tag → key
     *
     * @throws Malformed
     */
    public static function fromString(string $text, \Closure $device): self
    {
        [$what, $tag, $rest] = explode(':', $text, 3) + [1 => '', 2 => ''];
        [$local, $value] = explode('=', $rest, 2) + [1 => ''];
        $known = [self::TYPED, self::LEFT, self::NOT_APPLIED, self::PASSWORD, self::MISREAD];
        if (!\in_array($what, $known, true)) {
            throw Malformed::because('Unknown mistake "{what}". Known are: {list}.', ['what' => $what, 'list' => implode(', ', $known)]);
        }
        $key = $device($tag) ?? throw Malformed::because('This job has no device "{tag}".', ['tag' => $tag]);
        if (\in_array($what, [self::TYPED, self::LEFT], true) && '' === $local) {
            throw Malformed::because('"{text}" does not say which setting.', ['text' => $text]);
        }

        return new self($what, $key, $local, $value);
    }
}
