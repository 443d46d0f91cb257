<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

/**
 * What a test examines, in the order in which the kinds run. Each kind has a TestSource that plans its tests, and a probe of the outpost
 * that makes them; `Ask` is the one that only people answer.
 */
enum TestKind: string
{
    case Reach = 'reach';
    case Discover = 'discover';
    case Stream = 'stream';
    case Push = 'push';
    case Heard = 'heard';
    case Clock = 'clock';
    case Light = 'light';
    case Radius = 'radius';
    case Register = 'register';
    case Call = 'call';
    case Dial = 'dial';
    case Ask = 'ask';

    /** How many tests of the kind run at the same time on a site: calls can be heard there, so few. */
    public function atOnce(): int
    {
        return match ($this) {
            self::Reach, self::Heard => 8,
            self::Discover, self::Stream, self::Push, self::Clock, self::Light, self::Register, self::Dial => 4,
            self::Call => 3,
            self::Radius, self::Ask => 2,
        };
    }

    /** Whether two tests of the kind must not run at the same time at one telephone. */
    public function occupiesPhones(): bool
    {
        return self::Call === $this || self::Dial === $this;
    }
}
